import type { Fact } from './facts.ts';
import type { Problem } from './problems.ts';

/** What a listing covers even where it is empty: "no sockets" differs from "sockets not looked at". */
export type Coverage =
  | 'addresses'
  | 'routes4'
  | 'routes6'
  | 'policy4'
  | 'policy6'
  | 'sockets-tcp'
  | 'sockets-udp'
  | 'rules4'
  | 'rules6'
  | 'neighbours'
  | 'leases'
  | 'forwards'
  | 'host-rows'
  | 'front-end'
  | 'mappings'
  | 'allow-list'
  | 'zone-rules'
  | 'zone-lines'
  | 'translations';
/** What in the form of a listing leaves open whether it is all that there is. */

export type Gap =
  /** No heading: it may be what somebody picked out. */
  | 'no-heading'
  /** Rows or lines that nobody could read. */
  | 'unread'
  /** It breaks off, or values in it are cut. */
  | 'cut'
  /** Its pages are counted, and this is one of them. */
  | 'page';
/** One output of several in a paste. */

export interface ReadPart {
  readonly format: string;
  readonly gaps?: readonly Gap[];
  /** What was typed to get it, where a prompt shows that. */
  readonly command?: string;
  /** At which it begins. */
  readonly line: number;
  readonly facts: readonly Fact[];
  readonly covers: readonly Coverage[];
  /** What it shows, whether or not it is whole. */
  readonly shows?: readonly Coverage[];
}

/** What one reader found in one stretch of text. */

export interface Reading {
  /** The reader's name for the format, e.g. `ip-addr-json`. */
  readonly format: string;
  readonly facts: readonly Fact[];
  readonly problems: readonly Problem[];
  /** What it speaks for, where it is whole. */
  readonly covers: readonly Coverage[];
  readonly gaps?: readonly Gap[];
  /** What was typed to get it, where a prompt shows that. */
  readonly command?: string;
  /** The machine that a prompt in it names. */
  readonly promptHost?: string;
  /** Where a paste holds several outputs: each with the line at which it begins. */
  readonly parts?: readonly ReadPart[];
}
