<script setup lang="ts">
import { SYMPTOMS } from '@bright-ferry/core/case';
import { heardOf, heardProblems, KINDS, type Heard } from '@bright-ferry/core/intake';
import type { Role } from '@bright-ferry/core/site';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed, nextTick, onMounted, reactive, ref, watch } from 'vue';
import { KIND_WORDS, ROLE_WORDS, SYMPTOM_WORDS } from '../lib/caseWords.ts';
import { useEdits } from '../stores/edits.ts';
import { useHistory } from '../stores/history.ts';
import { useSelection } from '../stores/selection.ts';
import ChoiceField from './ChoiceField.vue';

/** What was heard, and the way of the packets: each put right in its place, and kept as it is left. */
const edits = useEdits();
const history = useHistory();
const selection = useSelection();
const root = ref<HTMLElement | null>(null);
const document_ = computed(() => history.document);
const heard = reactive<Heard>(
  history.document
    ? { ...heardOf(history.document) }
    : {
        title: '',
        service: '',
        kind: 'other',
        ports: '',
        dials: '',
        from: '',
        symptom: 'unknown',
        says: '',
        audience: '',
      },
);
watch(document_, (d) => d && Object.assign(heard, heardOf(d)));
const problems = computed(() => heardProblems(heard));

/** A field that was left: kept where it can be read. What cannot be is named beside it and stays typed. */
function keep(field: keyof Heard): void {
  if (!history.document || problems.value[field]) return;
  const before = heardOf(history.document);
  if (before[field] !== heard[field]) void edits.setHeard({ ...before, [field]: heard[field] });
}

const FIELDS: readonly {
  readonly key: keyof Heard;
  readonly label: string;
  readonly mono?: boolean;
  readonly hint: string;
}[] = [
  { key: 'title', label: 'Case', hint: '' },
  { key: 'service', label: 'Service', hint: 'what people call it' },
  { key: 'ports', label: 'Ports', mono: true, hint: 'udp 28410, tcp 28410-28415' },
  { key: 'dials', label: 'Dials', mono: true, hint: 'exactly what the client types' },
  { key: 'from', label: 'From', mono: true, hint: 'the client’s address' },
  { key: 'audience', label: 'Meant for', mono: true, hint: 'anyone, or addresses' },
  { key: 'says', label: 'Said', hint: 'the caller’s own words' },
];

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
const worded = <K extends string>(keys: readonly K[], words: Readonly<Record<K, string>>) =>
  keys.map((value) => ({ value, label: words[value] }));

const evidenceAt = (stop: string): number =>
  history.document?.evidence?.filter((e) => e.stop === stop).length ?? 0;

onMounted(() => void nextTick(() => root.value?.querySelector('input')?.focus()));
</script>

<template>
  <section ref="root" class="case" aria-label="What was heard, and the way" data-test="case-panel">
    <header>
      <h2>What was heard</h2>
      <button type="button" class="link" data-test="case-close" @click="selection.panel = null">
        back to the stop <kbd>Esc</kbd>
      </button>
    </header>
    <div class="body">
      <form class="heard" @submit.prevent>
        <div v-for="f in FIELDS" :key="f.key" class="row">
          <label :for="`heard-${f.key}`">{{ f.label }}</label>
          <input
            :id="`heard-${f.key}`"
            v-model="heard[f.key]"
            :data-test="`heard-${f.key}`"
            :class="{ mono: f.mono }"
            :aria-invalid="problems[f.key] !== undefined"
            :aria-describedby="problems[f.key] ? `heard-${f.key}-note` : undefined"
            :placeholder="f.hint"
            @change="keep(f.key)"
          />
          <span v-if="problems[f.key]" :id="`heard-${f.key}-note`" class="problem" role="alert">{{
            problems[f.key]
          }}</span>
        </div>
        <div class="row">
          <span>Kind</span>
          <ChoiceField
            v-model="heard.kind"
            :choices="worded(KINDS, KIND_WORDS)"
            label="Kind of service"
            data-test="heard-kind"
            @chosen="keep('kind')"
          />
        </div>
        <div class="row">
          <span>Sees</span>
          <ChoiceField
            v-model="heard.symptom"
            :choices="worded(SYMPTOMS, SYMPTOM_WORDS)"
            label="What the client sees"
            data-test="heard-symptom"
            @chosen="keep('symptom')"
          />
        </div>
      </form>
      <h2>The way, from the client inward</h2>
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
            :choices="worded(ROLES, ROLE_WORDS)"
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
          :choices="worded(ROLES, ROLE_WORDS)"
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
  </section>
</template>

<style scoped>
.case {
  display: flex;
  flex-direction: column;
  min-height: 0;
  padding: 10px 20px;
}

header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}

h2 {
  font-size: 15px;
  font-weight: 600;
  margin: 4px 0 6px;
}

.body {
  overflow: auto;
  min-height: 0;
}

.heard {
  padding: 3px;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 28px;
  margin-bottom: 10px;
}

.row {
  display: grid;
  grid-template-columns: 72px 1fr;
  gap: 2px 8px;
  align-items: center;
  align-content: start;
}

.row > input,
.way input {
  padding: 1px 8px;
  height: 25px;
}

.row > input {
  width: 100%;
}

.row > .problem {
  grid-column: 2;
}

@media (max-width: 1100px) {
  .heard {
    grid-template-columns: 1fr;
  }
}

.problem {
  color: var(--shut);
}

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
  width: 170px;
}

.add {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
