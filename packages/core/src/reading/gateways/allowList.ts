import { csvCells } from '../csv.ts';
import { parsePrefix } from '../../net/index.ts';
import { open as unknown, saidOr, type Fact, type Problem } from '../../facts/index.ts';
import type { Span } from '../../place/index.ts';
import { parsePlacedJson } from '../json.ts';
import { linesOf } from '../text.ts';
import { lineAt, told } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { SESSION } from '../tables/columns.ts';
import { draft, gather, rowOf, take, type Row } from './allowRow.ts';
import { inSentences, type Group } from './allowSentences.ts';
import { ownAddresses } from './ownAddresses.ts';
import { isStateless, subnetRows, type SubnetRowAt } from './subnetList.ts';

const rowText = ({ protocol, ports, sources }: Row): string =>
  `${saidOr(protocol, 'any')} ${saidOr(ports, null) ?? 'any port'} from ` +
  `${saidOr(sources, []).join(', ') || 'what it names'}`;

interface Found {
  readonly rows: readonly { row: Row; at: Span }[];
  /** A row that refuses, which a list that only adds up cannot have. */
  readonly refuses: boolean;
  readonly passed: number;
  readonly rest: readonly Problem[];
  readonly groups?: readonly Group[];
  readonly subnet?: readonly SubnetRowAt[];
  readonly isJson?: boolean;
}

const shut = (problems: readonly Problem[], found: readonly ReturnType<typeof rowOf>[]): boolean =>
  found.some((f) => f !== null) && problems.length <= found.length;

/** A list of another kind in the same export: whether its rows add up with the others, nothing says. */
const OTHER_LIST = /subnet|network.?(?:list|rules)|acl$|^acl|second/i;

/** What leads on from the outside has a port there; a list of senders has one port. */
const OUTSIDE_PORT = /^(?:ext|external|outside|wan|public)[ _-]?(?:ports?|start)?$/i;
const leadsOn = (value: object): boolean =>
  Object.entries(value).some(([key, v]) => OUTSIDE_PORT.test(key) && /^\d{1,5}$/.test(String(v)));

/**
 * Objects that have ports or a protocol, and sources, are rows; the smallest such objects, wherever they
 * stand.
 */
function inJson(text: string): Found | null {
  const first = text.trimStart()[0];
  if (first !== '{' && first !== '[') return null;
  const placed = parsePlacedJson(text, null);
  if (!placed) return null;
  const rows: { row: Row; at: Span }[] = [];
  let refuses = false;
  let passed = 0;
  const holders = new Set<unknown>();
  let isOfForwards = false;
  let hasOther = false;
  const subnet: SubnetRowAt[] = [];
  const walk = (value: unknown, at: Span, outward: boolean): boolean => {
    if (typeof value !== 'object' || value === null) return false;
    if (Array.isArray(value)) return value.map((v) => walk(v, at, outward)).some(Boolean);
    if (isStateless(value as Record<string, unknown>)) {
      subnet.push(...subnetRows(value as Record<string, unknown>, at));
      return true;
    }
    isOfForwards ||= leadsOn(value);
    const d = draft();
    d.outward = outward;
    gather(d, value as Record<string, unknown>, '');
    // An object around several rows holds the fields of all of them: those inside come first.
    const inner = Object.entries(value).map(([key, v]) => {
      const before = rows.length;
      const isFound = walk(v, at, outward || /egress|outbound|^out$/i.test(key));
      hasOther ||= rows.length > before && OTHER_LIST.test(key);
      return isFound;
    });
    if (inner.some(Boolean)) {
      if (Object.entries(value).some(([key, v]) => /name$|id$/i.test(key) && typeof v === 'string'))
        holders.add(value);
      return true;
    }
    const row = rowOf(d);
    if (row === null) return false;
    if (row === 'passed') passed++;
    else if (d.refuses) refuses = true;
    else rows.push({ row, at });
    return true;
  };
  const top =
    placed.elements.length > 0
      ? placed.elements.map((e) => walk(e.value, e.at, false))
      : [walk(placed.value, { line: 1 }, false)];
  // One such row says what the text is; to leave it out of a list of senders would be a guess.
  return top.some(Boolean) && !isOfForwards
    ? {
        rows:
          holders.size > 1 || hasOther
            ? rows.map((r) => ({ ...r, row: { ...r.row, further: unknown({ doubt: 'which-list' }) } }))
            : rows,
        refuses,
        passed,
        rest: [],
        subnet,
        isJson: true,
      }
    : null;
}

