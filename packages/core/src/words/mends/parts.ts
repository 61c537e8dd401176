import type { Finding, Served } from '../../mend/index.ts';
import { formatPrefix, type Prefix } from '../../net/index.ts';
import type { StopNames } from '../named.ts';

/** One value to enter: what stands there now, and what belongs there. */
export interface ValueChange {
  readonly label: string;
  readonly now: string | null;
  readonly mended: string;
}

export interface MendParts {
  /** What is wrong, in one sentence without the stop's name in front. */
  readonly wrong: string;
  /** What to do, as a heading. */
  readonly title: string;
  /** Which device and which table or file. */
  readonly where: string;
  readonly values: readonly ValueChange[];
  /** What belongs to it besides: reserve the lease, save the rules. */
  readonly also: string | null;
  /** What the change lets in that was kept out before. */
  readonly opens: string;
}

export type FindingOf<K extends Finding['found']> = Extract<Finding, { readonly found: K }>;

/** Words for one kind of finding; `at` is the name of the stop. */
export type FindingWords<K extends Finding['found']> = (
  finding: FindingOf<K>,
  at: string,
  names: StopNames,
) => MendParts;

/** `TCP 8214` */
export const servedText = ({ transport, port }: Served): string => `${transport.toUpperCase()} ${port}`;

export const peopleText = (prefixes: readonly Prefix[] | null): string =>
  prefixes === null ? 'anyone' : prefixes.map(formatPrefix).join(', ');
