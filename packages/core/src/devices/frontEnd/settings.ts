/** What a front end does with a packet. `limit` lets in while a sender stays below a rate. */
export type FrontEndAction = 'allow' | 'deny' | 'reject' | 'limit';

/** One row of a front end, as its listing prints it. */
export interface FrontEndRow {
  /** The row in the listing's own words. */
  readonly text: string;
  readonly line: number;
  readonly direction: 'in' | 'out';
  readonly action: FrontEndAction;
  readonly family: 4 | 6 | null;
  readonly protocol: 'tcp' | 'udp' | 'any';
  /** `8214`, `80,443`, `6000-6007`; null: any. */
  readonly ports: string | null;
  readonly senderPorts: string | null;
  /** Prefixes; null: any. `to` is the machine's side. */
  readonly to: string | null;
  readonly from: string | null;
  readonly device: string | null;
  /** A word of it that is not understood: it may hold or not. */
  readonly open: string | null;
}

/** Rows that are taken in order, and what becomes of the rest; null: not shown. */
export interface FrontEndZone {
  readonly name: string;
  /** It holds for what comes in by these, and for these senders; null: for everything. */
  readonly devices: readonly string[] | null;
  readonly senders: readonly string[];
  readonly rows: readonly FrontEndRow[];
  /** What it sends on to another port or machine before any row is looked at. */
  readonly sentOn: readonly FrontEndRow[];
  readonly rest: FrontEndAction | null;
  /** What becomes of what the machine sends; null: not shown. */
  readonly outgoing: FrontEndAction | null;
}

/** The packet filter of a Linux machine as the program that people set it with shows it. */
export interface FrontEndListing {
  readonly program: 'ufw' | 'firewalld';
  readonly on: boolean;
  readonly zones: readonly FrontEndZone[];
}
