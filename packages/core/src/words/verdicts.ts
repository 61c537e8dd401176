import type { TrafficRecord } from '../ledger/index.ts';
import { formatAddress, formatEndpoint } from '../net/index.ts';
import { endingText } from './endings.ts';
import { mendLine } from './mends.ts';
import { inSentence, type StopNames } from './named.ts';
import { reasonLine } from './reasons.ts';
import type { Further, Verdict } from './verdict.ts';

export interface VerdictWords {
  readonly word: string;
  readonly headline: string;
  readonly detail: string;
}

/** What is held true on somebody's word. */
export const heldText = (titles: readonly string[]): string =>
  `Held true since it was said to be made: ${titles.join('; ')}. A try, or the listing once more, decides.`;

const ENDED = { astray: 'Astray', refused: 'Refused', lost: 'Lost' } as const;

/** `standsIn`: the client's address is not known, so any outside client was taken. */
export function verdictWords(verdict: Verdict, names: StopNames, standsIn: boolean): VerdictWords {
  const words = plainWords(verdict, names);
  const standIn = standsIn ? 'The client’s address is not known; any outside client is taken.' : '';
  return {
    word: words.word,
    headline: `${words.word}${words.rest}.`,
    detail: [...words.detail, standIn].filter((s) => s !== '').join(' '),
  };
}

function plainWords(
  v: Verdict,
  names: StopNames,
): { readonly word: string; readonly rest: string; readonly detail: readonly string[] } {
  switch (v.verdict) {
    case 'answered':
      return {
        word: 'Answered',
        rest:
          `: ${v.program ?? 'the program'} on ${inSentence(names(v.stop))} takes ` +
          `${formatEndpoint(v.destination)}`,
        detail: ['The answer gets back to the client.'],
      };
    case 'not-known': {
      const why = v.need
        ? reasonLine(v.need.reason, v.need.stop, names)
        : endingText(v.ending, v.stop, (id) => inSentence(names(id)));
      return { word: 'Not known yet', rest: `: ${why}`, detail: [passedText(v, names)] };
    }
    case 'astray':
    case 'refused':
    case 'lost': {
      const why = v.mend
        ? mendLine(v.mend, names)
        : endingText(v.ending, v.stop, (id) => inSentence(names(id)));
      return {
        word: ENDED[v.verdict],
        rest: `${v.place === null ? '' : ` at ${inSentence(names(v.place))}`}: ${why}`,
        detail: [piecesText(v.pieces), furtherText(v.further, names)],
      };
    }
    case 'kept-out': {
      const { count, last, served, from, insteadOf } = v;
      const times = count === 1 ? 'a packet' : `${count} packets`;
      const when = last === null ? '' : `, the last at ${last}`;
      const seen =
        `${times} from ${formatAddress(from)} to ${served.transport.toUpperCase()} ${served.port} ` +
        `kept out${when}`;
      const place = inSentence(names(v.stop));
      if (insteadOf === null)
        return {
          word: 'Lost',
          rest: ` at ${place}: its log shows ${seen}`,
          detail: [
            'So far the client’s packet came; which rule ended it, its whole list of rules would say.',
          ],
        };
      const said =
        insteadOf === 'unsaid'
          ? 'Nobody has said which address the client has'
          : `The client was said to be ${formatAddress(insteadOf)}`;
      return {
        word: 'Not known yet',
        rest: `: the log of ${place} shows ${seen}`,
        detail: [`${said}: whether this was the client’s try is to be settled.`],
      };
    }
    case 'captured': {
      const { count, from, served, died } = v;
      const seen =
        `${count === 1 ? 'a packet' : `${count} packets`} from ${formatAddress(from)} to ` +
        `${served.transport.toUpperCase()} ${served.port}`;
      const at = ` at ${inSentence(names(v.stop))}`;
      if (died === 'answer-lost' || died === 'answer-refused')
        return {
          word: 'Lost',
          rest:
            ` on its way back: a capture${at} shows ${seen}, and its answers, ` +
            `which the client ${died === 'answer-lost' ? 'never takes' : 'resets'}`,
          detail: [
            died === 'answer-lost'
              ? 'The question arrives and the answer leaves: where it goes, the routes of that ' +
                'machine say first.'
              : 'A client resets what it did not ask for: the answer reaches it from another address than ' +
                'the one it dialled, past the router that translated the question.',
          ],
        };
      const refusal = served.transport === 'tcp' ? 'reset' : 'refusal';
      const answer = died === 'refused' ? `and its ${refusal}` : 'and no answer';
      return {
        word: died === 'refused' ? 'Refused' : 'Lost',
        rest: `${at}: a capture there shows ${seen}, ${answer}`,
        detail: [
          'So far the client’s packets came: nothing before it is to blame. What keeps the answer back, ' +
            'its rules, its listeners and its routes would say.',
        ],
      };
    }
    case 'record-differs': {
      const seen = `${RECORDED_BY[v.by]} of ${inSentence(names(v.at))}`;
      if (v.worked === null)
        return {
          word: 'Seen otherwise',
          rest: `: ${seen} shows no answer to the client, and by what is known it gets one`,
          detail: ['Either it is from before a change, or a listing of that machine is not true any more.'],
        };
      const { place, mend, ending, stop } = v.worked;
      const why = mend ? mendLine(mend, names) : endingText(ending, stop, (id) => inSentence(names(id)));
      const where = place === null ? '' : ` at ${inSentence(names(place))}`;
      return {
        word: 'Seen otherwise',
        rest: `: ${seen} shows the client’s packets, and by what is known they end${where}: ${why}`,
        detail: ['One of the two is not true any more: ask for the newest listing of that place.'],
      };
    }
    case 'no-such-name':
      return {
        word: 'Ends at the name',
        rest: `: ${v.name} does not exist`,
        detail: ['The record has to be created, or another name dialled.'],
      };
    case 'no-address':
      return {
        word: 'Ends at the name',
        rest: `: ${v.name} has no address`,
        detail: ['It needs an A or AAAA record.'],
      };
    case 'not-looked-up':
      return {
        word: 'Not known yet',
        rest: `: ${v.name} has not been looked up`,
        detail: ['What it resolves to decides where the packet goes.'],
      };
    case 'changed':
      return {
        word: 'Not known yet',
        rest: `, at ${inSentence(names(v.stop))}: it was changed after what is known of it was taken`,
        detail: [`Made: ${v.title}. Let the client try again, and ask for the listing once more.`],
      };
    case 'held':
      return {
        word: 'Would be answered',
        rest: ', once it is made as it was said',
        detail: [heldText(v.titles), 'Let the client try.'],
      };
    case 'works-since':
      return {
        word: 'Answered',
        rest: `: seen to work since the change (${v.title})`,
        detail: ['The listing of what was changed, once more, keeps the case true.'],
      };
    case 'seen-otherwise':
      return {
        word: 'Seen otherwise',
        rest: `: the try was ${v.tried}, and by what is known it is ${v.worked}`,
        detail: ['Something that was taken for granted does not hold, or was changed since it was listed.'],
      };
    case 'seen-to-work': {
      const at = v.place === null ? '' : `, at ${inSentence(names(v.place))}`;
      const why = v.mend
        ? mendLine(v.mend, names)
        : endingText(v.ending, v.stop, (id) => inSentence(names(id)));
      return {
        word: 'Seen to work',
        rest: `; by what is known it cannot${at}: ${why}`,
        detail: ['One of the two is not true any more: ask for the newest listing of that place.'],
      };
    }
    case 'nothing-dialled':
      return {
        word: 'Not known yet',
        rest: ': nobody has said what the client dials, or on which port',
        detail: ['One line of the complaint is enough to begin.'],
      };
  }
}

