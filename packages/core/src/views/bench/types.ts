import type { RecordLine } from './recordLines.ts';
import type { StartingRows } from './startingRows.ts';
import type { AskKind } from '../../asks/index.ts';
import type { Observation } from '../../case/index.ts';
import type { StopSettings } from '../../devices/index.ts';
import type { Role } from '../../site/index.ts';
import type { Suggested } from '../../model/index.ts';
import type { SourceRef } from '../../place/index.ts';
import type { Proposal } from '../../proposals/index.ts';
import type { ContradictionView } from './shelf.ts';
import type { CheckWords, ProposalWords } from '../../words/index.ts';

/** State of a stop for one packet; always shown as a shape and a word too. */
export type Lamp = 'lit' | 'shut' | 'fogged';
/** Also `aside`: the packet surely does not cross this stop. */
export type StopLamp = Lamp | 'aside';

export interface BenchView {
  readonly title: string;
  readonly serviceLine: string;
  readonly clientLine: string;
  readonly endpoints: readonly EndpointTab[];
  /** Ports of which nobody has said whether they are TCP or UDP: what they are taken for. */
  readonly guessed: readonly { readonly port: number; readonly protocol: 'tcp' | 'udp' }[];
  /** Key of the endpoint that is shown. */
  readonly selected: string | null;
  /** From where it is tried; one only where there is nothing to compare. */
  readonly viewpoints: readonly EndpointTab[];
  readonly viewpoint: string;
  readonly verdict: VerdictView;
  /**
   * What would follow if pieces that perhaps are not whole were; null: nothing else, or nothing is in
   * question.
   */
  readonly ifWhole: { readonly text: string; readonly files: readonly string[] } | null;
  /** What lets more people in than was asked for, in sentences. */
  readonly warnings: readonly string[];
  /** The first connection is answered: where the program sends the client next, if that does not work. */
  readonly afterwards: { readonly text: string; readonly source: SourceRef | null } | null;
  readonly crossing: CrossingView;
  readonly next: NextView;
  /** What machines on the way saw of the service's packets. */
  readonly records: readonly RecordLine[];
  /** The packet that is followed, as a try would be written down; null: nothing is dialled yet. */
  readonly trial: TrialView | null;
  /** Checks that come after the next one, in order. */
  readonly later: readonly { readonly id: string; readonly title: string }[];
  readonly stops: readonly StopDetail[];
  readonly dialNotes: readonly string[];
  /** What the evidence suggests about the case itself. */
  readonly proposals: readonly ProposalView[];
  /** What the evidence says twice and differently. */
  readonly contradictions: readonly ContradictionView[];
}

/** What a try of the endpoint that is shown would be, and what the last one came to. */
export interface TrialView {
  readonly vantage: Observation['vantage'];
  readonly from: string;
  readonly to: string;
  /** The newest of its tries; null: none. */
  readonly last: {
    readonly outcome: Observation['outcome'];
    readonly other: boolean;
    readonly at: string | null;
    /** From before the newest evidence: it may have been mended since. */
    readonly stale: boolean;
  } | null;
}

export interface ProposalView extends ProposalWords {
  readonly proposal: Proposal;
}

export interface EndpointTab {
  readonly key: string;
  readonly label: string;
  readonly lamp: Lamp;
  readonly word: string;
}

export interface VerdictView {
  readonly lamp: Lamp;
  readonly word: string;
  readonly headline: string;
  readonly detail: string;
  readonly sure: boolean;
  /** What it takes for granted, as clauses. */
  readonly assumed: readonly string[];
  readonly evidence: readonly SourceRef[];
}

export interface CrossingView {
  readonly stops: readonly StopView[];
  readonly wires: readonly WireView[];
}

export interface StopView {
  readonly id: string;
  readonly name: string;
  /** One line under the name: the fact or rule that decided. */
  readonly caption: string;
  readonly lamp: StopLamp;
  /** `lit`, `shut`, `fogged`, `would pass` … */
  readonly word: string;
  readonly turned: boolean;
  /** Beyond the place where the packet ends. */
  readonly beyond: boolean;
  readonly ends: boolean;
  readonly source: SourceRef | null;
}

