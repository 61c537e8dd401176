import { CT_STATE, type Step } from '../../rules/index.ts';
import type { Socket } from '../../site/index.ts';
import {
  accept,
  bits,
  doubt,
  drop,
  match,
  portNumbers,
  protocolMatch,
  rule,
  type RuleParts,
} from '../build.ts';
import { hasFolder, programName, programPorts } from '../hostProfiles/programs.ts';

/** What a firewall for programs does with one of them. */
export interface ApplicationRow {
  /** The path of its file, or of its bundle. */
  readonly app: string;
  readonly allow: boolean;
}

/** The firewall for programs that stands beside the packet filter of macOS. */
export interface ApplicationFirewall {
  /** Whether it lets in nothing but what the system itself needs. */
  readonly blocksAll: boolean | 'perhaps';
  /** A program that none of them names may be let in for its signature, or not. */
  readonly rows: readonly ApplicationRow[];
  /** What listens; null: not known. */
  readonly sockets: readonly Socket[] | null;
}

/** Ports that it leaves open for the system itself: leases, keys of tunnels, names of the own network. */
const OF_SYSTEM = [67, 68, 500, 4500, 5353].map((port) => ({ first: port, last: port }));

const UNKNOWN = { doubt: 'application-firewall' } as const;

/** The rules of each of its parts: that for all programs, and one for each row. */
export function applicationRules(firewall: ApplicationFirewall): RuleParts[] {
  const { blocksAll, rows } = firewall;
  const listening = firewall.sockets?.map((s) => ({ ...s, program: fullName(s.program, rows) })) ?? null;
  return [
    rule(
      'answers to what passed',
      match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related)),
      accept,
    ),
    ...(blocksAll === false ? [] : blockAll(blocksAll === 'perhaps')),
    ...rows.flatMap(({ app, allow }) =>
      portsOf(app, listening).map((steps) =>
        rule(`${allow ? 'allow' : BLOCK} ${app}`, ...steps, allow ? accept : drop),
      ),
    ),
    rule('a program that it has no row for', doubt(UNKNOWN), drop),
  ];
}

const blockAll = (isOpen: boolean): RuleParts[] => [
  rule('what the system needs', ...protocolMatch('udp'), ports(OF_SYSTEM), doubt(UNKNOWN), accept),
  rule(BLOCK_ALL, ...(isOpen ? [doubt(UNKNOWN)] : []), drop),
];

const BLOCK = 'block';
const BLOCK_ALL = 'block all that the system does not need itself';

const ports = (set: typeof OF_SYSTEM): Step => match({ of: 'dport', protocol: null }, portNumbers(set));

/** A program without its folder may be another one of that name: that stays open, as on any system. */
const portsOf = (app: string, sockets: readonly Socket[] | null): Step[][] =>
  programPorts(app, { sockets, subnets: [] }, 'in');

/** What a row blocks, by the text of its rule; null: everything. undefined: it is no such row. */
export function blockedBy({ text }: { readonly text: string }): string | null | undefined {
  if (text === BLOCK_ALL) return null;
  return text.startsWith(`${BLOCK} `) ? text.slice(BLOCK.length + 1) : undefined;
}

/** Listings of open files show nine letters of a program's name as a rule (lsof(8), +c). */
const SHOWN = 9;

/** The name of a row's program, where a listing has cut it. */
function fullName(program: string | null, rows: readonly ApplicationRow[]): string | null {
  if (program === null || hasFolder(program) || program.length < SHOWN) return program;
  const start = program.replaceAll('\\x20', ' ').toLowerCase();
  return rows.map((r) => programName(r.app)).find((name) => name.startsWith(start)) ?? program;
}
