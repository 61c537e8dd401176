import { csvCells } from '../csv.ts';
import { parsePortRange, parsePrefix } from '../../net/index.ts';
import {
  known,
  open as unknown,
  saidOr,
  type AllowRowRecord,
  type Fact,
  type Problem,
  type SubnetRowRecord,
} from '../../facts/index.ts';
import type { Span } from '../../place/index.ts';
import { parsePlacedJson } from '../json.ts';
import { linesOf } from '../text.ts';
import { lineAt, problemAt, told } from '../noted.ts';
import type { Reader } from '../reader.ts';

type Row = AllowRowRecord;

const rowText = ({ protocol, ports, sources }: Row): string =>
  `${saidOr(protocol, 'any')} ${saidOr(ports, null) ?? 'any port'} from ${saidOr(sources, []).join(', ') || 'what it names'}`;

const ANYONE = /^(any|anywhere|all|everyone|internet|\*|0\.0\.0\.0\/0|::\/0)$/i;
const ANY_PROTOCOL = /^(any|all|-1|\*)$/i;
const OTHER_PROTOCOL = /^(icmp(v?6)?|icmpv4|esp|ah|gre|sctp|1|47|50|51|58)$/i;
const OUTWARD = /^(out|outbound|egress|outgoing)$/i;
const INWARD = /^(in|inbound|ingress|incoming)$/i;
const REFUSE = /^(deny|denied|drop|block|reject|refuse)$/i;
const PERMIT = /^(allow|allowed|accept|permit|pass)$/i;
/** Fields that tell of a row without changing what it does. */
const REMARK =
  /name|desc|comment|^id$|Id$|_id$|uuid|created|updated|time|owner|region|arn|etag|note|label|version|priority|number|order|ether|family|ip.?version|^type$|kind|link|vpc|network$|revision/i;

/** What a row takes out of what it lets in. */
const EXCEPT = /\b(except|excluding|excluded?|but not|other than|without|ausser|außer|sauf|salvo|not)\b/i;
/** Where a program listens is nobody's source. */
const OWN_SIDE = /listen|bind|local|host|server|public|own|inside|intern|lan\b/i;

/** What is known of a row while its fields are looked at. */
interface Draft {
  names: string[];
  protocols: string[];
  ports: string[];
  ends: { from?: number; to?: number };
  sources: string[];
  outward: boolean;
  inward: boolean;
  refuses: boolean;
  off: boolean;
  strange: string[];
}

const draft = (): Draft => ({
  names: [],
  protocols: [],
  ports: [],
  ends: {},
  sources: [],
  outward: false,
  inward: false,
  refuses: false,
  off: false,
  strange: [],
});