const SEPARATORS = ['\t', ';', ','] as const;

/** Headings of lists of who is or was connected: they have ports and senders as well. */
const CONNECTED = /\b(?:since|connected|duration|sessions?|tunnel|last seen|bytes|packets)\b/i;
const SENDER_PORT = /^(?:source|src|client|remote) ?ports?$/i;

/** Rows of connections: each has its state, or the one port that its sender had. */
function isOfConnections(heading: readonly string[], rows: readonly (readonly string[])[]): boolean {
  if (heading.some((h) => CONNECTED.test(h))) return true;
  if (rows.some((cells) => cells.some((c) => SESSION.test(c)))) return true;
  const at = heading.findIndex((h) => SENDER_PORT.test(h.trim()));
  return at >= 0 && rows.length > 0 && rows.every((cells) => /^\d{1,5}$/.test(cells[at] ?? ''));
}

/** A heading and rows; cells in quotes may hold the separator. */
function inTable(text: string): Found | null {
  const lines = linesOf(text.slice(0, 500_000)).filter((l) => l.text.trim() !== '');
  for (const separator of SEPARATORS) {
    const heading = cellsOf(lines[0]?.text ?? '', separator);
    if (
      heading.length < 3 ||
      !heading.some((h) => /port/i.test(h)) ||
      !heading.some((h) => /source|cidr|range|remote|from|address/i.test(h)) ||
      heading.some((h) => parsePrefix(h))
    )
      continue;
    const rows: { row: Row; at: Span }[] = [];
    const rest: Problem[] = [];
    const all: ReturnType<typeof rowOf>[] = [];
    let refuses = false;
    let passed = 0;
    const cells = lines.slice(1).map((line) => ({ line, own: cellsOf(line.text, separator) }));
    if (
      isOfConnections(
        heading,
        cells.map((c) => c.own),
      )
    )
      return null;
    for (const { line, own } of cells) {
      const d = draft();
      own.forEach((cell, i) => {
        const key = heading[i] ?? '';
        for (const part of /port|source|cidr|range|remote|address/i.test(key)
          ? cell.split(/[,;\s]+/)
          : [cell])
          take(d, key, part);
      });
      const row = own.length <= heading.length ? rowOf(d) : null;
      all.push(row);
      if (row === null)
        rest.push({
          line: line.number,
          text: line.text.trim().slice(0, 200),
          why: 'no-allow-row',
        });
      else if (row === 'passed') passed++;
      else if (d.refuses) refuses = true;
      else rows.push({ row, at: lineAt(line) });
    }
    if (shut(rest, all)) return { rows, refuses, passed, rest };
  }
  return null;
}

const cellsOf = (text: string, separator: string): string[] =>
  csvCells(text, separator).map((cell) => cell.text);

let last: { readonly text: string; readonly found: Found | null } | null = null;
const foundIn = (text: string): Found | null => {
  if (last?.text !== text) last = { text, found: inJson(text) ?? inTable(text) ?? inSentences(text) };
  return last.found;
};

/**
 * What a cloud's perimeter lets in, as JSON or a table of any layout: fields are found by what stands in
 * them.
 */
export const allowList: Reader = {
  format: 'allow-list',
  title: 'an allow list of a cloud’s perimeter',
  most: 0.7,
  recognise: (text) => (/port|source|from/i.test(text.slice(0, 20_000)) && foundIn(text) ? 0.7 : 0),
  read(text) {
    const found = foundIn(text);
    const facts: Fact[] = (found?.rows ?? []).map(({ row, at }): Fact =>
      told('allow-row', at, row, rowText(row)),
    );
    for (const { row, at } of found?.subnet ?? [])
      facts.push(
        told(
          'subnet-row',
          at,
          row,
          `${row.direction} ${row.action} ${saidOr(row.protocol, 'any')} ${row.ports ?? 'any port'}`,
        ),
      );
    for (const { name, members, at } of found?.groups ?? [])
      facts.push(told('named-address', at, { name, members }, `${name}: ${members.join(', ')}`));
    if (found?.isJson) facts.push(...ownAddresses(text));
    if (found?.refuses)
      facts.push(
        told(
          'allow-refuses',
          { line: 1 },
          true,
          'some rows refuse: which row comes first matters, and is not modelled',
        ),
      );
    if (found && found.rows.length === 0)
      facts.push(told('allow-nothing', { line: 1 }, true, 'an allow list that lets nothing in'));
    return { format: 'allow-list', facts, problems: found?.rest ?? [], covers: found ? ['allow-list'] : [] };
  },
};
