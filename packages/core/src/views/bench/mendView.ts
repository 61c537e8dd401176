import type { AskKind } from '../../asks/index.ts';
import { FAULTS } from '../../faults/index.ts';
import { type CaseFacts } from '../../ledger/index.ts';
import type { StopSettings } from '../../devices/index.ts';
import { commandsOf, otherSteps, settingsWith, type Mend, type MendStep } from '../../mend/index.ts';
import { type StopNames, mendMessage, mendWords, type MendWords } from '../../words/index.ts';
import type { Check } from './check.ts';
import { crossingView } from './crossingView.ts';
import { type Aim } from './packet.ts';
import type { MendView } from './types.ts';
import { verdictOf } from './verdict.ts';

export function mendView(
  facts: CaseFacts,
  aim: Aim,
  steps: readonly MendStep[],
  mend: Mend,
  checks: readonly Check[],
  names: StopNames,
): MendView {
  const rest = steps.slice(1);
  const side = (list: readonly MendStep[]) => ({
    verdict: verdictOf(facts, aim, list, checks, names),
    crossing: crossingView(facts, mendedAim(aim, list), list, names),
  });
  const words = mendWords(mend, names);
  return {
    ...words,
    fault: mend.fault,
    stop: mend.stop,
    shownBy: shownBy(mend),
    message: mendMessage(words),
    evidence: mend.evidence,
    rehearsal: rest.length > 0 ? { before: side(steps), after: side(rest) } : null,
    settings: settledAt(facts, steps[0], mend),
    then: rest
      .flatMap((s) => s.mend ?? [])
      .map((m) => ({ stop: names(m.stop), text: thenText(mendWords(m, names)) })),
    or: mend.or ? mendView(facts, aim, otherSteps(facts, steps, mend.or), mend.or, checks, names) : null,
  };
}

function settledAt({ document }: CaseFacts, step: MendStep | undefined, mend: Mend): StopSettings | null {
  const stop = document.path.find((s) => s.id === mend.stop);
  return stop && step ? settingsWith(stop, mend, step.scene) : null;
}

const thenText = ({ title, wrong }: MendWords): string => `${title} (${wrong})`;

/** What to ask for to see that a mend was made; a packet filter shows its forwards among its rules. */
function shownBy(mend: Mend): AskKind | null {
  const ask = FAULTS[mend.fault].shownBy;
  return ask === 'forwards' && commandsOf(mend).commands.length > 0 ? 'rules' : ask;
}

const mendedAim = (aim: Aim, list: readonly MendStep[]): Aim =>
  list[0] ? { ...aim, address: list[0].scene.packet.destination.address } : aim;
