import type { CaseFacts } from '../../ledger/index.ts';
import { checkWords, doneWords, reasonParagraph, type StopNames } from '../../words/index.ts';
import type { Check } from './check.ts';
import type { Aim } from './packet.ts';
import { lastSystem } from '../../model/index.ts';
import { forSystem } from './system.ts';
import type { BenchView, Lamp, MendView, NextView } from './types.ts';

export const laterOf = (checks: readonly Check[], names: StopNames, skip: number): BenchView['later'] =>
  checks.slice(skip, skip + 4).map((c) => ({ id: c.id, title: checkWords(c.yields, names(c.stop)).title }));

export function nextOf(
  facts: CaseFacts,
  mend: MendView | null,
  checks: readonly Check[],
  names: StopNames,
  aim: Aim,
  lamp: Lamp,
): NextView {
  if (mend) return { kind: 'mend', mend };
  const c = checks[0];
  if (c && lamp !== 'lit')
    return {
      kind: 'check',
      id: c.id,
      stop: c.stop,
      yields: c.yields,
      words: forSystem(
        checkWords(
          c.yields,
          names(c.stop),
          aim.name,
          facts.document.service?.endpoints?.[0]?.port ?? null,
          facts.document.path.find((p) => p.id === c.stop)?.role ?? null,
        ),
        lastSystem(facts, c.stop),
      ),
      why: reasonParagraph(c.reason),
    };
  const done = lamp === 'lit' ? 'try-again' : 'tell';
  return { kind: 'done', ...doneWords(done, facts.document.service?.name ?? null) };
}
