<script setup lang="ts">
import type { StopDetail } from '@bright-ferry/core/views';
import {
  type SettingsKind,
  formOf,
  kindsFor,
  formValues,
  settingsFrom,
  type FormField,
} from '@bright-ferry/core/devices';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed, ref, watch } from 'vue';
import { useDrafts, type Draft } from '../stores/drafts.ts';
import { useEdits } from '../stores/edits.ts';

/** What is known of a device that prints no rules, in its own kind of words. What stays empty counts as not known. */
const props = defineProps<{ stop: StopDetail }>();
const edits = useEdits();

interface Editable {
  fields: Record<string, string>;
  tables: Record<string, Record<string, string>[]>;
}

const drafts = useDrafts();
const kinds = computed(() => kindsFor(props.stop.role));
const draft = drafts.of(props.stop.id);
const kind = ref<SettingsKind>(
  draft?.kind ??
    props.stop.settings?.kind ??
    props.stop.suggested?.settings.kind ??
    kinds.value[0] ??
    'forward-table',
);
const values = ref<Editable>(draft ? copied(draft) : filled());
const problem = ref<string | null>(null);
const spec = computed(() => formOf(kind.value));
/** Rows come from the evidence as long as nobody has kept any. */
const isSuggested = computed(
  () => !props.stop.settings && props.stop.suggested?.settings.kind === kind.value,
);
const isUnkept = computed(() => drafts.of(props.stop.id) !== null);
const short = (file: string): string => file.slice(file.lastIndexOf('/') + 1);

function copied({ fields, tables }: Pick<Draft, 'fields' | 'tables'>): Editable {
  return JSON.parse(JSON.stringify({ fields, tables })) as Editable;
}

/** What was kept, else what the evidence shows. */
function filled(): Editable {
  const known = [props.stop.settings, props.stop.suggested?.settings].find((s) => s?.kind === kind.value);
  const own = known ? formValues(formOf(kind.value), known) : { fields: {}, tables: {} };
  return copied({
    fields: own.fields,
    tables: Object.fromEntries(formOf(kind.value).tables.map((t) => [t.key, own.tables[t.key] ?? []])),
  });
}

const plain = (v: Editable): string => JSON.stringify(v);

watch(
  values,
  (now) => {
    const isChanged = plain(now) !== plain(filled());
    if (isChanged) drafts.set(props.stop.id, { kind: kind.value, ...copied(now) });
    else if (isUnkept.value) drafts.set(props.stop.id, null);
  },
  { deep: true },
);

// What was kept elsewhere, or taken back, shows as long as nothing is being filled in here.
watch(
  () => [props.stop.settings, props.stop.suggested] as const,
  ([next]) => {
    if (isUnkept.value) return;
    if (next) kind.value = next.kind;
    values.value = filled();
  },
);

function choose(): void {
  values.value = filled();
  problem.value = null;
}

function startAnew(): void {
  drafts.set(props.stop.id, null);
  values.value = filled();
}

async function keep(): Promise<void> {
  problem.value = await edits.setSettings(props.stop.id, settingsFrom(spec.value, kind.value, values.value));
  if (problem.value === null) drafts.set(props.stop.id, null);
}

async function forget(): Promise<void> {
  problem.value = await edits.setSettings(props.stop.id, null);
}

const choices = (f: FormField): readonly { value: string; label: string }[] =>
  f.type === 'yes-no'
    ? [
        { value: 'yes', label: 'yes' },
        { value: 'no', label: 'no' },
      ]
    : (f.options ?? []);
const picks = (f: FormField): boolean => f.type === 'yes-no' || f.type === 'choice';
</script>

