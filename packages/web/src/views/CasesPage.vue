<script setup lang="ts">
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import TopBar from '../components/TopBar.vue';
import { download } from '../lib/download.ts';
import { useHistory } from '../stores/history.ts';
import { useCabinet } from '../stores/cabinet.ts';

const cabinet = useCabinet();
const history = useHistory();
const router = useRouter();
const chooser = ref<HTMLInputElement | null>(null);

void cabinet.refresh();
const when = (iso: string): string =>
  new Date(iso).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' });

async function take(file: File): Promise<void> {
  const id = await cabinet.importFile(file);
  if (id) await router.push({ name: 'bench', params: { id } });
}

async function chosen(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = '';
  if (file) await take(file);
}

async function exportCase(id: string): Promise<void> {
  const packed = await cabinet.pack(id);
  if (packed) download(packed.name, packed.bytes, 'application/zip');
}

async function remove(id: string): Promise<void> {
  if (history.current?.id === id) history.close();
  await cabinet.remove(id);
}

function drop(event: DragEvent): void {
  const file = event.dataTransfer?.files[0];
  if (file) void take(file);
}
</script>

<template>
  <TopBar title="All cases"><RouterLink to="/new">New case</RouterLink></TopBar>
  <main @dragover.prevent @drop.prevent="drop">
    <div class="buttons">
      <ElButton type="primary" @click="router.push('/new')">New case</ElButton>
      <ElButton data-test="import" @click="chooser?.click()">Take in a case file</ElButton>
      <input
        ref="chooser"
        type="file"
        accept=".zip,application/zip"
        hidden
        data-test="import-input"
        aria-label="Case file"
        @change="chosen"
      />
    </div>
    <p v-if="cabinet.importProblem" class="problem" role="alert" data-test="import-problem">
      {{ cabinet.importProblem }}
    </p>
    <p v-if="cabinet.removed" role="status" class="done">
      “{{ cabinet.removed.document.title }}” was removed.
      <button type="button" class="link" data-test="put-back" @click="cabinet.putBack()">Put it back</button>
    </p>
    <p v-if="cabinet.heads.length === 0" class="quiet">
      No cases yet. One line of a complaint opens the first.
    </p>
    <table v-else>
      <thead>
        <tr>
          <th scope="col">case</th>
          <th scope="col">service</th>
          <th scope="col">last changed</th>
          <th scope="col"><span class="quiet">do</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in cabinet.heads" :key="c.id">
          <td>
            <RouterLink :to="{ name: 'bench', params: { id: c.id } }">{{ c.title }}</RouterLink>
          </td>
          <td>{{ c.service }}</td>
          <td class="quiet">{{ when(c.updatedAt) }}</td>
          <td>
            <button type="button" class="link" :data-test="`export-${c.id}`" @click="exportCase(c.id)">
              export
            </button>
            &nbsp;
            <button type="button" class="link" :data-test="`remove-${c.id}`" @click="remove(c.id)">
              remove
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </main>
</template>

<style scoped>
main {
  padding: 20px;
  max-width: 980px;
  min-height: 70vh;
}

.buttons {
  margin-bottom: 14px;
}

table {
  width: 100%;
}

td {
  border-top: 1px solid var(--line);
  padding: 7px 12px 7px 0;
}

.problem,
.done {
  padding: 6px 10px;
  margin-bottom: 10px;
}

.problem {
  background: var(--shut-soft);
  color: var(--shut);
}

.done {
  background: var(--lit-soft);
  color: var(--lit);
}

.done .link {
  color: inherit;
}
</style>
