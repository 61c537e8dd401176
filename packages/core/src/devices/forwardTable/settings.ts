import type { DeviceInterface } from '../line.ts';

/** A row of the table, in the words of the form. */
export interface ForwardRowSettings {
  readonly name?: string;
  readonly protocol: 'tcp' | 'udp' | 'both';
  /** Outside ports: `28410` or `28410-28415`. */
  readonly ports: string | number;
  /** Inside address. */
  readonly to: string;
  /** First inside port; the rest of a range follows one to one. Missing: the same as outside. */
  readonly toPort?: number;
  /** Prefixes that may use it; missing or `any`: anyone. */
  readonly sources?: readonly string[];
  /** The outside line that it is bound to; missing: all lines. */
  readonly line?: string;
  readonly enabled?: boolean;
  /** `staged`: entered and not applied; `needs-restart`: applied when the device restarts. */
  readonly state?: 'applied' | 'staged' | 'needs-restart';
}

/** A mapping that a program asked the gateway for (PCP RFC 6887, NAT-PMP RFC 6886, IGD). */
export interface AskedMapping {
  readonly protocol: 'tcp' | 'udp';
  /** 0: every port that no other mapping takes (WANIPConnection:2 §2.3.26). */
  readonly port: number;
  readonly to: string;
  readonly toPort?: number;
  /** The one sender that may use it; missing: any. */
  readonly from?: string;
  /** RFC 3339: when it ends; missing: it does not end by itself. */
  readonly until?: string;
  /** The protocol that it was asked with. */
  readonly by?: string;
}

/**
 * A simple router with a table of port forwards; with several outside lines also the gateway with two WAN
 * lines.
 */
export interface ForwardTableSettings {
  readonly kind: 'forward-table';
  /** Missing: one line outward and one inward, with the addresses that the evidence tells. */
  readonly interfaces?: readonly DeviceInterface[];
  readonly rows: readonly ForwardRowSettings[];
  /** Takes everything that no row takes. */
  readonly exposedHost?: string;
  /**
   * Ports that the router answers on itself, from outside too. Missing: not known, and asked where it
   * matters.
   */
  readonly ownPorts?: readonly { readonly protocol: 'tcp' | 'udp'; readonly ports: string | number }[];
  /**
   * Which of two rows that claim one port counts; `refused`: the device does not take the second at all.
   * Missing: not known.
   */
  readonly clash?: 'first' | 'last' | 'refused';
  /** Whether inside machines can use the outside address. Missing: not known. */
  readonly hairpin?: boolean;
  /** Where forwards are kept; `carrier`: in the carrier's portal, and this table does nothing. */
  readonly keptBy?: 'gateway' | 'carrier';
  /** With several outside lines: the line by which an answer leaves. Missing: not known. */
  readonly answersBy?: 'same-line' | 'default-line';
  readonly mappings?: readonly AskedMapping[];
  /** RFC 3339: when this was looked up; lifetimes of mappings are held against it. */
  readonly at?: string;
}
