<script setup lang="ts">
import type { Role } from '@bright-ferry/core/site';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed, ref } from 'vue';
import { choicesOf, ROLE_WORDS } from '../lib/caseWords.ts';
import { useEdits } from '../stores/edits.ts';
import { useHistory } from '../stores/history.ts';
import ChoiceField from './ChoiceField.vue';

/** The way of the packets: its stops in order, each renamed, moved or taken off in its place. */
const edits = useEdits();
const history = useHistory();
const document_ = computed(() => history.document);
const ROLES = Object.keys(ROLE_WORDS) as Role[];
const added = ref<Role>('gateway');
const before = ref<string>('');

/** New stops stand before the server, where nothing else is said. */
function add(): void {
  const path = history.document?.path ?? [];
  const place = before.value || (path.find((s) => s.role === 'host')?.id ?? null);
  void edits.addStop(added.value, ROLE_WORDS[added.value], place);
}

const places = computed(() =>
  (document_.value?.path ?? []).map((s) => ({ value: s.id, label: s.name ?? s.id })),
);
const evidenceAt = (stop: string): number =>
  history.document?.evidence?.filter((e) => e.stop === stop).length ?? 0;
</script>

<template>
  <div>
    <ol class="way" data-test="way">
      <li v-for="(s, i) in document_?.path ?? []" :key="s.id" :data-test="`way-${s.id}`">
        <input
          :value="s.name ?? s.id"
          :aria-label="`Name of stop ${i + 1}`"
          :data-test="`name-${s.id}`"
          @change="edits.rename(s.id, ($event.target as HTMLInputElement).value)"
        />
        <ChoiceField
          :model-value="s.role"
          :choices="choicesOf(ROLES, ROLE_WORDS)"
          :label="`What ${s.name ?? s.id} is`"
          :width="190"
          :data-test="`role-${s.id}`"
          @chosen="edits.setRole(s.id, $event as Role)"
        />
        <span class="quiet">{{ evidenceAt(s.id) || 'no' }} evidence</span>
        <ElButton
          size="small"
          :disabled="i === 0"
          :aria-label="`${s.name ?? s.id} one place outward`"
          :data-test="`outward-${s.id}`"
          @click="edits.moveStop(s.id, -1)"
          >outward</ElButton
        >
        <ElButton
          size="small"
          :disabled="i === (document_?.path.length ?? 0) - 1"
          :aria-label="`${s.name ?? s.id} one place inward`"
          :data-test="`inward-${s.id}`"
          @click="edits.moveStop(s.id, 1)"
          >inward</ElButton
        >
        <ElButton
          size="small"
          text
          :disabled="(document_?.path.length ?? 0) <= 2"
          :data-test="`off-${s.id}`"
          @click="edits.removeStop(s.id)"
          >take off</ElButton
        >
      </li>
    </ol>
    <form class="add" @submit.prevent="add">
      <span>Put on the way</span>
      <ChoiceField
        v-model="added"
        :choices="choicesOf(ROLES, ROLE_WORDS)"
        label="What to put on the way"
        :width="190"
        data-test="add-role"
      />
      <span>before</span>
      <ChoiceField
        v-model="before"
        :choices="places"
        label="Before which stop"
        empty="the server"
        :width="150"
        data-test="add-before"
      />
      <ElButton size="small" native-type="submit" data-test="add-stop">Put it there</ElButton>
    </form>
  </div>
</template>

<style scoped>
.way {
  margin: 0 0 8px;
  padding-left: 20px;
}

.way li {
  padding: 2px 0;
}

.way li > * {
  margin: 0 8px 0 0;
  vertical-align: middle;
}

.way input {
  padding: 1px 8px;
  height: 25px;
  width: 170px;
}

.add {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
