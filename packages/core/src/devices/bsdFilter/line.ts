import type { Doubt, Origin, Step } from '../../rules/index.ts';
import { nth, type SourceRef } from '../../place/index.ts';
import {
  parsePrefix,
  type AddressSet,
  addressSet,
  addressComplement,
  type Interval,
  portSet,
} from '../../net/index.ts';
import {
  verdict,
  protocolMatch,
  portNumbers,
  names,
  match,
  drop,
  doubt,
  addresses,
  accept,
  type RuleParts,
} from '../build.ts';

export const NUMBER: Readonly<Record<string, number>> = {
  ssh: 22,
  domain: 53,
  http: 80,
  https: 443,
  smtp: 25,
  ntp: 123,
  postgresql: 5432,
  mysql: 3306,
};

export const FAMILY = { inet: 2, inet6: 10 } as const;

export const BSD: Origin = { program: 'bsd' };

export interface Parsed {
  readonly quick: boolean;
  readonly direction: 'in' | 'out' | null;
  readonly parts: RuleParts;
}

/** Words of a rule; braces and commas stand alone. */
export const wordsOf = (text: string): string[] =>
  text
    .replace(/[{},]/g, ' $& ')
    .replace(/"[^"]*"/g, '""')
    .trim()
    .split(/\s+/);
export function protocolIn(words: readonly string[]): 'tcp' | 'udp' | 'both' {
  if (!words.includes('tcp')) return 'udp';
  return words.includes('udp') ? 'both' : 'tcp';
}

export function addressesOf(list: readonly string[], doubts: Doubt[]): AddressSet | null {
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

export function portsOf(text: string): Interval<number> | null {
  const range = /^(\d+)(?::(\d+))?$/.exec(text);
  const first = range ? Number(range[1]) : NUMBER[text];
  return first === undefined ? null : { first, last: range?.[2] ? Number(range[2]) : first };
}

export function parsed({ text, source }: BsdLine, interfaces: readonly string[] | null): Parsed {
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
  if (refuse && then === drop) then = verdict({ verdict: 'reject', kind: 'by-transport' });
  // A rule of another kind (anchors) may pass, block, or do nothing.
  const last: Step[] = action === 'pass' || action === 'block' ? [then] : [drop];
  return {
    quick: quick || (action !== 'pass' && action !== 'block'),
    direction,
    parts: { text, source, steps: [...steps, ...doubts.map(doubt), ...last] },
  };
}

/** One line of a listing. */

export interface BsdLine {
  readonly text: string;
  readonly source: SourceRef;
}