/** Puts one value where it belongs, by what it is and by what its field is called. */
function take(d: Draft, key: string, value: string): void {
  const text = value.trim();
  if (text === '') return;
  if (/^(?:.*\s)?(?:rule|display|group)?[ _-]?(?:name|desc\w*|comment|label|notes?)$/i.test(key)) {
    d.names.push(text);
    return;
  }
  if (EXCEPT.test(key)) {
    d.strange.push(`${key} ${text}`);
    return;
  }
  if (OUTWARD.test(text) || INWARD.test(text)) {
    d[OUTWARD.test(text) ? 'outward' : 'inward'] = true;
    return;
  }
  if (/egress|outbound/i.test(key) && /^(true|false)$/i.test(text)) {
    d.outward ||= /true/i.test(text);
    return;
  }
  if (REFUSE.test(text) || PERMIT.test(text)) {
    d.refuses ||= REFUSE.test(text);
    return;
  }
  if (/stat(e|us)$/i.test(key) && /^(on|active|enabled|in use|applied)$/i.test(text)) return;
  if (/disabled/i.test(key) || /enabled|active/i.test(key)) {
    d.off ||= /disabled/i.test(key) === /^(true|yes|1)$/i.test(text);
    return;
  }
  const proto =
    /^(tcp|udp)$/i.test(text) ||
    (/proto/i.test(key) && (ANY_PROTOCOL.test(text) || OTHER_PROTOCOL.test(text) || /^(6|17)$/.test(text)));
  if (proto) d.protocols.push(text.toLowerCase().replace(/^6$/, 'tcp').replace(/^17$/, 'udp'));
  else if (/port/i.test(key) && /src|source/i.test(key)) {
    if (!ANYONE.test(text) && !/^(0-65535|1-65535)$/.test(text)) d.strange.push(`${key} ${text}`);
  } else if (/port/i.test(key) && /from|start|begin|min|first|low/i.test(key) && /^-?\d+$/.test(text))
    d.ends.from = Number(text);
  else if (
    /port/i.test(key) &&
    /^to|to$|end|max|last|high/i.test(key.split(' ').pop()!) &&
    /^-?\d+$/.test(text)
  )
    d.ends.to = Number(text);
  else if (/port/i.test(key)) d.ports.push(text);
  else if (/dest|dst|target/i.test(key)) {
    if (!ANYONE.test(text)) d.strange.push(`${key} ${text}`);
  } else if ((ANYONE.test(text) || (/[.:]/.test(text) && parsePrefix(text) !== null)) && !OWN_SIDE.test(key))
    d.sources.push(text);
  else if (
    /(?:source|remote|peer|from)[ _-]?(?:security[ _-]?)?group$/i.test(key) &&
    /^[\w.-]{1,80}$/.test(text)
  )
    d.sources.push(`group:${text}`);
  else if (/source|remote|cidr|peer|group|from|range|prefix|address/i.test(key))
    d.strange.push(`${key} ${text}`);
  else if (!REMARK.test(key)) d.strange.push(`${key} ${text}`);
}

/** The row that a draft makes: null where it is none, `passed` where it says nothing about what comes in. */
function rowOf(d: Draft): Row | 'passed' | null {
  if (d.ends.from !== undefined || d.ends.to !== undefined) {
    const first = d.ends.from ?? d.ends.to!;
    const last = d.ends.to ?? first;
    if (first >= 0 && !(first === 0 && (last === 0 || last === 65_535)))
      d.ports.push(first === last ? String(first) : `${first}-${last}`);
    else d.ports.push('any');
  }
  if (d.sources.length === 0 && !d.strange.some((s) => /group|source|remote/i.test(s))) return null;
  if (d.ports.length === 0 && d.protocols.length === 0) return null;
  if (
    (d.outward && !d.inward) ||
    d.off ||
    (d.protocols.length > 0 && d.protocols.every((p) => OTHER_PROTOCOL.test(p)))
  )
    return 'passed';
  const open =
    d.ports.length === 0 || d.ports.some((p) => ANYONE.test(p) || p === '0-65535' || p === '1-65535');
  const readable = d.ports.every((p) => p.split(/[,;]\s*/).every((x) => parsePortRange(x.trim()) !== null));
  const pairs = d.protocols.includes('tcp') && d.protocols.includes('udp') && d.ports.length > 1;
  const protocols = new Set(d.protocols.filter((p) => p === 'tcp' || p === 'udp'));
  const [protocol] = protocols;
  const isOne = protocols.size === 1 && !d.protocols.some((p) => ANY_PROTOCOL.test(p));
  return {
    name: d.names[0] ?? null,
    protocol: pairs
      ? unknown({ doubt: 'ports-of-which-protocol' })
      : protocolField(d, isOne ? protocol : undefined),
    ports: portsField(d, open, readable),
    sources: known(
      d.sources.length === 0
        ? ['any']
        : d.sources.map((s) => (/^(any|anywhere|all|everyone|internet|\*)$/i.test(s) ? 'any' : s)),
    ),
    further:
      d.strange.length > 0
        ? unknown({ doubt: 'word', field: 'option', text: d.strange.join(', ').slice(0, 120) })
        : known(null),
  };
}

/** A list that does not show its protocol leaves it open; `any` has to be said. */
function protocolField(d: Draft, only: string | undefined): Row['protocol'] {
  if (d.protocols.length === 0) return unknown({ doubt: 'not-shown', fields: ['protocol'] });
  return known(only === 'tcp' || only === 'udp' ? only : 'any');
}

