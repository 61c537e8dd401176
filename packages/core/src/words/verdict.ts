import type { Ending } from '../crossing/index.ts';
import type { Death, TrafficRecord } from '../ledger/index.ts';
import type { Mend, Served } from '../mend/index.ts';
import type { Address, Endpoint } from '../net/index.ts';
import type { AskReason } from './reasons.ts';

/** What becomes of the packet once the first mend is made. */
export type Further =
  | { readonly then: 'answered' }
  | { readonly then: 'mend'; readonly mend: Mend }
  | { readonly then: 'not-known' }
  | { readonly then: 'not-followed' };

/** A verdict as data: what happens to the packet, where, why, and on what it rests. */
export type Verdict =
  | {
      readonly verdict: 'answered';
      readonly program: string | null;
      readonly stop: string | null;
      readonly destination: Endpoint;
    }
  | {
      readonly verdict: 'not-known';
      readonly need: { readonly reason: AskReason; readonly stop: string } | null;
      readonly ending: Ending;
      readonly stop: string | null;
      /** The last stop that the packet surely leaves. */
      readonly passed: string | null;
      /** How far the client's packets were seen to come, and in what; null: nobody saw them. */
      readonly cameTo: { readonly stop: string; readonly by: TrafficRecord['by'] } | null;
    }
  | {
      readonly verdict: 'astray' | 'refused' | 'lost';
      /** Null: at the client, which needs no place. */
      readonly place: string | null;
      readonly mend: Mend | null;
      readonly ending: Ending;
      readonly stop: string | null;
      /** Pieces of evidence that it rests on. */
      readonly pieces: number;
      readonly further: Further;
    }
  /** A log on the way shows it kept out; the rules that are known do not decide it. */
  | {
      readonly verdict: 'kept-out';
      readonly stop: string;
      readonly from: Address;
      readonly served: Served;
      readonly count: number;
      readonly last: string | null;
      /** Who the client was said to be, where it was another one; null: it was the client. */
      readonly insteadOf: Address | 'unsaid' | null;
    }
  /** A capture on the server shows the client's packets die there. */
  | {
      readonly verdict: 'captured';
      readonly stop: string;
      readonly from: Address;
      readonly served: Served;
      readonly count: number;
      readonly died: Death;
    }
  /** A record shows the client's packets where by what is known they cannot come, or cannot die. */
  | {
      readonly verdict: 'record-differs';
      readonly at: string;
      readonly by: TrafficRecord['by'];
      /** Where they end by what is known; null: they are answered. */
      readonly worked: {
        readonly place: string | null;
        readonly mend: Mend | null;
        readonly ending: Ending;
        readonly stop: string | null;
      } | null;
    }
  | { readonly verdict: 'no-such-name' | 'no-address' | 'not-looked-up'; readonly name: string }
  | { readonly verdict: 'nothing-dialled' }
  /** The place where it ended was changed since the evidence of it was taken. */
  | { readonly verdict: 'changed'; readonly stop: string; readonly title: string }
  /** It is answered if what was said to be made was made as it was said. */
  | { readonly verdict: 'held'; readonly titles: readonly string[] }
  /** It was seen to work since a change was made there. */
  | { readonly verdict: 'works-since'; readonly title: string }
  /** A try came out otherwise than what is known lets it. */
  | {
      readonly verdict: 'seen-otherwise';
      readonly tried: 'answered' | 'refused' | 'lost';
      readonly worked: 'answered' | 'refused' | 'lost';
    }
  /** It was seen to work, and by what is known it cannot. */
  | {
      readonly verdict: 'seen-to-work';
      readonly place: string | null;
      readonly mend: Mend | null;
      readonly ending: Ending;
      readonly stop: string | null;
    };
