import {
  addressComplement,
  addressSet,
  parsePrefix,
  portSet,
  type AddressSet,
  type Interval,
} from '../../net/index.ts';
import { CT_STATE, type Program, type Step, type Doubt, type Origin } from '../../rules/index.ts';
import { nth, type SourceRef } from '../../place/index.ts';
import {
  accept,
  addresses,
  base,
  bits,
  doubt,
  drop,
  match,
  names,
  portNumbers,
  programOf,
  protocolMatch,
  rule,
  verdict,
  type RuleParts,
} from '../build.ts';

/** One line of a listing. */
export interface BsdLine {
  readonly text: string;
  readonly source: SourceRef;
}

interface Parsed {
  readonly quick: boolean;
  readonly direction: 'in' | 'out' | null;
  readonly parts: RuleParts;
}

const NUMBER: Readonly<Record<string, number>> = {
  ssh: 22,
  domain: 53,
  http: 80,
  https: 443,
  smtp: 25,
  ntp: 123,
  postgresql: 5432,
  mysql: 3306,
};
const FAMILY = { inet: 2, inet6: 10 } as const;

const BSD: Origin = { program: 'bsd' };

/**
 * A machine's own rules in the BSD packet filter (pf.conf(5)): the last rule that matches decides, or the
 * first one that says `quick`. So quick rules come first in their order, then the others from the last to the
 * first; what none matches passes. What passed is answered.
 */
export function bsdFilterProgram(lines: readonly BsdLine[], around: BsdSurroundings): Program {
  const application = around.application
    ? [rule('the firewall for programs', doubt({ doubt: 'application-firewall' }), drop)]
    : [];
  if (!around.enabled)
    return programOf(
      application.length > 0 ? [base('input', 'filter', 'accept', 'programs', application, 0, BSD)] : [],
    );
  const rules = lines.map((line) => parsed(line, around.interfaces));
  const side = (direction: 'in' | 'out'): RuleParts[] => {
    const own = rules.filter((r) => r.direction === null || r.direction === direction);
    return [
      rule(
        'answers to what passed',
        match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related)),
        accept,
      ),
      ...own.filter((r) => r.quick).map((r) => r.parts),
      ...own
        .filter((r) => !r.quick)
        .reverse()
        .map((r) => r.parts),
    ];
  };
  return programOf([
    ...(around.translates
      ? [
          base('prerouting', 'nat', 'accept', 'translations', [
            rule('(a translation)', { do: 'unmodelled-action', doubt: { doubt: 'translations-listed' } }),
          ]),
        ]
      : []),
    base('input', 'filter', 'accept', 'rules inward', side('in'), 0, BSD),
    ...(application.length > 0 ? [base('input', 'filter', 'accept', 'programs', application, 1, BSD)] : []),
    base('output', 'filter', 'accept', 'rules outward', side('out'), 0, BSD),
  ]);
}

/** What the rules are held against. */
export interface BsdSurroundings {
  readonly enabled: boolean;
  /** The machine's interfaces; null: not known. A name that is none of them is a group of interfaces. */
  readonly interfaces: readonly string[] | null;
  /** Its translations lead packets elsewhere. */
  readonly translates?: boolean;
  /** A firewall for programs may keep a packet from one of them. */
  readonly application?: boolean;
}

/** Words of a rule; braces and commas stand alone. */
const wordsOf = (text: string): string[] =>
  text
    .replace(/[{},]/g, ' $& ')
    .replace(/"[^"]*"/g, '""')
    .trim()
    .split(/\s+/);

