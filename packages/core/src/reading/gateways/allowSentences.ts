import { known, open as unknown, type Problem } from '../../facts/index.ts';
import { parsePrefix } from '../../net/index.ts';
import type { Span } from '../../place/index.ts';
import { lineAt, problemAt } from '../noted.ts';
import { linesOf } from '../text.ts';
import { ANYONE, type Row } from './allowRow.ts';

export interface Group {
  readonly name: string;
  readonly members: readonly string[];
  readonly at: Span;
}

interface SentenceRow {
  readonly row: Row;
  readonly at: Span;
}

interface Sentences {
  readonly rows: readonly SentenceRow[];
  readonly refuses: boolean;
  readonly passed: number;
  readonly rest: readonly Problem[];
  readonly groups: readonly Group[];
}

/** A list that only adds up has no such row: which of them comes first matters. */
const REFUSAL = /^(?:[-*•] )?(?:deny|denied|drop|block|reject|refuse)\b/i;

/** `tcp 5432 · source group tide-members`, `allow udp 28410-28415 from 198.51.100.0/24`. */
const LINE = new RegExp(
  String.raw`^(?:[-*•] )?(?:allow |permit )?(tcp|udp|any|all)[ /](\d[\d,-]{0,40}|any|all)` +
    String.raw`(?: [·•|,–-])? (?:from|sources?)(?: (?:is|=|:))? (.+)$`,
  'i',
);
/** `… from WAN to 192.168.50.20` leads on, and lets nobody in by that alone. */
const LEADS_ON = /\bto \d/i;
const GROUP = /^(?:the )?(?:own )?group (\S+)$|^(\S+) \(group\)$/i;
/** `group tide-members: 10.4.0.20, 10.4.0.21` */
const MEMBERS = /^(?:members of )?(?:the )?(?:group )?(\S{1,60}): (.+)$/i;

/** Sentences, one a row; below them perhaps who belongs to a group. */
export function inSentences(text: string): Sentences | null {
  const rows: SentenceRow[] = [];
  const groups: Group[] = [];
  const rest: Problem[] = [];
  let refuses = false;
  let isOfSenders = false;
  const lines = linesOf(text.slice(0, 500_000)).filter((l) => l.text.trim() !== '');
  for (const line of lines) {
    const plain = line.text.replaceAll(/\s+/g, ' ').trim();
    const match = LINE.exec(plain);
    const members = match ? null : MEMBERS.exec(plain);
    const list = (members?.[2] ?? '').split(/[ ,;]+/).filter((t) => t !== '');
    if (REFUSAL.test(plain)) refuses = true;
    else if (match) {
      rows.push({ row: sentenceRow(match), at: lineAt(line) });
      isOfSenders ||= !LEADS_ON.test(match[3] ?? '');
    } else if (members?.[1] !== undefined && list.length > 0 && list.every((t) => parsePrefix(t) !== null))
      groups.push({ name: members[1], members: list, at: lineAt(line) });
    else if (line !== lines[0] || /\d/.test(plain)) rest.push(problemAt(line, 'no-allow-row'));
  }
  return isOfSenders && rest.length <= rows.length ? { rows, refuses, passed: 0, rest, groups } : null;
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
