import { addressSet, formatAddress, type Address } from '../../net/index.ts';
import { CT_STATE, type Program, type Step, type Doubt } from '../../rules/index.ts';
import {
  accept,
  addressMatch,
  addressOf,
  base,
  bits,
  doubt,
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
import { lineNamed, remember, sourceFilters } from '../lines.ts';
import { type ForwardRow } from './row.ts';
import type { ForwardManner, BoxLines } from './manner.ts';
import { type Live, clashes } from './clashes.ts';
import { claimed, FORWARDED, LOCAL, only, outsideOnly, targetOf, unclaimed, WHERE } from './fields.ts';
import { liveMapping, liveRows } from './live.ts';

const ANSWERS = match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related));

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
      ? [
          base(
            'prerouting',
            'filter',
            'accept',
            'lines',
            remember(lines.wan, lines.lan, manner.answersBy),
            -150,
          ),
        ]
      : []),
    base('prerouting', 'nat', 'accept', 'forwards', [
      ...live.flatMap((l) => forwardRules(l, lines, manner)),
      ...(manner.further ? furtherRows(manner.further, lines, manner) : []),
      ...exposed,
      ...(manner.perhapsExposed ? furtherRows({ doubt: 'exposed-host' }, lines, manner) : []),
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
      ...(manner.ownPortsOpen ? [rule('what the router itself answers', FIREWALL_ANSWERS, accept)] : []),
      ...(manner.perhapsOwn && manner.perhapsOwn.length > 0
        ? [
            rule(
              'what its page says that it answers',
              match({ of: 'dport', protocol: null }, portNumbers(manner.perhapsOwn)),
              FIREWALL_ANSWERS,
              accept,
            ),
          ]
        : []),
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
      ? [
          base(
            'postrouting',
            'filter',
            'accept',
            'carriers',
            sourceFilters(manner.interfaces ?? [], WHERE),
            300,
          ),
        ]
      : []),
  ]);
}

function forwardRules(
  { row, text, doubts, rivals }: Live,
  lines: BoxLines,
  { hairpin, interfaces }: ForwardManner,
): RuleParts[] {
  const line = row.line === undefined ? null : lineNamed(row.line, lines.wan, WHERE);
  const wan = line === null ? lines.wan : [line];
  const conditions: Step[] = [
    ...protocolMatch(row.protocol),
    match(
      { of: 'dport', protocol: null },
      portNumbers([{ first: row.outside.first, last: row.outside.last }]),
    ),
    ...addressMatch('source', row.sources === null ? null : addressSet(...row.sources)),
    ...(row.outsideAddress ? addressMatch('destination', only(row.outsideAddress)) : []),
    ...doubts.map(doubt),
  ];
  const target = targetOf(row);
  const claimedTwice: Doubt = {
    doubt: 'later-row-claims',
    row: row.name,
    to: row.insideAddress && formatAddress(row.insideAddress),
  };
  const round = hairpin ? [] : [doubt({ doubt: 'hairpin' })];
  const from = (steps: readonly Step[]): RuleParts[] => [
    // What a later row claims as well is in dispute; the rest of the row is not.
    ...rivals.map((r) => ({
      text,
      source: row.source,
      steps: [...steps, ...claimed(r), doubt(claimedTwice), target],
    })),
    { text, source: row.source, steps: [...steps, ...rivals.map(unclaimed), target] },
  ];
  return [
    ...from([match({ of: 'in' }, names(wan)), ...conditions]),
    ...(hairpin === false
      ? []
      : from([
          match({ of: 'in' }, names(lines.lan)),
          ...outsideOnly(wan, interfaces),
          LOCAL,
          ...conditions,
          ...round,
        ])),
  ];
}

const FIREWALL_ANSWERS: Step = doubt({ doubt: 'firewall-answers' });

/** The table is perhaps not whole: what no row of it takes may be taken by one that nobody has seen. */
function furtherRows(
  why: Doubt,
  { wan, lan }: BoxLines,
  { hairpin, interfaces }: ForwardManner,
): RuleParts[] {
  const open: Step = { do: 'unmodelled-action', doubt: why };
  return [
    rule('further rows', match({ of: 'in' }, names(wan)), open),
    ...(hairpin === false
      ? []
      : [
          rule('further rows', match({ of: 'in' }, names(lan)), ...outsideOnly(wan, interfaces), LOCAL, open),
        ]),
  ];
}

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
