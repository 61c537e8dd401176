import {
  ADDRESS_LENGTH,
  addressSet,
  formatAddress,
  parsePrefix,
  prefixOf,
  type Address,
  type Prefix,
} from '../../net/index.ts';
import { CT_STATE, CT_STATUS, type Program, type Step, type Doubt } from '../../rules/index.ts';
import {
  accept,
  addresses,
  addressMatch,
  addressOf,
  base,
  bits,
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
  single,
  type RuleParts,
} from '../build.ts';
import type { DeviceInterface } from '../line.ts';
import type { AskedMapping } from './settings.ts';
import { type ForwardRow, rowText } from './row.ts';
import { type ForwardManner, type BoxLines } from './manner.ts';
import { type Live, clashes } from './clashes.ts';

const WHERE = 'forward table';
const ANSWERS = match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related));
const FORWARDED = match({ of: 'ct-status' }, bits(CT_STATUS.dnat));
const LOCAL = match({ of: 'address-type', side: 'destination', only: null }, one(2));

/**
 * A simple router as a rule program: from outside only what a live row forwards gets in, everything else from
 * outside ends in silence, unless an exposed host or the router's own page takes it; inside machines get out
 * behind the address of the line that they leave by. What differs from device to device and is not known
 * (hairpin, clashes, answers by which line) stays open.
 * @throws SettingsError for a value of `manner` that cannot be read
 */
export function compileForwardTable(
  rows: readonly ForwardRow[],
  lines: BoxLines,
  manner: ForwardManner = {},
): Program {
  const live = [
    ...clashes(liveRows(rows), manner.clash),
    ...(manner.mappings ?? []).flatMap((m, i) => liveMapping(m, i + 1, manner.at)),
  ];
  const inside = match({ of: 'in' }, names(lines.lan));
  const several = lines.wan.length > 1;
  const exposed = manner.exposedHost
    ? [exposedRule(addressOf(manner.exposedHost, `${WHERE}: exposed host`), lines, manner.ownPorts)]
    : [];
  return programOf([
    ...(several
      ? [base('prerouting', 'filter', 'accept', 'lines', remember(lines, manner.answersBy), -150)]
      : []),
    base('prerouting', 'nat', 'accept', 'forwards', [
      ...live.flatMap((l) => forwardRules(l, lines, manner.hairpin)),
      ...(manner.further ? [furtherRows(manner.further, lines)] : []),
      ...exposed,
    ]),
    base('input', 'filter', 'drop', 'router itself', [
      rule('answers', ANSWERS, accept),
      rule('from inside', inside, accept),
      ...(manner.ownPorts ?? []).map((o) =>
        rule(
          `answers on ${o.protocol} ${o.ports} itself`,
          ...protocolMatch(o.protocol),
          match({ of: 'dport', protocol: null }, portNumbers(portsOf(o.ports, `${WHERE}: own ports`) ?? [])),
          accept,
        ),
      ),
    ]),
    base('forward', 'filter', 'drop', 'passing', [
      rule('answers', ANSWERS, accept),
      rule('what a row forwards', FORWARDED, accept),
      rule('from inside', inside, accept),
    ]),
    base('postrouting', 'nat', 'accept', 'outward', [
      rule('inside machines leave behind the address of the line', match({ of: 'out' }, names(lines.wan)), {
        do: 'masquerade',
        ports: null,
      }),
      rule('turned-round connections', inside, FORWARDED, { do: 'masquerade', ports: null }),
    ]),
    ...(several
      ? [base('postrouting', 'filter', 'accept', 'carriers', sourceFilters(manner.interfaces ?? []), 300)]
      : []),
  ]);
}

const liveRows = (rows: readonly ForwardRow[]): Live[] =>
  rows.flatMap((row, i) =>
    row.enabled && row.applied !== false
      ? [
          {
            row,
            text: `row ${i + 1}${row.name ? ` (${row.name})` : ''}: ${rowText(row)} to the inside`,
            doubts: row.doubts,
          },
        ]
      : [],
  );

/**
 * RFC 6887 §15: a mapping lives until its lifetime ends; without the time of the look it is not known which
 * side of it this is.
 */
function liveMapping(m: AskedMapping, number: number, at: string | undefined): Live[] {
  const until = m.until === undefined ? null : Date.parse(m.until);
  const now = at === undefined ? NaN : Date.parse(at);
  if (until !== null && !Number.isNaN(now) && until <= now) return [];
  const doubts: Doubt[] =
    until !== null && (Number.isNaN(now) || Number.isNaN(until))
      ? [{ doubt: 'mapping-there', protocol: m.protocol, port: m.port, until: m.until! }]
      : [];
  const row: ForwardRow = {
    name: '',
    protocol: m.protocol,
    outside: { first: m.port, last: m.port },
    insideAddress: addressOf(m.to, `${WHERE}: mapping ${number}`),
    insideFirst: m.toPort ?? m.port,
    enabled: true,
    applied: true,
    sources: null,
    doubts: [],
    source: null,
  };
  return [{ row, text: `${m.protocol} ${m.port} to ${m.to}, asked for${m.by ? ` by ${m.by}` : ''}`, doubts }];
}

