import type { StopDetail } from '@bright-ferry/core/views';
import {
  formOf,
  formProblems,
  formValues,
  kindsFor,
  settingsFrom,
  type SettingsKind,
} from '@bright-ferry/core/devices';
import { computed, ref, watch } from 'vue';
import { useDrafts, type Draft } from '../stores/drafts.ts';
import { useEdits } from '../stores/edits.ts';
import type { Editable } from './picks.ts';

/** What is being filled in about a device: drafts, what was kept, and what the evidence shows. */
export function useDeviceForm(props: { readonly stop: StopDetail }) {
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
    problem.value = await edits.setSettings(
      props.stop.id,
      settingsFrom(spec.value, kind.value, values.value),
    );
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

  return {
    kind,
    kinds,
    values,
    problem,
    problems,
    spec,
    shownRows,
    isSuggested,
    isUnkept,
    isOtherThanShown,
    choose,
    startAnew,
    keep,
    forget,
    takeShown,
  };
}
