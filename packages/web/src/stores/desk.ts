import { deskLine, type BenchView, type DeskLine } from '@bright-ferry/core/views';
import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import type { CaseHead } from '../storage/cabinet.ts';
import { useCabinet } from './cabinet.ts';
import { services } from './services.ts';

/** A case on the desk: what is kept of it, and what the bench made of it last. */
export interface DeskCase extends CaseHead {
  /** null: not worked out yet. */
  readonly line: DeskLine | null;
}

interface KeptLine extends DeskLine {
  /** The state of the case that it tells of. */
  readonly of: string;
}

const PREFIX = 'desk/';

/** Whose turn it is, in the order in which the desk shows them. */
export const TURNS = ['ours', 'client', 'owner', 'closed'] as const;
export type DeskGroup = (typeof TURNS)[number];

/** All cases with whose turn it is. Lines of cases that were never on the bench are worked out one by one. */
export const useDesk = defineStore('desk', () => {
  const { cabinet: storage, analyst } = services();
  const cabinet = useCabinet();
  const lines = shallowRef<ReadonlyMap<string, KeptLine>>(new Map());
  let isFilling = false;

  const cases = computed<readonly DeskCase[]>(() =>
    cabinet.heads.map((h) => {
      const kept = lines.value.get(h.id);
      return { ...h, line: kept?.of === h.updatedAt ? kept : null };
    }),
  );

  /** Keeps what the bench shows of a case, for the desk. */
  async function note(id: string, of: string, view: BenchView): Promise<void> {
    const line: KeptLine = { ...deskLine(view), of };
    lines.value = new Map([...lines.value, [id, line]]);
    await storage.setNote(PREFIX + id, JSON.stringify(line));
  }

  async function load(): Promise<void> {
    await cabinet.refresh();
    const kept = [...(await storage.notes(PREFIX))].flatMap(([id, text]) => {
      const line = parsed(text);
      return line ? [[id, line] as const] : [];
    });
    lines.value = new Map(kept);
    await fill();
  }

  async function fill(): Promise<void> {
    if (isFilling) return;
    isFilling = true;
    try {
      for (const { id, line } of cases.value) {
        if (line) continue;
        const state = await storage.open(id);
        if (!state) continue;
        const view = await analyst.ask('bench', { endpoint: null, viewpoint: null }, state);
        await note(id, state.updatedAt, view);
      }
    } catch {
      // A case that cannot be worked out says so on the bench; here it stays without a line.
    } finally {
      isFilling = false;
    }
  }

  return { cases, note, load };
});

/** Whose turn it is; a change that waits for a try is the client's. */
export function groupOf(c: DeskCase): DeskGroup {
  if (c.closed !== null) return 'closed';
  if (c.retest !== null) return 'client';
  return c.line?.turn ?? 'ours';
}

/** Cases in which every word that was typed stands somewhere. */
export function found(cases: readonly DeskCase[], query: string): readonly DeskCase[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return cases;
  return cases.filter((c) => {
    const text = [c.title, c.service, c.dials, c.from, c.line?.word, c.line?.place, c.line?.waits]
      .join(' ')
      .toLowerCase();
    return words.every((w) => text.includes(w));
  });
}

function parsed(text: string): KeptLine | null {
  try {
    return JSON.parse(text) as KeptLine;
  } catch {
    return null;
  }
}
