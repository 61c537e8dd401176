import type { Prefix } from '../../net/index.ts';
import type { Doubt, Step } from '../../rules/index.ts';
import type { Socket } from '../../site/index.ts';
import { doubt, one } from '../build.ts';

export const programName = (text: string): string =>
  text
    .split(/[\\/]/)
    .pop()!
    .toLowerCase()
    .replace(/\.(?:exe|app)$/, '');
export const hasFolder = (text: string): boolean => /[\\/]/.test(text);

export const isSameFile = (listed: string, wanted: string): boolean =>
  !hasFolder(wanted) || (hasFolder(listed) && listed.toLowerCase() === wanted.toLowerCase());

export const isElsewhere = (listed: string, wanted: string): boolean =>
  hasFolder(wanted) && hasFolder(listed) && listed.toLowerCase() !== wanted.toLowerCase();

export const sameProgram = (a: string, b: string): boolean => programName(a) === programName(b);

/**
 * A program row holds for the ports on which that program listens; where a socket's program is not known,
 * that stays open.
 */
export function programPorts(
  program: string,
  { sockets }: HostSurroundings,
  direction: 'in' | 'out',
): Step[][] {
  const asked = doubt({ doubt: 'port-of-program', program });
  if (direction === 'out' || !sockets) return [[asked]];
  const at = (list: readonly Socket[]): Step => ({
    do: 'match',
    fields: [{ of: 'protocol' }, { of: 'dport', protocol: null }],
    rows: list.map((s) => [one(s.transport === 'tcp' ? 6 : 17), one(s.port)]),
    negate: false,
  });
  const named = sockets.filter((s) => s.program !== null && sameProgram(s.program, program));
  // Of a program without its path it is not known whether it is the very file that the row names.
  const own = named.filter((s) => isSameFile(s.program ?? '', program));
  const open = [...named.filter((s) => !own.includes(s)), ...sockets.filter((s) => s.program === null)];
  const away = named.filter((s) => isElsewhere(s.program ?? '', program));
  const asking = open.filter((s) => !away.includes(s));
  return [...(own.length > 0 ? [[at(own)]] : []), ...(asking.length > 0 ? [[at(asking), asked]] : [])];
}

/** What the rows are held against: the machine's own networks, and what listens. */

export interface HostSurroundings {
  readonly subnets: readonly Prefix[];
  /** null: not known */
  readonly sockets: readonly Socket[] | null;
  /** Why there may be more rows than those given. */
  readonly moreRows?: Doubt;
  /** Why the firewall may be off. */
  readonly perhapsOff?: Doubt;
  /** The profile of each network that the machine is on, by its interface. */
  readonly profileOf?: ReadonlyMap<string, string>;
  /** Why the firewall may let nothing in at all. */
  readonly perhapsClosed?: Doubt;
  /** What is open about a row of a listing, by its number. */
  readonly ofRow?: ReadonlyMap<number, Doubt>;
}
