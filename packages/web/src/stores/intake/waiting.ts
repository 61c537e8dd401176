import type { LookAlike } from '@bright-ferry/core/reading';
import type { Adjustments, Recognised } from '@bright-ferry/core/views';
import { computed, shallowRef } from 'vue';
import { services } from '../services.ts';
import { useHistory } from '../history.ts';
import { keptPieces, keptText } from './kept.ts';

/** Evidence that is waiting for its stop. */
export interface Pending {
  readonly bytes: Uint8Array;
  readonly adjust: Adjustments;
  readonly title: string;
  readonly candidates: readonly string[];
  readonly why: string;
  readonly at: string;
  readonly format: string | null;
  readonly found: Extract<Recognised, { is: 'text' }>;
}

/** Evidence, or a typed line, in which letters stand where digits belong. */
export interface Misread {
  readonly bytes: Uint8Array;
  readonly typed: string | null;
  readonly lookAlikes: readonly LookAlike[];
}

export type Asked = Pending | Misread;

/** What came in and waits for an answer: kept in the browser as well, so that a reload loses nothing. */
export function useWaiting() {
  const { cabinet } = services();
  const history = useHistory();
  /** What is asked, oldest first: nothing that came in is lost while a question is open. */
  const questions = shallowRef<readonly Asked[]>([]);
  const asked = computed(() => questions.value[0] ?? null);
  const pending = computed(() => (asked.value && 'candidates' in asked.value ? asked.value : null));
  const misread = computed(() => (asked.value && 'lookAlikes' in asked.value ? asked.value : null));

  function ask(next: readonly Asked[]): void {
    questions.value = next;
    const id = history.current?.id;
    if (id !== undefined) void cabinet.setNote(waitingKey(id), keptText(next));
  }

  /** Takes out what was still asked when the case was left. */
  async function takeOut(id: string): Promise<ReturnType<typeof keptPieces>> {
    const kept = keptPieces(await cabinet.note(waitingKey(id)));
    if (kept.length > 0) await cabinet.setNote(waitingKey(id), keptText([]));
    return kept;
  }

  const wait = (question: Asked): void => ask([...questions.value, question]);
  /** The oldest question is answered. */
  const answered = (): void => ask(questions.value.slice(1));

  /** What is asked is left out of the case. */
  function leaveOut(): void {
    answered();
  }

  return { questions, pending, misread, ask, wait, answered, leaveOut, takeOut };
}

const waitingKey = (id: string): string => `waiting/${id}`;
