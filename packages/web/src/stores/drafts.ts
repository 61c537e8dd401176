import type { SettingsKind } from '@bright-ferry/core/devices';
import { defineStore } from 'pinia';
import { shallowRef, watch } from 'vue';
import { useHistory } from './history.ts';
import { services } from './services.ts';

/** What stands in the form of a device and is not kept yet. */
export interface Draft {
  readonly kind: SettingsKind;
  readonly fields: Readonly<Record<string, string>>;
  readonly tables: Readonly<Record<string, readonly Readonly<Record<string, string>>[]>>;
}

const key = (id: string): string => `drafts/${id}`;

/** Forms that were filled in and not kept: they survive looking elsewhere, new evidence, and a reload. */
export const useDrafts = defineStore('drafts', () => {
  const { cabinet } = services();
  const history = useHistory();
  const drafts = shallowRef<Readonly<Record<string, Draft>>>({});

  watch(
    () => history.current?.id,
    async (id) => {
      drafts.value = {};
      if (id === undefined) return;
      const kept = read(await cabinet.note(key(id)));
      if (history.current?.id === id) drafts.value = { ...kept, ...drafts.value };
    },
    { immediate: true },
  );

  /** null takes the draft away. */
  function set(stop: string, draft: Draft | null): void {
    const { [stop]: _, ...others } = drafts.value;
    drafts.value = draft ? { ...others, [stop]: draft } : others;
    const id = history.current?.id;
    if (id !== undefined) void cabinet.setNote(key(id), JSON.stringify(drafts.value));
  }

  const of = (stop: string): Draft | null => drafts.value[stop] ?? null;

  return { drafts, of, set };
});

function read(note: string | null): Record<string, Draft> {
  try {
    return JSON.parse(note ?? '{}') as Record<string, Draft>;
  } catch {
    return {};
  }
}