function parsed({ text, source }: BsdLine, interfaces: readonly string[] | null): Parsed {
  const words = wordsOf(text);
  const steps: Step[] = [];
  const doubts: Doubt[] = [];
  let i = 0;
  const take = (): string => words[i++] ?? '';
  const list = (): string[] => {
    if (words[i] === '!') {
      i++;
      return [`!${take()}`];
    }
    if (words[i] !== '{') return [take()];
    const out: string[] = [];
    for (i++; i < words.length && words[i] !== '}'; i++) if (words[i] !== ',') out.push(nth(words, i));
    i++;
    return out;
  };
  const action = take();
  let then: Step = action === 'pass' ? accept : drop;
  let direction: Parsed['direction'] = null;
  let quick = false;
  let refuse = false;
  if (action !== 'pass' && action !== 'block') doubts.push({ doubt: 'word', field: 'action', text: action });
  while (action === 'pass' || action === 'block' ? i < words.length : false) {
    const word = take();
    switch (word) {
      case 'in':
      case 'out':
        direction = word;
        break;
      case 'quick':
        quick = true;
        break;
      case 'log':
        if (words[i]?.startsWith('(')) while (i < words.length && !take().endsWith(')'));
        break;
      case 'drop':
        break;
      case 'return':
      case 'return-rst':
      case 'return-icmp':
        refuse = true;
        if (words[i]?.startsWith('(')) take();
        break;
      case 'on': {
        const on = list();
        if (
          on.some((n) => n.startsWith('!') || n === 'any' || (interfaces !== null && !interfaces.includes(n)))
        )
          doubts.push({ doubt: 'word', field: 'interface', text: on.join(' ') });
        else if (direction === null) doubts.push({ doubt: 'both-directions' });
        else steps.push(match({ of: direction === 'out' ? 'out' : 'in' }, names(on)));
        break;
      }
      case 'inet':
      case 'inet6':
        steps.push({
          do: 'match',
          fields: [{ of: 'family' }],
          rows: [[{ type: 'numbers', set: [{ first: FAMILY[word], last: FAMILY[word] }] }]],
          negate: false,
        });
        break;
      case 'proto': {
        const known = list().map((p) => {
          if (p === '6') return 'tcp';
          return p === '17' ? 'udp' : p;
        });
        if (known.every((p) => p !== 'tcp' && p !== 'udp'))
          steps.push({
            do: 'match',
            fields: [{ of: 'protocol' }],
            rows: [
              [{ type: 'numbers', set: [{ first: 1, last: 1 }] }],
              [{ type: 'numbers', set: [{ first: 58, last: 58 }] }],
            ],
            negate: false,
          });
        else steps.push(...protocolMatch(protocolIn(known)));
        break;
      }
      case 'all':
        break;
      case 'from':
      case 'to': {
        const set = addressesOf(list(), doubts);
        if (set)
          steps.push(match({ of: word === 'from' ? 'source' : 'destination', family: null }, addresses(set)));
        break;
      }
      case 'port': {
        const fromSide = words.slice(0, i - 1).lastIndexOf('from') > words.slice(0, i - 1).lastIndexOf('to');
        if (words[i] === '=') i++;
        const written = list().filter((p) => p !== '=');
        const ranges = written.map(portsOf);
        if (ranges.some((r) => r === null))
          doubts.push({ doubt: 'word', field: 'ports', text: written.join(' ') });
        else
          steps.push(
            match(
              { of: fromSide ? 'sport' : 'dport', protocol: null },
              portNumbers(portSet(...(ranges as Interval<number>[]))),
            ),
          );
        break;
      }
      // A first TCP packet carries SYN alone; anything else would be asked about.
      case 'flags':
        if (!/^(S\/SA|S\/SAFR|any)$/.test(words[i] ?? ''))
          doubts.push({ doubt: 'word', field: 'flags', text: words[i] ?? '' });
        i++;
        break;
      case 'keep':
      case 'modulate':
        if (take() !== 'state') doubts.push({ doubt: 'word', field: 'option', text: word });
        break;
      case 'label':
      case 'ridentifier':
        take();
        break;
      default:
        doubts.push({ doubt: 'word', field: 'option', text: word });
        i = words.length;
    }
  }
  if (refuse && then === drop) {
    then = verdict({ verdict: 'reject', kind: 'port-unreachable' });
    if (direction !== 'out')
      return {
        quick,
        direction,
        parts: { text, source, steps: [...steps, ...doubts.map(doubt), ...refusal(steps)] },
      };
  }
  // A rule of another kind (anchors) may pass, block, or do nothing.
  const last: Step[] = action === 'pass' || action === 'block' ? [then] : [drop];
  return {
    quick: quick || (action !== 'pass' && action !== 'block'),
    direction,
    parts: { text, source, steps: [...steps, ...doubts.map(doubt), ...last] },
  };
}

function protocolIn(words: readonly string[]): 'tcp' | 'udp' | 'both' {
  if (!words.includes('tcp')) return 'udp';
  return words.includes('udp') ? 'both' : 'tcp';
}

/** `return`: a reset for TCP, else “port unreachable”. */
function refusal(steps: readonly Step[]): Step[] {
  const tcp = steps.some(
    (s) =>
      s.do === 'match' &&
      s.fields[0]?.of === 'protocol' &&
      s.rows.length === 1 &&
      JSON.stringify(s.rows[0]).includes('"first":6'),
  );
  return [verdict({ verdict: 'reject', kind: tcp ? 'tcp-reset' : 'port-unreachable' })];
}

function addressesOf(list: readonly string[], doubts: Doubt[]): AddressSet | null {
  if (list.includes('any')) return null;
  const negated = list.length === 1 && nth(list, 0).startsWith('!') ? [nth(list, 0).slice(1)] : null;
  const prefixes = (negated ?? list).map(parsePrefix);
  if (prefixes.some((p) => p === null)) {
    doubts.push({ doubt: 'word', field: 'addresses', text: list.join(' ') });
    return null;
  }
  const set = addressSet(...(prefixes as NonNullable<(typeof prefixes)[number]>[]));
  return negated ? addressComplement(set) : set;
}

function portsOf(text: string): Interval<number> | null {
  const range = /^(\d+)(?::(\d+))?$/.exec(text);
  const first = range ? Number(range[1]) : NUMBER[text];
  return first === undefined ? null : { first, last: range?.[2] ? Number(range[2]) : first };
}
