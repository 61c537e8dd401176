import type { Span } from '../../place/index.ts';

/** One table of iptables-save(8) output. */
export interface IptablesTable {
  readonly name: string;
  readonly chains: readonly {
    readonly name: string;
    readonly policy: 'ACCEPT' | 'DROP' | null;
    readonly at: Span;
    readonly counted?: readonly [packets: number, bytes: number];
  }[];
  readonly rules: readonly IptablesRule[];
  /** False where the text ends before `COMMIT`. */
  readonly complete: boolean;
}

export interface IptablesRule {
  readonly chain: string;
  /** The words after `-A CHAIN`, quotes resolved. */
  readonly words: readonly string[];
  readonly text: string;
  readonly at: Span;
  /** Packets and bytes that met it, where the listing has counters. */
  readonly counted?: readonly [packets: number, bytes: number];
}