const RECORDED_BY: Readonly<Record<TrafficRecord['by'], string>> = {
  log: 'the log',
  capture: 'the capture',
  sessions: 'the session table',
};

function passedText(
  { passed, cameTo }: Pick<Extract<Verdict, { verdict: 'not-known' }>, 'passed' | 'cameTo'>,
  names: StopNames,
): string {
  if (cameTo) {
    const at = inSentence(names(cameTo.stop));
    return `The client’s packets come as far as ${at}: ${RECORDED_BY[cameTo.by]} there shows them.`;
  }
  if (passed === null) return 'Nothing on the way is certain yet; any piece of it helps.';
  return `As far as it is known, the packet gets past ${inSentence(names(passed))}.`;
}

function piecesText(pieces: number): string {
  if (pieces === 0) return '';
  return `Sure, from ${pieces === 1 ? 'one piece' : `${pieces} pieces`} of evidence.`;
}

function furtherText(further: Further, names: StopNames): string {
  switch (further.then) {
    case 'answered':
      return 'With this mended the client gets its answer.';
    case 'mend':
      return (
        `Mending this alone is not enough: at ${inSentence(names(further.mend.stop))}, ` +
        `${mendLine(further.mend, names)}.`
      );
    case 'not-known':
      return 'What comes after it is not known yet.';
    case 'not-followed':
      return '';
  }
}
