import type { CaseFacts } from '../../ledger/index.ts';
import type { MendStep } from '../../mend/index.ts';
import { formatEndpoint } from '../../net/index.ts';
import type { SourceRef } from '../../place/index.ts';
import { endingText, mendLine, inSentence, reasonLine, type StopNames } from '../../words/index.ts';
import { neverArrives } from './crossingView.ts';
import type { Check } from './checks.ts';
import type { Aim } from './packet.ts';
import type { VerdictView } from './types.ts';

/** The verdict in one sentence, from the case itself (first step) and what would come after its mend. */
export function verdictOf(
  facts: CaseFacts,
  aim: Aim,
  steps: readonly MendStep[],
  checks: readonly Check[],
  names: StopNames,
): VerdictView {
  const { trace, mend } = steps[0]!;
  const run = trace.shown;
  const evidence =
    mend?.evidence ?? (run.ending.kind === 'rule' && run.ending.rule.source ? [run.ending.rule.source] : []);
  if (trace.outcome === 'answered') {
    const who =
      run.ending.kind === 'listener' && run.ending.socket?.program
        ? run.ending.socket.program
        : 'the program';
    return {
      lamp: 'lit',
      word: 'Answered',
      headline: `Answered: ${who} on the ${lower(names(run.stop))} takes ${formatEndpoint(trace.packet.destination)}.`,
      detail: `The answer gets back to the client.${standIn(aim)}`,
      sure: true,
      evidence: [],
    };
  }
  if (trace.outcome === 'unknown' && !neverArrives(run)) {
    const [need] = checks;
    return {
      lamp: 'fogged',
      word: 'Not known yet',
      headline: `Not known yet: ${need ? reasonLine(need.reason, need.stop, names) : endingText(run.ending, run.stop, (id) => inSentence(names(id)))}.`,
      detail: `${reach(steps, names)}${standIn(aim)}`,
      sure: false,
      evidence: [],
    };
  }
  let word;
  if (neverArrives(run)) word = 'Astray';
  else if (trace.outcome === 'refused') word = 'Refused';
  else word = 'Lost';
  let place;
  if (mend) place = placeOf(mend.stop, facts, names);
  else if (run.stop) place = ` at the ${lower(names(run.stop))}`;
  else place = '';
  const why = mend ? mendLine(mend, names) : endingText(run.ending, run.stop, names);
  const later = steps.slice(1).find((s) => s.trace.outcome !== 'answered' && s.mend);
  let further;
  if (later?.mend)
    further = `Mending this alone is not enough: at the ${lower(names(later.mend.stop))}, ${mendLine(later.mend, names)}.`;
  else if (steps[1]?.trace.outcome === 'answered') further = 'With this mended the client gets its answer.';
  else if (steps[1]) further = 'What comes after it is not known yet.';
  else further = '';
  const count = new Set(evidence.map((e) => e.file)).size;
  return {
    lamp: 'shut',
    word,
    headline: `${word}${place}: ${why}.`,
    detail:
      `${count > 0 ? `Sure, from ${count === 1 ? 'one piece' : `${count} pieces`} of evidence. ` : ''}${further}${standIn(aim)}`.trim(),
    sure: true,
    evidence,
  };
}

const lower = (name: string): string =>
  /^[A-Z][a-z]+( [a-z]+)*$/.test(name) ? name.charAt(0).toLowerCase() + name.slice(1) : name;

function placeOf(stop: string, facts: CaseFacts, names: StopNames): string {
  return facts.document.path.find((s) => s.id === stop)?.role === 'client'
    ? ''
    : ` at the ${lower(names(stop))}`;
}

const standIn = (aim: Aim): string =>
  aim.clientStandsIn ? ' The client’s address is not known; any outside client is taken.' : '';

function reach(steps: readonly MendStep[], names: StopNames): string {
  const passed = steps[0]!.trace.shown.legs.filter((l) => l.lane === 'forward' && l.out !== null);
  const last = passed[passed.length - 1];
  return last
    ? `As far as it is known, the packet gets past the ${lower(names(last.stop))}.`
    : 'Paste what you have; the next check stands on the right.';
}

/** A verdict where there is no packet to follow. */
export function verdictWithoutPacket(aim: Aim, evidence: readonly SourceRef[]): VerdictView {
  if (aim.trouble === 'no-such-name')
    return {
      lamp: 'shut',
      word: 'Ends at the name',
      headline: `Ends at the name: ${aim.name} does not exist.`,
      detail: 'The record has to be created, or another name dialled.',
      sure: true,
      evidence,
    };
  if (aim.trouble === 'no-address')
    return {
      lamp: 'shut',
      word: 'Ends at the name',
      headline: `Ends at the name: ${aim.name} has no address.`,
      detail: 'It needs an A or AAAA record.',
      sure: true,
      evidence,
    };
  if (aim.trouble === 'not-looked-up')
    return {
      lamp: 'fogged',
      word: 'Not known yet',
      headline: `Not known yet: ${aim.name} has not been looked up.`,
      detail: 'What it resolves to decides where the packet goes.',
      sure: false,
      evidence: [],
    };
  return {
    lamp: 'fogged',
    word: 'Not known yet',
    headline: 'Not known yet: nobody has said what the client dials, or on which port.',
    detail: 'One line of the complaint is enough to begin.',
    sure: false,
    evidence: [],
  };
}
