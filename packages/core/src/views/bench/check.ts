import type { AskKind } from '../../asks/index.ts';
import type { AskReason } from '../../words/index.ts';

/** Something to ask for. `id` is `stop/yields`, as in the `declined` list of a case. */
export interface Check {
  readonly id: string;
  readonly stop: string;
  readonly yields: AskKind;
  readonly reason: AskReason;
}

export const check = (stop: string, yields: AskKind, reason: AskReason): Check => ({
  id: `${stop}/${yields}`,
  stop,
  yields,
  reason,
});
