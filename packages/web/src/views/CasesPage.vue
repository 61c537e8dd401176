<script setup lang="ts">
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { ElInput } from 'element-plus/es/components/input/index.mjs';
import 'element-plus/es/components/input/style/css';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import CaseLine from '../components/CaseLine.vue';
import TopBar from '../components/TopBar.vue';
import { listenForKeys, type Command } from '../lib/commands.ts';
import { download } from '../lib/download.ts';
import { useCabinet } from '../stores/cabinet.ts';
import { found, groupOf, TURNS, useDesk, type DeskGroup } from '../stores/desk.ts';
import { useHistory } from '../stores/history.ts';

/** The desk: a line a case, by whose turn it is. */
const cabinet = useCabinet();
const desk = useDesk();
const history = useHistory();
const router = useRouter();
const chooser = ref<HTMLInputElement | null>(null);
const query = ref('');
/** Lines shown of each group before more are asked for. */
const FIRST = 60;
const shownOf = ref<Partial<Record<DeskGroup, number>>>({});

const TITLES: Readonly<Record<DeskGroup, string>> = {
  ours: 'Ours to do',
  client: 'Waiting for a try',
  owner: 'Waiting for the owner',
  closed: 'Closed',
};

const groups = computed(() => {
  const all = found(desk.cases, query.value);
  return TURNS.map((turn) => {
    const own = all.filter((c) => groupOf(c) === turn);
    const shown = own.slice(0, shownOf.value[turn] ?? (turn === 'closed' ? 10 : FIRST));
    return { turn, title: TITLES[turn], count: own.length, shown };
  }).filter((g) => g.count > 0);
});

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

async function again(id: string): Promise<void> {
  const added = await cabinet.again(id);
  if (added) await router.push({ name: 'bench', params: { id: added } });
}

function drop(event: DragEvent): void {
  const file = event.dataTransfer?.files[0];
  if (file) void take(file);
}

const search = (): void => document.querySelector<HTMLInputElement>('[data-test="search"]')?.focus();
const commands: readonly Command[] = [
  { title: 'New case', keys: 'n', run: () => void router.push('/new') },
  { title: 'Search', keys: '/', run: search },
  { title: 'One step back', keys: 'Esc', run: () => void router.push('/') },
];
let stopKeys = (): void => undefined;
onMounted(() => {
  stopKeys = listenForKeys(() => commands);
  search();
  void desk.load();
});
onBeforeUnmount(() => {
  stopKeys();
});
</script>

<template>
  <TopBar title="All cases"><RouterLink to="/new">New case</RouterLink></TopBar>
  <main @dragover.prevent @drop.prevent="drop">
    <div class="head">
      <ElInput
        v-model="query"
        class="search"
        data-test="search"
        aria-label="Search the cases"
        placeholder="caller, place, service, address, verdict   /"
        clearable
      />
      <ElButton type="primary" @click="router.push('/new')">New case <kbd>n</kbd></ElButton>
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
    <p v-else-if="groups.length === 0" class="quiet" data-test="nothing">No case has all of these words.</p>
    <section v-for="g in groups" :key="g.turn" :aria-label="g.title" :data-test="`turn-${g.turn}`">
      <h2>
        {{ g.title }} <span class="quiet">{{ g.count }}</span>
      </h2>
      <ul>
        <CaseLine
          v-for="c in g.shown"
          :key="c.id"
          :data-test="`line-${c.id}`"
          :line="c"
          @again="again(c.id)"
          @export="exportCase(c.id)"
          @remove="remove(c.id)"
        />
      </ul>
      <button
        v-if="g.shown.length < g.count"
        type="button"
        class="link more"
        @click="shownOf[g.turn] = g.shown.length + 200"
      >
        {{ g.count - g.shown.length }} more
      </button>
    </section>
  </main>
</template>

<style scoped>
main {
  padding: 14px 20px;
  min-height: 70vh;
}

.head {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 10px;
}

.search {
  flex: 1;
  min-width: 220px;
  max-width: 520px;
}

h2 {
  font-size: 15px;
  font-weight: 600;
  margin: 12px 0 2px;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

.more {
  margin-top: 4px;
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