export interface WireView {
  readonly out: WireLane;
  readonly back: WireLane;
}

export interface WireLane {
  /** `carried`: the packet is on this wire; `beyond`: it would be; `empty`: nothing comes here. */
  readonly state: 'carried' | 'beyond' | 'empty';
  readonly source: string;
  readonly destination: string;
  readonly sourceChanged: boolean;
  readonly destinationChanged: boolean;
  /** Said instead of addresses: a refusal, or silence. */
  readonly note: string;
}

export type NextView =
  | { readonly kind: 'mend'; readonly mend: MendView }
  | {
      readonly kind: 'check';
      readonly id: string;
      readonly stop: string;
      readonly yields: AskKind;
      readonly words: CheckWords;
      readonly why: string;
    }
  | { readonly kind: 'done'; readonly title: string; readonly text: string };

export interface MendView {
  readonly fault: string;
  readonly stop: string;
  /** What to ask for once it is made (`forwards`, `rules` …); null: nothing that is printed shows it. */
  readonly shownBy: AskKind | null;
  readonly title: string;
  readonly where: string;
  readonly wrong: string;
  readonly values: readonly {
    readonly label: string;
    readonly now: string | null;
    readonly mended: string;
  }[];
  /** Command lines that make it, and those that take it back; empty where it is made on a page. */
  readonly commands: readonly string[];
  readonly undo: readonly string[];
  readonly also: string | null;
  readonly opens: string;
  readonly message: string;
  readonly evidence: readonly SourceRef[];
  /** Before and after, where it can be rehearsed. */
  readonly rehearsal: { readonly before: RehearsalSide; readonly after: RehearsalSide } | null;
  /** What a technician filled in about the stop, with the change in it; null: it stands in no settings. */
  readonly settings: StopSettings | null;
  /** What ends the packet once this is mended, in order. */
  readonly then: readonly { readonly stop: string; readonly text: string }[];
  /** Another way, where this one does not suit. */
  readonly or: MendView | null;
}

export interface RehearsalSide {
  readonly verdict: VerdictView;
  readonly crossing: CrossingView;
}

export interface StopDetail {
  readonly id: string;
  readonly name: string;
  readonly role: Role;
  /** What a technician filled in about the device. */
  readonly settings: StopSettings | null;
  readonly settingsProblem: string | null;
  /** The same as the evidence shows it, where nobody has filled anything in; null: it shows none. */
  readonly suggested: Suggested | null;
  /** What the service needs of such a device, to begin with. */
  readonly starting: StartingRows;
  /** Inside addresses to choose from, with who has them. */
  readonly addresses: readonly { readonly address: string; readonly who: string }[];
  /** Other names that leases, lists of devices and name tables have for it, by its addresses. */
  readonly alsoCalled: readonly { readonly name: string; readonly source: SourceRef }[];
  /** All that this stop can be asked for, in the order in which practitioners ask. */
  readonly asks: readonly { readonly yields: AskKind; readonly words: CheckWords; readonly here: boolean }[];
  /** Why it stands on the crossing, where the evidence put it there. */
  readonly found: {
    readonly id: string;
    readonly text: string;
    readonly evidence: readonly SourceRef[];
  } | null;
  readonly facts: readonly {
    readonly label: string;
    readonly value: string;
    readonly source: SourceRef;
    readonly typed: boolean;
    readonly at: string | null;
    readonly stale: boolean;
  }[];
  /** Rules that this packet met, in the device's order. */
  readonly rules: readonly {
    readonly chain: string;
    readonly text: string;
    readonly hit: boolean;
    readonly decided: boolean;
    readonly missed: string | null;
    readonly source: SourceRef | null;
  }[];
  readonly events: readonly string[];
  readonly files: readonly {
    readonly file: string;
    readonly title: string;
    readonly format: string | null;
    readonly facts: number;
    readonly problems: readonly { readonly line: number; readonly text: string; readonly why: string }[];
    readonly at: string | null;
    readonly typed: boolean;
    readonly part: boolean;
    /** Why it cannot be from here: nothing of it counts until it is moved. */
    readonly misplaced: string | null;
    readonly stale: boolean;
  }[];
}