function forwardRules(
  { row, text, doubts }: Live,
  lines: BoxLines,
  hairpin: boolean | undefined,
): RuleParts[] {
  const conditions: Step[] = [
    ...protocolMatch(row.protocol),
    match(
      { of: 'dport', protocol: null },
      portNumbers([{ first: row.outside.first, last: row.outside.last }]),
    ),
    ...addressMatch('source', row.sources === null ? null : addressSet(...row.sources)),
    ...(row.outsideAddress
      ? addressMatch(
          'destination',
          addressSet(prefixOf(row.outsideAddress, ADDRESS_LENGTH[row.outsideAddress.family])),
        )
      : []),
    ...doubts.map(doubt),
  ];
  const target = targetOf(row);
  const round = hairpin ? [] : [doubt({ doubt: 'hairpin' })];
  return [
    {
      text,
      source: row.source,
      steps: [
        match({ of: 'in' }, names(row.line === undefined ? lines.wan : [row.line])),
        ...conditions,
        target,
      ],
    },
    ...(hairpin === false
      ? []
      : [
          {
            text,
            source: row.source,
            steps: [match({ of: 'in' }, names(lines.lan)), LOCAL, ...conditions, ...round, target],
          },
        ]),
  ];
}

/** Where it is open what a row sends to, nobody knows what becomes of the packet. */
function targetOf({ insideAddress, insideFirst, outside, unsure }: ForwardRow): Step {
  if (unsure || !insideAddress)
    return {
      do: 'unmodelled-action',
      doubt: unsure ?? { doubt: 'not-shown', fields: ['addresses'] },
    };
  return {
    do: 'translate',
    side: 'destination',
    family: insideAddress.family,
    target: {
      addresses: single(insideAddress),
      ports: { first: insideFirst, last: insideFirst + outside.last - outside.first, base: outside.first },
    },
  };
}

/** The table is perhaps not whole: what no row of it takes may be taken by one that nobody has seen. */
const furtherRows = (why: Doubt, lines: BoxLines): RuleParts =>
  rule('further rows', match({ of: 'in' }, names(lines.wan)), { do: 'unmodelled-action', doubt: why });

/** Everything that no row took; what the router answers itself stays with it. */
function exposedRule(to: Address, lines: BoxLines, own: ForwardManner['ownPorts']): RuleParts {
  const kept = (own ?? []).map((o): Step => ({
    do: 'match',
    fields: [{ of: 'protocol' }, { of: 'dport', protocol: null }],
    rows: [[one(o.protocol === 'tcp' ? 6 : 17), portNumbers(portsOf(o.ports, WHERE) ?? [])]],
    negate: true,
  }));
  return rule(`exposed host ${formatAddress(to)}`, match({ of: 'in' }, names(lines.wan)), ...kept, {
    do: 'translate',
    side: 'destination',
    family: to.family,
    target: { addresses: single(to), ports: null },
  });
}

/**
 * Sessions remember the line that they came in on, and answers are routed by it; where that is not known,
 * both ways are gone.
 */
function remember({ wan, lan }: BoxLines, answers: ForwardManner['answersBy']): RuleParts[] {
  if (answers === 'default-line') return [];
  const unknown = answers === undefined ? [doubt({ doubt: 'answering-line' })] : [];
  return [
    ...wan.map((name, i) =>
      rule(`came in by ${name}`, match({ of: 'in' }, names([name])), {
        do: 'set-mark',
        on: 'ct-mark',
        from: 'ct-mark',
        keep: 0,
        flip: i + 1,
      }),
    ),
    rule(
      'the answer takes the line of the question',
      match({ of: 'in' }, names(lan)),
      match({ of: 'ct-direction' }, one(1)),
      ...unknown,
      { do: 'set-mark', on: 'mark', from: 'ct-mark', keep: 0xff, flip: 0 },
    ),
  ];
}

/** A carrier may drop what leaves by its line with the address of another line (BCP 38, RFC 2827). */
function sourceFilters(lines: readonly DeviceInterface[]): RuleParts[] {
  return lines
    .filter((d) => d.side === 'outside' && d.filtersSources !== false)
    .map((d) => {
      const own = addressSet(
        ...(d.addresses ?? [])
          .map((text) => addressOf(text.split('/')[0]!, WHERE))
          .map((a) => prefixOf(a, a.family === 4 ? 32 : 128)),
      );
      const asked =
        d.filtersSources === undefined ? [doubt({ doubt: 'address-of-other-line', line: d.name })] : [];
      return rule(
        `the carrier of ${d.name} takes its own addresses only`,
        match({ of: 'out' }, names([d.name])),
        match({ of: 'source', family: 4 }, addresses(own), true),
        ...asked,
        drop,
      );
    });
}

/** Prefixes of a row's allowed sources; null where one of them cannot be read. */
export function sourcePrefixes(texts: readonly string[]): Prefix[] | null {
  const parsed = texts.map(parsePrefix);
  return parsed.every((p) => p !== null) ? (parsed as Prefix[]) : null;
}
