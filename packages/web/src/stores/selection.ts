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

/** What the technician looks at. */
export const useSelection = defineStore('selection', () => {
  /** Which endpoint of the service, and from where it is tried. */
  const endpoint = ref<string | null>(null);
  const viewpoint = ref<string | null>(null);
  const openStop = ref<string | null>(null);
  const shownSource = shallowRef<ShownSource | null>(null);
  const rehearsed = shallowRef<MendView | null>(null);
  const shelfOpen = ref(false);
  /** What was heard, and the way, to put right. */
  const caseOpen = ref(false);
  /** The grid of who tries from where. */
  const gridOpen = ref(false);
  /** A line that was not understood, offered for correction in the box. */
  const proposed = ref<string | null>(null);

  /** Nothing is looked at: another case is on the bench. */
  function reset(): void {
    endpoint.value = null;
    viewpoint.value = null;
    openStop.value = null;
    shownSource.value = null;
    rehearsed.value = null;
    shelfOpen.value = false;
    caseOpen.value = false;
    gridOpen.value = false;
  }

  /** The case has changed: a rehearsal of what it was ends, and an original that is gone is closed. */
  function follow({ evidence = [] }: CaseDocument): void {
    rehearsed.value = null;
    const { value: shown } = shownSource;
    if (shown && !evidence.some((e) => e.file === shown.file)) shownSource.value = null;
  }

  /** Shows the grid of who tries from where, in place of what is shown. */
  function openGrid(isOpen: boolean): void {
    shownSource.value = null;
    rehearsed.value = null;
    shelfOpen.value = false;
    caseOpen.value = false;
    gridOpen.value = isOpen;
  }

  return {
    endpoint,
    viewpoint,
    openStop,
    shownSource,
    rehearsed,
    shelfOpen,
    caseOpen,
    gridOpen,
    openGrid,
    proposed,
    reset,
    follow,
  };
});
