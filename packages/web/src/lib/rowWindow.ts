import { computed, ref, type ComputedRef, type Ref } from 'vue';

/** The rows of a long table that are drawn, and the room that the others take above and below them. */
export interface RowWindow<T> {
  readonly shown: ComputedRef<readonly T[]>;
  /** Pixels */
  readonly above: ComputedRef<number>;
  readonly below: ComputedRef<number>;
  /** Where the table is scrolled to, in pixels. */
  readonly top: Ref<number>;
}

/** Rows drawn before and behind those that are seen, so that scrolling shows no gap. */
const MARGIN = 12;

/**
 * Draws only the rows in sight: a table of any length stays quick.
 * @param height of a row, pixels
 * @param room that the table has, pixels
 */
export function rowWindow<T>(rows: () => readonly T[], height: number, room: number): RowWindow<T> {
  const top = ref(0);
  const count = Math.ceil(room / height) + 2 * MARGIN;
  const first = computed(() => {
    const last = Math.max(0, rows().length - count);
    return Math.min(last, Math.max(0, Math.floor(top.value / height) - MARGIN));
  });
  const shown = computed(() => rows().slice(first.value, first.value + count));
  return {
    shown,
    above: computed(() => first.value * height),
    below: computed(() => Math.max(0, rows().length - first.value - count) * height),
    top,
  };
}
