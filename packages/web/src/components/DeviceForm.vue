<script setup lang="ts">
import type { StopDetail } from '@bright-ferry/core/views';
import {
  type SettingsKind,
  formOf,
  kindsFor,
  formValues,
  formProblems,
  settingsFrom,
} from '@bright-ferry/core/devices';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed, ref, watch } from 'vue';
import { useDrafts, type Draft } from '../stores/drafts.ts';
import { useEdits } from '../stores/edits.ts';
import type { Editable } from '../lib/picks.ts';
import ChoiceField from './ChoiceField.vue';
import DeviceField from './DeviceField.vue';
import DeviceRows from './DeviceRows.vue';
import { shortName } from '../lib/shortName.ts';

/**
 * What is known of a device that prints no rules, in its own kind of words. It begins with what the evidence
 * shows; what stays empty counts as not known.
 */
const props = defineProps<{ stop: StopDetail }>();
const edits = useEdits();

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

const problems = computed(() => formProblems(spec.value, kind.value, values.value));
/** The rows as the evidence shows them, to mark what comes from there. */
const shownRows = computed(() => {
  const { suggested } = props.stop;
  return suggested?.settings.kind === kind.value ? formValues(spec.value, suggested.settings).tables : {};
});
/** Kept by hand, and the evidence shows something else. */
const isOtherThanShown = computed(
  () =>
    props.stop.settings !== null &&
    props.stop.suggested?.settings.kind === props.stop.settings.kind &&
    Object.entries(shownRows.value).some(
      ([key, rows]) =>
        rows.length > 0 &&
        JSON.stringify(rows) !== JSON.stringify(formValues(spec.value, props.stop.settings!).tables[key]),
    ),
);

async function takeShown(): Promise<void> {
  if (!props.stop.suggested) return;
  drafts.set(props.stop.id, null);
  problem.value = await edits.setSettings(props.stop.id, null);
}

const kindChoices = computed(() =>
  kinds.value.map((k) => ({
    value: k,
    label: formOf(k).title.charAt(0).toLowerCase() + formOf(k).title.slice(1),
  })),
);
</script>

<template>
  <form class="device" data-test="device-form" @submit.prevent="keep">
    <p class="kind">
      <span>It is a</span>
      <ChoiceField
        v-model="kind"
        :choices="kindChoices"
        label="What kind of device it is"
        :width="300"
        data-test="device-kind"
        @chosen="choose"
      />
      <span class="quiet">{{ spec.explains }}</span>
    </p>
    <p v-if="isUnkept" class="quiet" data-test="device-unkept">
      Not kept yet.
      <button type="button" class="link" @click="startAnew">Begin again from what is known</button>
    </p>
    <p v-else-if="isSuggested && stop.suggested" class="quiet" data-test="device-suggested">
      As {{ stop.suggested.files.map(shortName).join(', ') }} shows it. Keep it to hold it true instead of the
      listing.
    </p>
    <p v-else-if="isOtherThanShown && stop.suggested" class="other" data-test="device-other">
      Held true as it was filled in by hand; {{ stop.suggested.files.map(shortName).join(', ') }} shows
      something else.
      <button type="button" class="link" data-test="take-shown" @click="takeShown">
        Hold true what it shows
      </button>
    </p>
    <p v-if="problem ?? stop.settingsProblem" class="problem" role="alert" data-test="device-problem">
      {{ problem ?? stop.settingsProblem }}
    </p>
    <fieldset v-for="t in spec.tables" :key="t.key">
      <legend>
        {{ t.label }} <span v-if="t.hint" class="quiet">{{ t.hint }}</span>
      </legend>
      <DeviceRows
        v-model="values"
        :kind="kind"
        :table="t"
        :stop="stop"
        :problems="problems"
        :shown="shownRows[t.key] ?? []"
      />
    </fieldset>
    <div class="fields">
      <DeviceField
        v-for="f in spec.fields"
        :key="f.key"
        v-model="values.fields[f.key]"
        :field="f"
        :label="f.label"
        :form="values"
        :stop="stop"
        :problem="problems[f.key]"
        :test="`field-${f.key}`"
      />
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
  gap: 8px;
}

.kind {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
}

fieldset {
  border: 0;
  border-top: 1px solid var(--line);
  padding: 2px 0 0;
  margin: 0;
  min-width: 0;
}

legend {
  font-weight: 600;
  padding: 0 8px 0 0;
}

.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 6px 20px;
  border-top: 1px solid var(--line);
  padding-top: 6px;
}

/* What is brought into view, by a key or a click, stays clear of the buttons that stand above it. */
.device :deep(:is(button, input, [tabindex])) {
  scroll-margin-bottom: 60px;
}

.buttons {
  position: sticky;
  bottom: -12px;
  background: var(--paper);
  padding: 6px 0;
}

.problem {
  background: var(--shut-soft);
  color: var(--shut);
  padding: 4px 8px;
}

.other {
  background: var(--now);
  padding: 4px 8px;
}
</style>