function portsField(d: Draft, open: boolean, readable: boolean): Row['ports'] {
  if (open) return known(null);
  if (!readable) return unknown({ doubt: 'word', field: 'ports', text: d.ports.join(', ') });
  return known(d.ports.map((p) => p.replaceAll(';', ',').replace(/\s/g, '')).join(','));
}

interface Found {
  readonly rows: readonly { row: Row; at: Span }[];
  /** A row that refuses, which a list that only adds up cannot have. */
  readonly refuses: boolean;
  readonly passed: number;
  readonly rest: readonly Problem[];
  readonly groups?: readonly Group[];
  readonly subnet?: readonly SubnetRowAt[];
}

/** Who belongs to a group that rows name. */
interface Group {
  readonly name: string;
  readonly members: readonly string[];
  readonly at: Span;
}

const shut = (problems: readonly Problem[], found: readonly ReturnType<typeof rowOf>[]): boolean =>
  found.some((f) => f !== null) && problems.length <= found.length;

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
  const subnet: SubnetRowAt[] = [];
  const walk = (value: unknown, at: Span, outward: boolean): boolean => {
    if (typeof value !== 'object' || value === null) return false;
    if (Array.isArray(value)) return value.map((v) => walk(v, at, outward)).some(Boolean);
    if (isStateless(value as Record<string, unknown>)) {
      subnet.push(...subnetRows(value as Record<string, unknown>, at));
      return true;
    }
    const d = draft();
    d.outward = outward;
    gather(d, value as Record<string, unknown>, '');
    // An object around several rows holds the fields of all of them: those inside come first.
    const inner = Object.entries(value).map(([key, v]) =>
      walk(v, at, outward || /egress|outbound|^out$/i.test(key)),
    );
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
  return top.some(Boolean)
    ? {
        rows:
          holders.size > 1
            ? rows.map((r) => ({ ...r, row: { ...r.row, further: unknown({ doubt: 'which-list' }) } }))
            : rows,
        refuses,
        passed,
        rest: [],
        subnet,
      }
    : null;
}

interface SubnetRowAt {
  readonly row: SubnetRowRecord;
  readonly at: Span;
}

/** A list that sees each packet by itself: answers need rows of their own. */
const isStateless = (value: Record<string, unknown>): boolean =>
  value['stateful'] === false || value['stateless'] === true;

function subnetRows(value: Record<string, unknown>, at: Span): SubnetRowAt[] {
  const listOf = (pattern: RegExp): readonly unknown[] =>
    Object.entries(value).flatMap(([key, v]) =>
      pattern.test(key) && Array.isArray(v) ? (v as unknown[]) : [],
    );
  return [
    ...listOf(/^in$|ingress|inbound/i).map((v) => ({ row: subnetRow(v, 'in'), at })),
    ...listOf(/^out$|egress|outbound/i).map((v) => ({ row: subnetRow(v, 'out'), at })),
  ];
}

function subnetRow(value: unknown, direction: 'in' | 'out'): SubnetRowRecord {
  const d = draft();
  const own = typeof value === 'object' && value !== null ? (value as Record<string, unknown>) : {};
  // Of what goes out the other end is where it goes to.
  const renamed = Object.entries(own).map(([k, v]) => [/^dest/i.test(k) ? 'source' : k, v] as const);
  gather(d, Object.fromEntries(renamed), '');
  const row = rowOf({ ...d, outward: false, inward: true });
  const isKnown = row !== null && row !== 'passed';
  const peers = isKnown ? saidOr(row.sources, null) : null;
  const isOpen = !isKnown || 'open' in row.further || 'open' in row.ports || peers === null;
  const word = { doubt: 'word', field: 'option', text: JSON.stringify(value).slice(0, 120) } as const;
  return {
    direction,
    action: d.refuses ? 'deny' : 'allow',
    protocol: isKnown ? row.protocol : unknown(word),
    ports: isKnown ? saidOr(row.ports, null) : null,
    peers: isOpen ? unknown(word) : known(peers.some((p) => ANYONE.test(p)) ? null : peers),
  };
}

