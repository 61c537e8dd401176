import type { AskKind } from '../../asks/index.ts';
import type { Trace } from '../../crossing/index.ts';
import type { Observation } from '../../case/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { isReachable, parseAddress } from '../../net/index.ts';
import { checkWords, type StopNames } from '../../words/index.ts';
import type { Check } from '../bench/checks.ts';
import { aimOf } from '../bench/packet.ts';
import { candidatesOf, gainOfListing } from './gain.ts';

export interface NextCheck {
  readonly id: string;
  readonly stop: string;
  readonly yields: AskKind;
  /** From where it is tried; null: it is no try. */
  readonly vantage: Observation['vantage'] | null;
  readonly text: string;
  readonly minutes: number;
}

function nextCheck(
  { id, stop, yields }: Pick<Check, 'id' | 'stop' | 'yields'>,
  facts: CaseFacts,
  names: StopNames,
): NextCheck {
  const role = facts.document.path.find((p) => p.id === stop)?.role ?? null;
  const port = facts.document.service?.endpoints?.[0]?.port ?? null;
  const { title, minutes } = checkWords(yields, names(stop), aimOf(facts).name, port, role);
  return { id, stop, yields, vantage: null, text: title, minutes };
}

type Try = readonly [Observation['vantage'], 'client' | 'host', string];

const FROM_LAN: Try = ['lan', 'host', 'A try from another machine beside the server'];

/** Tries that tell apart what listings do not show, by what they cost a lay person. */
const TRIES: readonly Try[] = [
  ['client', 'client', 'A try by the address, from where the client is'],
  ['outside', 'client', 'A try from another network outside'],
  FROM_LAN,
  ['client-by-name', 'client', 'A try by the name, from where the client is'],
];

/** What tells a client inside from one outside. */
const TRIES_INSIDE: readonly Try[] = [
  ['outside', 'client', 'A try from another network outside'],
  ['lan-by-outside-address', 'host', 'A try from a machine inside, by the outside address'],
  FROM_LAN,
];

type Place = 'gateway' | 'host' | 'edge' | 'client' | 'carrier';
type Ask = readonly [Place, AskKind];

/** Records that are worth a look where every listing seems right. */
const RECORDS: readonly Ask[] = [
  ['gateway', 'routes'],
  ['gateway', 'mappings'],
  ['gateway', 'sessions'],
  ['carrier', 'status'],
  ['gateway', 'leases'],
  ['host', 'configuration'],
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

/** What shows whether the server would take it. */
const SERVER: readonly AskKind[] = ['addresses', 'rules', 'sockets', 'routes'];

/** Builds checks that were not asked, tried or declined before. */
class Open {
  readonly #facts: CaseFacts;
  readonly #names: StopNames;
  readonly #given: ReadonlySet<string>;

  constructor(facts: CaseFacts, names: StopNames) {
    this.#facts = facts;
    this.#names = names;
    const { declined = [], observations = [] } = facts.document;
    this.#given = new Set([
      ...declined,
      ...facts.files.flatMap((f) => (f.asked ? [f.asked] : [])),
      ...observations.map((o) => `tried/${o.vantage}`),
    ]);
  }

  first(role: string): string | undefined {
    return this.#facts.document.path.find((s) => s.role === role)?.id;
  }

  isDeclined = (stop: string, yields: AskKind): boolean =>
    this.#facts.document.declined?.includes(`${stop}/${yields}`) ?? false;

  listings(asks: readonly Ask[]): NextCheck[] {
    return asks.flatMap(([role, yields]) => {
      const stop = this.first(role);
      return stop === undefined ? [] : this.listing(stop, yields);
    });
  }

  listing(stop: string, yields: AskKind): NextCheck[] {
    const id = `${stop}/${yields}`;
    return this.#given.has(id) ? [] : [nextCheck({ id, stop, yields }, this.#facts, this.#names)];
  }

  tries(list: readonly Try[]): NextCheck[] {
    return list.flatMap(([vantage, role, text]): NextCheck[] => {
      const stop = this.first(role);
      const id = `${stop}/dial/${vantage}`;
      return stop === undefined || this.#given.has(`tried/${vantage}`) || this.#given.has(id)
        ? []
        : [{ id, stop, yields: 'dial', vantage, text, minutes: 2 }];
    });
  }
}

/** What shows a router's own part of the way. */
const OUTER: ReadonlySet<AskKind> = new Set([
  'configuration',
  'name',
  'dial',
  'status',
  'seen-address',
  'forwards',
  'allow-list',
]);

/** When a check's turn is. */
type Turn = 'the way' | 'its address' | 'the server' | 'the rest';
const TURNS: readonly Turn[] = ['the way', 'its address', 'the server', 'the rest'];

/**
 * What stands on the way first, as it comes, so that the parts agree; of the server its address first, since
 * it tells whether what stands before leads to it; what only makes known addresses surer comes last.
 */
function turnOf({ stop, yields }: Check, host: string | undefined): Turn {
  if (stop !== host) return OUTER.has(yields) ? 'the way' : 'the rest';
  if (yields === 'addresses') return 'its address';
  return SERVER.includes(yields) ? 'the server' : 'the way';
}

/** Checks in their turns; at the server what tells most for its minutes comes first. */
function inTurn(wanted: readonly Check[], facts: CaseFacts, names: StopNames, host: string | undefined) {
  const candidates = candidatesOf(facts);
  return wanted
    .map((c) => {
      const check = nextCheck(c, facts, names);
      const turn = turnOf(c, host);
      const gain = turn === 'the server' ? gainOfListing(candidates, c.stop, c.yields) : 0;
      return { check, turn: TURNS.indexOf(turn), worth: gain / check.minutes };
    })
    .sort((a, b) => a.turn - b.turn || b.worth - a.worth)
    .map(({ check }) => check);
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
  const host = open.first('host');
  const instead = INSTEAD.flatMap(([[role, yields], other]) => {
    const stop = open.first(role);
    return stop !== undefined && open.isDeclined(stop, yields) ? open.listings([other]) : [];
  });
  const checks = inTurn(wanted, facts, names, host);
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
  const isSilent = host !== undefined && SERVER.every((yields) => open.isDeclined(host, yields));
  return isSilent && inner !== undefined ? open.listing(inner, 'neighbours') : [];
}

/** What a try from near the server does not show: whom it lets in from afar, and where its answers leave. */
const FAR: readonly AskKind[] = ['rules', 'routes'];

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
 */
export function restChecks(facts: CaseFacts, names: StopNames): NextCheck[] {
  const open = new Open(facts, names);
  const host = open.first('host');
  if (host === undefined) return [];
  const near = facts.document.observations?.findLast((o) => o.vantage === 'lan');
  if (near?.outcome === 'answered') return FAR.flatMap((yields) => open.listing(host, yields));
  const own = SERVER.filter((yields) => yields !== 'addresses');
  // Where nobody could try from near it, its address alone would tell nothing.
  const asks: readonly AskKind[] = near ? [...own, 'addresses'] : own;
  // A rented machine has no neighbour that somebody could try from.
  const tries = open.first('gateway') === undefined ? [] : open.tries([FROM_LAN]);
  return [...tries, ...asks.flatMap((yields) => open.listing(host, yields))];
}

const once = (checks: readonly NextCheck[]): NextCheck[] =>
  checks.filter((c, i) => checks.findIndex((o) => o.id === c.id) === i);
