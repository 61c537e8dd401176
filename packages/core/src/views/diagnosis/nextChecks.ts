import { systemAt } from '../../model/index.ts';
import type { AskKind } from '../../asks/index.ts';
import type { Trace } from '../../crossing/index.ts';
import type { Coverage } from '../../facts/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { isReachable, parseAddress } from '../../net/index.ts';
import type { StopNames } from '../../words/index.ts';
import type { Check } from '../bench/check.ts';
import { candidatesOf, gainOfListing } from './gain.ts';
import {
  FROM_LAN,
  nextCheck,
  once,
  Open,
  TRIES,
  TRIES_INSIDE,
  type Ask,
  type NextCheck,
} from './openChecks.ts';
import { OF_SERVER, turnOf, type Turn } from '../bench/turns.ts';

/** Records that are worth a look where every listing seems right. */
const RECORDS: readonly Ask[] = [
  ['host', 'configuration'],
  ['gateway', 'sessions'],
  ['gateway', 'routes'],
  ['gateway', 'mappings'],
  ['carrier', 'status'],
  ['gateway', 'leases'],
  ['client', 'name'],
  ['host', 'neighbours'],
  ['edge', 'status'],
  ['host', 'drop-log'],
  ['gateway', 'counters'],
];

/** What else shows the same, where the first cannot be had. */
const INSTEAD: readonly (readonly [Ask, Ask])[] = [
  [
    ['gateway', 'status'],
    ['gateway', 'addresses'],
  ],
  [
    ['gateway', 'forwards'],
    ['gateway', 'rules'],
  ],
  [
    ['edge', 'seen-address'],
    ['edge', 'status'],
  ],
];

/** Routes show the address that a machine sends from as well as its way out, where its system prints it. */
function addressBy(addresses: Check, facts: CaseFacts): Check[] {
  const { stop } = addresses;
  const hasRoutes = facts.files.some((f) => f.stop === stop && f.facts.some((x) => x.kind === 'route'));
  const isDeclined = facts.document.declined?.includes(`${stop}/routes`) ?? false;
  return hasRoutes || isDeclined || systemAt(facts, stop) === 'macos'
    ? [addresses]
    : [{ ...addresses, id: `${stop}/routes`, yields: 'routes' }, addresses];
}

/** At the server what tells most for its minutes comes first; all else as it comes. */
function byGain(wanted: readonly Check[], facts: CaseFacts, names: StopNames): NextCheck[] {
  const candidates = candidatesOf(facts);
  const list = wanted.map((c) => ({ own: c, check: nextCheck(c, facts, names) }));
  const isServer = ({ own }: (typeof list)[number]): boolean => turnOf(own, facts) === 'the server';
  const worth = ({ own, check }: (typeof list)[number]): number =>
    gainOfListing(candidates, own.stop, own.yields) / check.minutes;
  const at = list.findIndex(isServer);
  const rest = list.filter((c) => !isServer(c));
  const before = at < 0 ? rest.length : at;
  const server = list.filter(isServer).sort((a, b) => worth(b) - worth(a));
  return [...rest.slice(0, before), ...server, ...rest.slice(before)].map(({ check }) => check);
}

/** What comes and goes is shown by what keeps an account of time. */
const SOMETIMES: readonly Ask[] = [
  ['carrier', 'status'],
  ['gateway', 'mappings'],
  ['gateway', 'sessions'],
];

/**
 * The checks as they settle most: tries and records stand behind what the crossing needs.
 * @param isLikely one fault is likely already: what only tells other suspects apart is not asked
 */
