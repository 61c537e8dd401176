import type { CaseDocument } from '@bright-ferry/core/case';
import type { MendView } from '@bright-ferry/core/views';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

/** A place in an original. */
export interface ShownSource {
  readonly file: string;
  readonly line: number;
  readonly column?: number;
  readonly endColumn?: number;
}

/**
 * What stands at the left in place of the open stop: what was heard, who tries from where, what may be
 * wrong, all evidence.
 */
export type Panel = 'case' | 'grid' | 'shelf' | 'suspects';

/** What the technician looks at. */
export const useSelection = defineStore('selection', () => {
  /** Which endpoint of the service, and from where it is tried. */
  const endpoint = ref<string | null>(null);
  const viewpoint = ref<string | null>(null);
  const openStop = ref<string | null>(null);
  const shownSource = shallowRef<ShownSource | null>(null);
  const rehearsed = shallowRef<MendView | null>(null);
  /** The title of the change of which the other way is looked at. */
  const otherWay = ref<string | null>(null);
  const panel = ref<Panel | null>(null);
  /** A line that was not understood, offered for correction in the box. */
  const proposed = ref<string | null>(null);

  /** Nothing is looked at: another case is on the bench. */
  function reset(): void {
    endpoint.value = null;
    viewpoint.value = null;
    otherWay.value = null;
    openAt(null);
  }

  /** The case has changed: a rehearsal of what it was ends, and an original that is gone is closed. */
  function follow({ evidence = [] }: CaseDocument): void {
    rehearsed.value = null;
    const { value: shown } = shownSource;
    if (shown && !evidence.some((e) => e.file === shown.file)) shownSource.value = null;
  }

  /** Shows a panel in place of what is shown, or puts it away where it is shown already. */
  function toggle(wanted: Panel): void {
    const next = panel.value === wanted && !shownSource.value && !rehearsed.value ? null : wanted;
    openAt(openStop.value);
    panel.value = next;
  }

  /** Shows a stop, and nothing in place of it. */
  function openAt(stop: string | null): void {
    shownSource.value = null;
    rehearsed.value = null;
    panel.value = null;
    openStop.value = stop;
  }

  /** Puts the uppermost thing away. Returns whether there was one. */
  function goBack(): boolean {
    if (shownSource.value) shownSource.value = null;
    else if (panel.value) panel.value = null;
    else if (rehearsed.value) rehearsed.value = null;
    else return false;
    return true;
  }

  return {
    endpoint,
    viewpoint,
    openStop,
    shownSource,
    rehearsed,
    otherWay,
    panel,
    toggle,
    openAt,
    goBack,
    proposed,
    reset,
    follow,
  };
});
