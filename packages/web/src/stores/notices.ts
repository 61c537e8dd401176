import { defineStore } from 'pinia';
import { shallowRef } from 'vue';

/** One line about what just happened. */
export interface Notice {
  readonly text: string;
  readonly kind: 'done' | 'trouble';
  readonly canUndo: boolean;
}

/** What is said about the last thing that happened. */
export const useNotices = defineStore('notices', () => {
  const notice = shallowRef<Notice | null>(null);

  function done(text: string, canUndo = true): void {
    notice.value = { kind: 'done', text, canUndo };
  }

  function trouble(text: string, canUndo = false): void {
    notice.value = { kind: 'trouble', text, canUndo };
  }

  /** Says more about what was just said. */
  function add(text: string): void {
    if (notice.value) notice.value = { ...notice.value, text: notice.value.text + text };
  }

  function clear(): void {
    notice.value = null;
  }

  return { notice, done, trouble, add, clear };
});
