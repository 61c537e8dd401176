import { parseAddress } from '../../net/index.ts';
import type { Problem, ProblemReason } from '../../facts/index.ts';
import { clockText } from '../../traffic/index.ts';
import { csvCells } from '../csv.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import type { Line } from '../text.ts';
import { Tries } from './tries.ts';

type Part = 'from' | 'to' | 'fromPort' | 'port' | 'protocol' | 'action' | 'when' | 'count' | 'direction';

/** What a column is called, in whatever spelling: small letters and digits alone. */
const NAMES: readonly (readonly [Part, RegExp])[] = [
  ['fromPort', /^(?:src|source|client|remote)p(?:o)?rt$|^sport$/],
  ['port', /^(?:dst|dest|destination|server|local)p(?:o)?rt$|^dport$/],
  ['from', /^(?:src|source|client)(?:addr|address|ip|ipaddress)?$|^saddr$/],
  ['to', /^(?:dst|dest|destination|server)(?:addr|address|ip|ipaddress)?$|^daddr$/],
  ['protocol', /^(?:ip)?proto(?:col)?(?:number|name)?$/],
  ['action', /^(?:action|decision|disposition|verdict|rule action|result)$/],
  ['when', /^(?:start|starttime|time|timestamp|date|begin|eventtime)$/],
  ['count', /^(?:packets|packetcount|pkts|packetssent)$/],
  ['direction', /^(?:direction|flowdirection|dir)$/],
];
const NEEDED: readonly Part[] = ['from', 'to', 'fromPort', 'port', 'protocol', 'action'];
/** A table of rules has the columns of a log; only a log says when, or how many. */
const OF_A_LOG: readonly Part[] = ['when', 'count'];

const isOfLog = (has: (part: Part) => boolean): boolean => NEEDED.every(has) && OF_A_LOG.some(has);

const ACTION =
  /^(?:accept|accepted|allow|allowed|permit|pass|reject|rejected|drop|dropped|deny|denied|block|blocked)$/i;
const PROTOCOLS: Readonly<Record<string, string>> = { '1': 'icmp', '6': 'tcp', '17': 'udp', '58': 'icmpv6' };
const OUT = /^(?:egress|out|outbound|outgoing|o)$/i;

const partOf = (name: string): Part | null => {
  const plain = name.toLowerCase().replaceAll(/[^a-z\d]/g, '');
  return NAMES.find(([, pattern]) => pattern.test(plain))?.[0] ?? null;
};

type Row = ReadonlyMap<Part, string>;

/** An object of JSON, also with its parts one level down. */
function jsonRow(text: string): Row | null {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return null;
  }
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return null;
  const out = new Map<Part, string>();
  const take = (object: object, depth: number): void => {
    for (const [name, v] of Object.entries(object)) {
      const part = partOf(name);
      if (typeof v === 'object' && v !== null && depth < 2) take(v as object, depth + 1);
      else if (part && !out.has(part) && (typeof v === 'string' || typeof v === 'number'))
        out.set(part, `${v}`);
    }
  };
  take(value, 0);
  return out;
}

const cellsOf = (text: string, delimiter: string): string[] =>
  delimiter === ' ' ? text.trim().split(/\s+/) : csvCells(text, delimiter).map((c) => c.text);

/** The delimiter of a heading that names all that is needed; null: this line is none. */
function headingOf(text: string): { readonly delimiter: string; readonly parts: (Part | null)[] } | null {
  for (const delimiter of [',', '\t', ';', ' ']) {
    const parts = cellsOf(text, delimiter).map(partOf);
    if (isOfLog((p) => parts.includes(p))) return { delimiter, parts };
  }
  return null;
}

/** Rows by the names of their columns, or of their members; null where the text is no flow log. */
function rowsOf(lines: readonly Line[]): { readonly line: Line; readonly row: Row | null }[] | null {
  const [first] = lines;
  if (!first) return null;
  if (first.text.trimStart().startsWith('{')) {
    const rows = lines.map((line) => ({ line, row: jsonRow(line.text) }));
    const [one] = rows;
    return one?.row && isOfLog((p) => one.row?.has(p) === true) ? rows : null;
  }
  const heading = headingOf(first.text);
  if (!heading) return null;
  return lines.slice(1).map((line) => {
    const cells = cellsOf(line.text, heading.delimiter);
    if (cells.length !== heading.parts.length) return { line, row: null };
    const row = new Map<Part, string>();
    heading.parts.forEach((part, i) => {
      if (part && !row.has(part)) row.set(part, cells[i] ?? '');
    });
    return { line, row };
  });
}

const portOf = (text: string | undefined): number | null | 'none' => {
  if (text === undefined || text === '' || text === '-') return null;
  const port = Number(text);
  return Number.isInteger(port) && port >= 0 && port <= 65535 ? port : 'none';
};

/** Seconds or milliseconds since 1970, or as it is written. */
function whenOf(text: string | undefined): string | null {
  if (!text || text === '-') return null;
  if (!/^\d{9,13}$/.test(text)) return text;
  const ms = Number(text) * (text.length > 10 ? 1 : 1000);
  return clockText(ms / 1000);
}

/**
 * Flow logs of rented machines, as CSV, with blanks between, or as a JSON object a line: columns and members
 * by their names, and each value looked at before it counts.
 */
export const flowLog: Reader = {
  format: 'flow-log',
  title: 'a flow log',
  recognise(text) {
    const rows = rowsOf(written(text.slice(0, 20_000)).slice(0, 20));
    // The last of the lines looked at may be cut.
    const [one] = rows ?? [];
    return one?.row && ACTION.test(one.row.get('action') ?? '') ? 0.97 : 0;
  },
  read(text) {
    const tries = new Tries();
    const problems: Problem[] = [];
    for (const { line, row } of rowsOf(written(text)) ?? []) {
      const why = row ? add(tries, line, row) : 'no-flow-row';
      if (why) problems.push(problemAt(line, why));
    }
    return {
      format: 'flow-log',
      facts: tries.facts(),
      problems: [...problems, ...tries.problems()],
      covers: [],
    };
  },
};

/** @returns what is wrong with the row; null: nothing */
function add(tries: Tries, line: Line, row: Row): ProblemReason | null {
  const [from, to] = [row.get('from') ?? '', row.get('to') ?? ''];
  // A row without addresses says that nothing, or not everything, was recorded.
  if (from === '-' && to === '-') return null;
  if (!parseAddress(from) || !parseAddress(to)) return 'log-address';
  const [fromPort, port] = [portOf(row.get('fromPort')), portOf(row.get('port'))];
  if (fromPort === 'none' || port === 'none') return 'log-port';
  const action = row.get('action') ?? '';
  if (!ACTION.test(action)) return { is: 'no-action', word: action.slice(0, 40) };
  const word = (row.get('protocol') ?? '').toLowerCase();
  const protocol = PROTOCOLS[word] ?? word;
  const hasPorts = protocol === 'tcp' || protocol === 'udp';
  const count = Number(row.get('count') ?? 1);
  tries.add({
    line: line.number,
    protocol,
    from,
    fromPort: hasPorts ? fromPort : null,
    to,
    port: hasPorts ? port : null,
    action,
    when: whenOf(row.get('when')),
    isOutward: OUT.test(row.get('direction') ?? ''),
    count: Number.isInteger(count) && count > 0 ? count : 1,
  });
  return null;
}
