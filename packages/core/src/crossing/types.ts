import type { Address, Endpoint, Header } from '../net/index.ts';
import type { Chain, ChainResult, Hook, Need, RejectKind, Rule, Skipped, Visit } from '../rules/index.ts';
import type { NetInterface, PolicyRule, Route, Socket } from '../site/index.ts';
import type { SourceRef } from '../place/index.ts';

/**
 * What travels: the first packet of a connection (a TCP SYN, or a UDP datagram), one of the three things that
 * can come back, or (`further`) the next segment of a TCP connection that the answer has opened (RFC 9293
 * §3.5). `quote` is the header inside an ICMP error (RFC 792, RFC 4443 §2.4).
 */
export type Flight =
  | { readonly form: 'question' | 'answer' | 'reset' | 'further'; readonly header: Header }
  | {
      readonly form: 'error';
      readonly kind: ErrorKind;
      readonly source: Address;
      readonly destination: Address;
      readonly quote: Header;
    };

export type ErrorKind = Exclude<RejectKind, 'tcp-reset' | 'by-transport'> | 'time-exceeded';

/** Why a packet ended where it did. Data only; the sentences are in `words/`. */
export type Ending =
  | { readonly kind: 'listener'; readonly socket: Socket | null }
  | {
      readonly kind: 'closed-port';
      readonly endpoint: Endpoint;
      readonly near: readonly Socket[];
      readonly source: SourceRef | null;
    }
  | {
      readonly kind: 'rule';
      readonly hook: Hook;
      readonly chain: Chain;
      readonly rule: Rule;
      readonly reject: RejectKind | null;
      /** The connection opens, and it is the packets after its first one that end here. */
      readonly further?: true;
    }
  | { readonly kind: 'policy'; readonly hook: Hook; readonly chain: Chain; readonly further?: true }
  | { readonly kind: 'translation-impossible'; readonly rule: Rule }
  | { readonly kind: 'no-route'; readonly destination: Address }
  | {
      readonly kind: 'special-route';
      readonly type: 'blackhole' | 'unreachable' | 'prohibit';
      readonly by: Route | PolicyRule;
    }
  | { readonly kind: 'forwarding-off'; readonly source: SourceRef | null }
  | {
      readonly kind: 'reverse-path';
      readonly address: Address;
      readonly interface: string;
      readonly source: SourceRef | null;
    }
  | { readonly kind: 'martian'; readonly address: Address }
  | {
      readonly kind: 'nobody-there';
      readonly address: Address;
      readonly interface: string;
      /** The machine that has the address, by an interface without a link; null: none that is known. */
      readonly unlinked: { readonly stop: string; readonly interface: NetInterface } | null;
      readonly source: SourceRef | null;
    }
  | { readonly kind: 'link-down'; readonly interface: NetInterface; readonly address: Address }
  | { readonly kind: 'loop' }
  | { readonly kind: 'not-expected'; readonly expected: Header; readonly got: Header }
  | { readonly kind: 'not-routed'; readonly address: Address }
  | {
      readonly kind: 'shared-address';
      readonly address: Address;
      readonly gateway: string;
      readonly source: SourceRef | null;
    }
  | { readonly kind: 'elsewhere'; readonly address: Address; readonly from: string | null }
  /** A translation sent it to an address that none of the known machines has. */
  | {
      readonly kind: 'astray';
      readonly address: Address;
      readonly mac: string | null;
      readonly source: SourceRef | null;
    }
  | { readonly kind: 'left-by-tunnel'; readonly interface: string; readonly address: Address }
  | { readonly kind: 'not-known'; readonly need: Need };

/** Whether an open end is a need: an ending of that kind holds one instead. */
export const isNeed = (why: Need | Ending): why is Need => 'need' in why && typeof why.need === 'string';

/** Something that happened to a packet at a stop, in order. */
export type LegEvent =
  | { readonly event: 'rule'; readonly hook: Hook; readonly visit: Visit }
  /** Rules that an index left out: they all miss. */
  | { readonly event: 'rules-skipped'; readonly hook: Hook; readonly rules: Skipped }
  | { readonly event: 'chain'; readonly hook: Hook; readonly chain: Chain; readonly result: ChainResult }
  | {
      readonly event: 'translated';
      readonly side: 'source' | 'destination';
      readonly from: Endpoint;
      readonly to: Endpoint;
      readonly rule: Rule | null;
    }
  | {
      readonly event: 'routed';
      readonly destination: Address;
      readonly route: Route | null;
      readonly via: Address | null;
      readonly out: string | null;
    }
  | { readonly event: 'delivered'; readonly socket: Socket | null }
  | { readonly event: 'ended'; readonly ending: Ending };

/** One packet at one stop. */
export interface Leg {
  readonly stop: string;
  readonly lane: 'forward' | 'reply';
  readonly form: Flight['form'];
  /** Interface names; null where it was born or ended here. */
  readonly in: string | null;
  out: string | null;
  readonly before: Header;
  after: Header;
  readonly events: LegEvent[];
}

/** How one run ended. `outcome` open: the evidence does not say what happens here at all. */
export interface Run {
  readonly outcome: 'answered' | 'refused' | 'lost' | 'open';
  readonly stop: string | null;
  readonly direction: 'forward' | 'reply';
  readonly seen: { readonly source: Endpoint; readonly destination: Endpoint } | null;
  readonly ending: Ending;
  /** What took the first packet, whatever became of the connection; null where nothing did. */
  readonly reached: { readonly stop: string; readonly socket: Socket | null } | null;
  readonly legs: readonly Leg[];
}

/**
 * Every rule that the packet met at a stop, in order; those that an index left out are worked out as they are
 * asked for.
 */
export function* visitsOf(leg: Leg): Generator<{ readonly hook: Hook; readonly visit: Visit }> {
  for (const e of leg.events) {
    if (e.event === 'rule') yield { hook: e.hook, visit: e.visit };
    else if (e.event === 'rules-skipped') for (const visit of e.rules.visits()) yield { hook: e.hook, visit };
  }
}