function gather(d: Draft, value: Record<string, unknown>, above: string): void {
  for (const [key, v] of Object.entries(value)) {
    if (/^den(y|ied)/i.test(key)) d.refuses = true;
    for (const each of Array.isArray(v) ? v : [v]) {
      if (typeof each === 'object' && each !== null)
        gather(d, each as Record<string, unknown>, `${above} ${key}`);
      else if (each !== null && each !== undefined)
        take(
          d,
          /port|proto|source|dest|cidr|range/i.test(key) ? key : `${above} ${key}`.trim(),
          String(each),
        );
    }
  }
}

const SEPARATORS = ['\t', ';', ','] as const;

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
    for (const line of lines.slice(1)) {
      const own = cellsOf(line.text, separator);
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
          why: 'not a row of an allow list: its sources or its ports are missing',
        });
      else if (row === 'passed') passed++;
      else if (d.refuses) refuses = true;
      else rows.push({ row, at: lineAt(line) });
    }
    if (shut(rest, all)) return { rows, refuses, passed, rest };
  }
  return null;
}

/** `tcp 5432 · source group tide-members`, `allow udp 28410-28415 from 198.51.100.0/24`. */
const LINE =
  /^(?:[-*•] )?(?:allow |permit )?(tcp|udp|any|all)[ /](\d[\d,-]{0,40}|any|all)(?: [·•|,–-])? (?:from|sources?)(?: (?:is|=|:))? (.+)$/i;
const GROUP = /^(?:the )?(?:own )?group (\S+)$|^(\S+) \(group\)$/i;
/** `group tide-members: 10.4.0.20, 10.4.0.21` */
const MEMBERS = /^(?:members of )?(?:the )?(?:group )?(\S{1,60}): (.+)$/i;

/** Sentences, one a row; below them perhaps who belongs to a group. */
function inSentences(text: string): Found | null {
  const rows: Found['rows'][number][] = [];
  const groups: Group[] = [];
  const rest: Problem[] = [];
  const lines = linesOf(text.slice(0, 500_000)).filter((l) => l.text.trim() !== '');
  for (const line of lines) {
    const plain = line.text.replaceAll(/\s+/g, ' ').trim();
    const match = LINE.exec(plain);
    const members = match ? null : MEMBERS.exec(plain);
    const list = (members?.[2] ?? '').split(/[ ,;]+/).filter((t) => t !== '');
    if (match) rows.push({ row: sentenceRow(match), at: lineAt(line) });
    else if (members?.[1] !== undefined && list.length > 0 && list.every((t) => parsePrefix(t) !== null))
      groups.push({ name: members[1], members: list, at: lineAt(line) });
    else if (line !== lines[0] || /\d/.test(plain))
      rest.push(problemAt(line, 'not a row of an allow list: its sources or its ports are missing'));
  }
  return rows.length > 0 && rest.length <= rows.length
    ? { rows, refuses: false, passed: 0, rest, groups }
    : null;
}

function sentenceRow([, protocol = '', ports = '', source = '']: readonly string[]): Row {
  const only = protocol.toLowerCase();
  const group = GROUP.exec(source);
  const list = source.split(/[ ,;]+|\band\b/i).filter((t) => t !== '');
  const isRead = list.every((t) => ANYONE.test(t) || parsePrefix(t) !== null);
  const name = group?.[1] ?? group?.[2];
  const sources = name === undefined ? list.map((t) => (ANYONE.test(t) ? 'any' : t)) : [`group:${name}`];
  return {
    name: null,
    protocol: known(only === 'tcp' || only === 'udp' ? only : 'any'),
    ports: known(ANYONE.test(ports) ? null : ports),
    sources:
      name !== undefined || isRead
        ? known(sources)
        : unknown({ doubt: 'word', field: 'source', text: source }),
    further: known(null),
  };
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