<template>
  <form class="device" data-test="device-form" @submit.prevent="keep">
    <p>
      <label
        >It is a
        <select v-model="kind" data-test="device-kind" @change="choose">
          <option v-for="k in kinds" :key="k" :value="k">
            {{ formOf(k).title.charAt(0).toLowerCase() + formOf(k).title.slice(1) }}
          </option>
        </select></label
      >
      <span class="quiet">{{ spec.explains }}</span>
    </p>
    <p v-if="isUnkept" class="quiet" data-test="device-unkept">
      Not kept yet.
      <button type="button" class="link" @click="startAnew">Begin again from what is known</button>
    </p>
    <p v-else-if="isSuggested && stop.suggested" class="quiet" data-test="device-suggested">
      Filled from {{ stop.suggested.files.map(short).join(', ') }}. Keep it to hold it true instead of the
      listing.
    </p>
    <datalist :id="`addresses-${stop.id}`">
      <option v-for="a in stop.addresses" :key="a.address" :value="a.address">{{ a.who }}</option>
    </datalist>
    <p v-if="problem ?? stop.settingsProblem" class="problem" role="alert" data-test="device-problem">
      {{ problem ?? stop.settingsProblem }}
    </p>
    <fieldset v-for="t in spec.tables" :key="t.key">
      <legend>
        {{ t.label }} <span v-if="t.hint" class="quiet">{{ t.hint }}</span>
      </legend>
      <div class="scroll">
        <table v-if="values.tables[t.key]!.length > 0">
          <thead>
            <tr>
              <th v-for="c in t.columns" :key="c.key" scope="col">{{ c.label }}</th>
              <th scope="col"><span class="unseen">remove</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, i) in values.tables[t.key]" :key="i">
              <td v-for="c in t.columns" :key="c.key">
                <select v-if="picks(c)" v-model="row[c.key]" :aria-label="`${t.label} ${i + 1}: ${c.label}`">
                  <option value="" />
                  <option v-for="o in choices(c)" :key="o.value" :value="o.value">{{ o.label }}</option>
                </select>
                <input
                  v-else
                  v-model="row[c.key]"
                  class="mono"
                  :class="c.type"
                  :aria-label="`${t.label} ${i + 1}: ${c.label}`"
                  :placeholder="c.hint"
                  :list="c.key === 'to' ? `addresses-${stop.id}` : undefined"
                  spellcheck="false"
                />
              </td>
              <td>
                <button
                  type="button"
                  class="link"
                  :aria-label="`Remove ${t.label} ${i + 1}`"
                  @click="values.tables[t.key]!.splice(i, 1)"
                >
                  remove
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <button type="button" class="link" :data-test="`add-${t.key}`" @click="values.tables[t.key]!.push({})">
        one more row
      </button>
    </fieldset>
    <div class="fields">
      <label v-for="f in spec.fields" :key="f.key">
        <span>{{ f.label }}</span>
        <select v-if="picks(f)" v-model="values.fields[f.key]" :data-test="`field-${f.key}`">
          <option value="">not known</option>
          <option v-for="o in choices(f)" :key="o.value" :value="o.value">{{ o.label }}</option>
        </select>
        <input
          v-else
          v-model="values.fields[f.key]"
          class="mono"
          :placeholder="f.hint"
          :data-test="`field-${f.key}`"
          spellcheck="false"
        />
      </label>
    </div>
    <p class="buttons">
      <ElButton type="primary" native-type="submit" data-test="keep-device">Keep</ElButton>
      <ElButton v-if="stop.settings" data-test="forget-device" @click="forget"
        >Take the settings away</ElButton
      >
    </p>
  </form>
</template>

<style scoped>
.device {
  display: flex;
  flex-direction: column;
  gap: 10px;
}

fieldset {
  border: 0;
  border-top: 1px solid var(--line);
  padding: 4px 0 0;
  margin: 0;
  min-width: 0;
}

legend {
  font-weight: 600;
  padding: 0 8px 0 0;
}

.scroll {
  overflow-x: auto;
}

td,
th {
  padding: 2px 6px 2px 0;
  text-align: left;
  font-weight: 400;
  white-space: nowrap;
}

th {
  color: var(--ink-soft);
}

input,
select {
  font: inherit;
  color: inherit;
  background: var(--sheet);
  border: 1px solid var(--fog);
  border-radius: 3px;
  padding: 2px 5px;
  height: 27px;
}

td input {
  width: 118px;
}

td input[list] {
  width: 142px;
}

td input.number {
  width: 64px;
}

td input.list {
  width: 160px;
}

input.mono {
  font-family: var(--mono);
  font-size: 12px;
}

.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  gap: 6px 20px;
}

.fields label {
  display: grid;
  grid-template-columns: 1fr 150px;
  gap: 8px;
  align-items: center;
}

.problem {
  background: var(--shut-soft);
  color: var(--shut);
  padding: 4px 8px;
}
</style>
