import { addressSet, parsePrefix, type AddressSet } from '../../net/index.ts';
import {
  CT_STATE,
  type BaseChain,
  type Chain,
  type Doubt,
  type Origin,
  type Program,
  type Step,
} from '../../rules/index.ts';
import type { SourceRef } from '../../place/index.ts';
import {
  accept,
  addresses,
  base,
  bits,
  chain,
  doubt,
  drop,
  match,
  names,
  one,
  portNumbers,
  portsOf,
  programOf,
  protocolMatch,
  rule,
  verdict,
  type RuleParts,
} from '../build.ts';
import type { FrontEndAction, FrontEndListing, FrontEndRow, FrontEndZone } from './settings.ts';

/** AF_INET and AF_INET6, as rules compare them. */
const FAMILY_NUMBER = { 4: 2, 6: 10 } as const;

/**
 * The packet filter that a front end keeps: what belongs to a session passes, then its rows decide in their
 * order, then its default (ufw(8), firewalld.zone(5)). What its listing does not show is open.
 * @param file the listing, to which rules point
 * @param isWhole whether it shows all rows; else one that is missing may decide before those that are there
 */
export function frontEndProgram(listing: FrontEndListing, file: string, isWhole: boolean): Program {
  const { program } = listing;
  const origin = originOf(program, null);
  if (!listing.on)
    return programOf([
      base('input', 'filter', 'accept', `${listing.program}, switched off`, [], 0, origin),
      base('output', 'filter', 'accept', `${listing.program} outward, switched off`, [], 0, origin),
    ]);
  const zones = listing.zones.map((zone) => ({
    zone,
    chain: chain(
      zoneName(listing, zone),
      [...(isWhole ? [] : MISSING), ...rowsOf(zone, 'in', program, file)],
      originOf(program, zone.name),
    ),
  }));
  const [out] = listing.zones;
  const established = rule(
    'answers',
    match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related)),
    accept,
  );
  const own = rule('the machine to itself', match({ of: 'in' }, names(['lo'])), accept);
  return programOf(
    [
      ...sentOn(listing, file),
      base('input', 'filter', 'drop', listing.program, [own, established, ...choices(zones)], 0, origin),
      base(
        'output',
        'filter',
        'accept',
        `${listing.program} outward`,
        [established, ...(out ? rowsOf(out, 'out', program, file) : [])],
        0,
        origin,
      ),
    ],
    zones.map((z) => z.chain),
  );
}

/** Where a zone sends a port on to is not followed. */
function sentOn({ program, zones }: FrontEndListing, file: string): BaseChain[] {
  const rows = zones.flatMap((z) => z.sentOn);
  const rules = rows.map((r): RuleParts => ({
    text: r.text,
    source: at(file, r.line),
    steps: [...conditions(r), { do: 'unmodelled-action', doubt: { doubt: 'translations-listed' } }],
  }));
  const name = `${program} forward-ports`;
  return rows.length === 0
    ? []
    : [base('prerouting', 'filter', 'accept', name, rules, -150, originOf(program, null))];
}

const originOf = (program: FrontEndListing['program'], zone: string | null): Origin =>
  program === 'ufw' ? { program } : { program, zone };

const MISSING: readonly RuleParts[] = [accept, drop].map((then) =>
  rule('(rows that are not listed)', doubt({ doubt: 'rows-perhaps-not-whole' }), then),
);

const zoneName = ({ program }: FrontEndListing, { name }: FrontEndZone): string =>
  name === '' ? `${program} rows` : `${program} zone ${name}`;