export function nextChecks(
  wanted: readonly Check[],
  facts: CaseFacts,
  names: StopNames,
  isLikely = false,
): NextCheck[] {
  const open = new Open(facts, names);
  const instead = INSTEAD.flatMap(([[role, yields], other]) => {
    const stop = open.first(role);
    return stop !== undefined && open.isDeclined(stop, yields) ? open.listings([other]) : [];
  });
  const checks = byGain(
    wanted.flatMap((c) => (turnOf(c, facts) === 'its address' ? addressBy(c, facts) : [c])),
    facts,
    names,
  );
  if (isLikely) return once([...checks, ...instead]);
  const from = parseAddress(facts.document.client?.address ?? '');
  const tries = open.tries(from !== null && !isReachable(from) ? TRIES_INSIDE : TRIES);
  const passing = facts.document.client?.symptom === 'sometimes' ? open.listings(SOMETIMES) : [];
  const all = [...checks.slice(0, 1), ...instead, ...passing, ...tries.slice(0, 1), ...checks.slice(1)];
  return once([...all, ...tries.slice(1), ...unreached(open, facts), ...open.listings(RECORDS)]);
}

/** Nothing could be had from the server itself: whether its network finds it is known to its router. */
function unreached(open: Open, { document: { path } }: CaseFacts): NextCheck[] {
  const host = open.first('host');
  const inner = path.filter((s) => s.role === 'gateway').pop()?.id;
  const isSilent = host !== undefined && [...OF_SERVER].every((yields) => open.isDeclined(host, yields));
  return isSilent && inner !== undefined ? open.listing(inner, 'neighbours') : [];
}

/** What is wrong with the server was found first: what leads to it is asked for all the same. */
export const outerChecks = (wanted: readonly Check[], facts: CaseFacts, names: StopNames): NextCheck[] =>
  wanted.filter((c) => BEFORE.has(turnOf(c, facts))).map((c) => nextCheck(c, facts, names));

const BEFORE: ReadonlySet<Turn> = new Set(['the entry', 'its address', 'the way', 'the name']);

/** What may end the packet before it comes to the place of the known fault, and can be asked for. */
export function beforeChecks(
  facts: CaseFacts,
  names: StopNames,
  needs: Trace['needs'],
  at: string,
): NextCheck[] {
  const open = new Open(facts, names);
  const { path } = facts.document;
  const isBefore = (stop: string): boolean =>
    path.findIndex((s) => s.id === stop) < path.findIndex((s) => s.id === at);
  return once(
    needs.flatMap(({ settle }) =>
      settle && isBefore(settle.stop) ? open.listing(settle.stop, settle.yields) : [],
    ),
  );
}

/**
 * Whether the known fault is the only one: what tells of the server behind it. Empty where that is settled:
 * everything that it could be asked was.
 * @param isOpen what its listings show leaves open whether it takes the packet
 */
export function restChecks(facts: CaseFacts, names: StopNames, isOpen: boolean): NextCheck[] {
  const open = new Open(facts, names);
  const host = open.first('host');
  if (host === undefined) return [];
  const isShown = (aspects: readonly Coverage[]): boolean =>
    facts.files.some((f) => f.stop === host && aspects.some((a) => f.covers.includes(a)));
  const near = facts.document.observations?.findLast((o) => o.vantage === 'lan')?.outcome;
  // What is answered beside it listens; what is not may be where nobody looked for it.
  const asks: readonly AskKind[] = [
    ...BEHIND.filter(
      ([yields, aspects]) => !isShown(aspects) && !(near === 'answered' && yields === 'sockets'),
    ).map(([yields]) => yields),
    ...(near === 'lost' || near === 'refused' ? (['addresses'] as const) : []),
  ];
  // Where a listing cannot be had, or leaves it open, a try from beside the server tells the rest.
  const isDeclined = BEHIND.some(([yields]) => yields !== 'routes' && open.isDeclined(host, yields));
  const tries = (isDeclined || isOpen) && open.first('gateway') !== undefined ? open.tries([FROM_LAN]) : [];
  return [...asks.flatMap((yields) => open.listing(host, yields)), ...tries];
}

/** What shows the server behind a fault before it, and the aspects of a listing that show it. */
const BEHIND: readonly (readonly [AskKind, readonly Coverage[]])[] = [
  ['rules', ['rules4', 'rules6']],
  ['sockets', ['sockets-tcp', 'sockets-udp']],
  ['routes', ['routes4', 'routes6']],
];
