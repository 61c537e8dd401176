<script setup lang="ts">
import { SYMPTOMS } from '@bright-ferry/core/case';
import { heardOf, heardProblems, KINDS, type Heard } from '@bright-ferry/core/intake';
import { computed, reactive, watch } from 'vue';
import { choicesOf, KIND_WORDS, SYMPTOM_WORDS } from '../lib/caseWords.ts';
import { useEdits } from '../stores/edits.ts';
import { useHistory } from '../stores/history.ts';
import ChoiceField from './ChoiceField.vue';

/** What was heard: each field kept as it is left. */
const edits = useEdits();
const history = useHistory();
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
</script>

<template>
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
        :choices="choicesOf(KINDS, KIND_WORDS)"
        label="Kind of service"
        data-test="heard-kind"
        @chosen="keep('kind')"
      />
    </div>
    <div class="row">
      <span>Sees</span>
      <ChoiceField
        v-model="heard.symptom"
        :choices="choicesOf(SYMPTOMS, SYMPTOM_WORDS)"
        label="What the client sees"
        data-test="heard-symptom"
        @chosen="keep('symptom')"
      />
    </div>
  </form>
</template>

<style scoped>
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

.row > input {
  padding: 1px 8px;
  height: 25px;
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
  grid-column: 2;
}
</style>