/** The zone of a packet is that of its sender, else that of the interface (firewalld.zones(5)). */
function choices(zones: readonly { readonly zone: FrontEndZone; readonly chain: Chain }[]): RuleParts[] {
  const into = (to: Chain): Step => verdict({ verdict: 'goto', chain: to });
  const bySender = zones.flatMap(({ zone, chain: to }) =>
    zone.senders.map((s) => {
      const set = prefixSet(s);
      const where = set ? match({ of: 'source', family: null }, addresses(set)) : notRead('source', s);
      return rule(`zone ${zone.name} for ${s}`, where, into(to));
    }),
  );
  const byDevice = zones.flatMap(({ zone, chain: to }) =>
    zone.devices === null
      ? [rule('every interface', into(to))]
      : [
          rule(
            `zone ${zone.name} on ${zone.devices.join(', ')}`,
            match({ of: 'in' }, names(zone.devices)),
            into(to),
          ),
        ],
  );
  return [
    ...bySender,
    ...byDevice,
    rule('(an interface of a zone that is not listed)', doubt({ doubt: 'rows-not-listed' }), accept),
  ];
}

function rowsOf(
  zone: FrontEndZone,
  direction: 'in' | 'out',
  program: FrontEndListing['program'],
  file: string,
): RuleParts[] {
  const rows = zone.rows.filter((r) => r.direction === direction);
  const rest = direction === 'in' ? zone.rest : zone.outgoing;
  return [
    ...rows.map((r): RuleParts => ({
      text: r.text,
      source: at(file, r.line),
      steps: [...conditions(r), ...thenOf(r.action, program)],
    })),
    ...(rest === null
      ? [rule('(its default)', doubt({ doubt: 'front-end-default' }), drop), rule('(its default)', accept)]
      : [rule(`default: ${rest}`, ...thenOf(rest, program))]),
  ];
}

const at = (file: string, line: number): SourceRef => ({ file, line });

const notRead = (field: 'source' | 'addresses' | 'ports' | 'option', text: string): Step =>
  doubt({ doubt: 'word', field, text } satisfies Doubt);

function prefixSet(text: string): AddressSet | null {
  const prefix = parsePrefix(text);
  return prefix ? addressSet(prefix) : null;
}

function conditions(r: FrontEndRow): Step[] {
  const sided = (text: string | null, side: 'source' | 'destination'): Step[] => {
    if (text === null) return [];
    const set = prefixSet(text);
    return [set ? match({ of: side, family: null }, addresses(set)) : notRead('addresses', text)];
  };
  const ported = (text: string | null, side: 'sport' | 'dport'): Step[] => {
    if (text === null) return [];
    try {
      const set = portsOf(text, r.text);
      return set ? [match({ of: side, protocol: null }, portNumbers(set))] : [];
    } catch {
      return [notRead('ports', text)];
    }
  };
  const inward = r.direction === 'in';
  return [
    ...(r.family === null ? [] : [match({ of: 'family' }, one(FAMILY_NUMBER[r.family]))]),
    ...(r.device === null ? [] : [match({ of: inward ? 'in' : 'out' }, names([r.device]))]),
    ...protocolMatch(r.protocol === 'any' && (r.ports ?? r.senderPorts) !== null ? 'both' : r.protocol),
    ...sided(r.from, inward ? 'source' : 'destination'),
    ...sided(r.to, inward ? 'destination' : 'source'),
    ...ported(r.ports, inward ? 'dport' : 'sport'),
    ...ported(r.senderPorts, inward ? 'sport' : 'dport'),
    ...(r.open === null ? [] : [notRead('option', r.open)]),
  ];
}

/** `ufw` answers refusals with a reset where it can, `firewalld` with “prohibited”. */
function thenOf(action: FrontEndAction, program: FrontEndListing['program']): Step[] {
  switch (action) {
    case 'allow':
      return [accept];
    case 'deny':
      return [drop];
    case 'limit':
      return [{ do: 'chance', doubt: { doubt: 'limit-per-sender' } }, accept];
    case 'reject':
      return [
        verdict({
          verdict: 'reject',
          kind: program === 'firewalld' ? 'admin-prohibited' : 'port-unreachable',
        }),
      ];
  }
}
