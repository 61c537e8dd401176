/**
 * Ways to spoil evidence: what owners do to a listing before it comes in. Each leaves something out, alters
 * it, or adds to it in a manner that a person could see; none makes it say something else that is true.
 */
import type { CaseFolder, EvidenceEntry } from '@bright-ferry/core/case';
import { readText } from '@bright-ferry/core/reading';
import { pick, type Random } from './lots.ts';

export interface Piece {
  readonly text: string;
  readonly entry: EvidenceEntry;
}
/** Null where the way does not fit the piece. */
export type Spoil = (piece: Piece, random: Random) => Piece | null;

const linesOf = (text: string): string[] => text.split('\n');
const written = (lines: readonly string[]): number[] => lines.flatMap((l, i) => (l.trim() === '' ? [] : [i]));
const withText = (piece: Piece, text: string): Piece | null =>
  text === piece.text ? null : { ...piece, text };
/** Without what proves that it is all that there is. */
const asPart = (piece: Piece): Piece => {
  const { command: _command, whole: _whole, ...entry } = piece.entry;
  return { ...piece, entry: { ...entry, part: true } };
};

/** Tables with a separator that keeps its cells apart. */
function tableOf(text: string): { readonly rows: string[][]; readonly glue: string } | null {
  for (const glue of ['\t', ';', '|'] as const) {
    const rows = linesOf(text).map((l) => l.split(glue));
    const width = rows[0]?.length ?? 0;
    if (width >= 3 && rows.filter((r) => r.length === width).length >= 2) return { rows, glue };
  }
  return null;
}
const glued = (rows: readonly (readonly string[])[], glue: string): string =>
  rows.map((r) => r.join(glue)).join('\n');

const STATES =
  /\b(yes|no|on|off|enabled|disabled|active|inactive|allow|block|true|false|applied|pending)\b/gi;

const isState = (text: string): boolean =>
  text.trim() !== '' &&
  !/\d/.test(text) &&
  !/^(tcp|udp|both|any|all)$/i.test(text.trim()) &&
  /^\S+$/.test(text.trim());

/**
 * Headings of what many makes do not show: allowed senders, the line that a row is bound to, and a port
 * inside that differs from the one outside.
 */
const UNTOLD = new RegExp(
  String.raw`source|sender|allow|remote|from|wan ip|^line$|` +
    String.raw`(?:internal|inside|local|private|nat|dest\.?) ports?$|^port$`,
  'i',
);
const RANGE_END = /\b(?:end|to|last|bis|ende|fin|au)\b/i;

export const SPOILS: Readonly<Record<string, Spoil>> = {
  'drop the heading': (piece) => {
    const lines = linesOf(piece.text);
    const [first] = written(lines);
    // A line with numbers is a row; without them, a heading.
    if (first === undefined || written(lines).length < 2 || /\d/.test(lines[first] ?? '')) return null;
    return withText(piece, lines.filter((_, i) => i !== first).join('\n'));
  },
  'drop a row, and it is a part': (piece, random) => {
    const lines = linesOf(piece.text);
    const at = pick(written(lines).slice(1), random);
    return at === undefined ? null : withText(asPart(piece), lines.filter((_, i) => i !== at).join('\n'));
  },
  'cut inside a line': (piece, random) => {
    const lines = linesOf(piece.text);
    const at = pick(written(lines).slice(1), random);
    const line = at === undefined ? undefined : lines[at];
    if (at === undefined || line === undefined || line.trim().length < 6) return null;
    const from = line.length - line.trimStart().length;
    const to = from + 1 + Math.floor(random() * (line.trim().length - 2));
    return withText(piece, [...lines.slice(0, at), line.slice(0, to)].join('\n'));
  },
  'cut at column 80': (piece) =>
    withText(
      piece,
      linesOf(piece.text)
        .map((l) => l.slice(0, 80))
        .join('\n'),
    ),
  'wrap at column 80': (piece) =>
    withText(
      piece,
      linesOf(piece.text)
        .flatMap((l) => (l.length > 80 ? (l.match(/.{1,80}/g) ?? [l]) : [l]))
        .join('\n'),
    ),
  'leave lines out, with dots for them': (piece, random) => {
    const lines = linesOf(piece.text);
    const at = pick(written(lines).slice(1), random);
    return at === undefined
      ? null
      : withText(piece, [...lines.slice(0, at), '...', ...lines.slice(at + 1)].join('\n'));
  },
  'search for a word': (piece, random) => {
    if (!piece.entry.command) return null;
    const words = piece.text.match(/\b[\w.]{3,12}\b/g) ?? [];
    const word = pick(words, random);
    if (word === undefined) return null;
    const kept = linesOf(piece.text).filter((l) => l.includes(word));
    const { whole: _whole, ...entry } = piece.entry;
    return {
      text: kept.join('\n'),
      entry: { ...entry, command: `${piece.entry.command} | grep ${word}` },
    };
  },
  'only the first lines': (piece, random) => {
    if (!piece.entry.command) return null;
    const lines = linesOf(piece.text);
    const count = 1 + Math.floor(random() * (lines.length - 1));
    const { whole: _whole, ...entry } = piece.entry;
    return {
      text: lines.slice(0, count).join('\n'),
      entry: { ...entry, command: `${piece.entry.command} | head -${count}` },
    };
  },
  'add an unknown column': (piece) => {
    const table = tableOf(piece.text);
    if (!table) return null;
    const rows = table.rows.map((r, i) => (r.length < 3 ? r : [...r, i === 0 ? 'Zorp' : 'qux']));
    return withText(piece, glued(rows, table.glue));
  },
  'drop a column': (piece, random) => {
    const table = tableOf(piece.text);
    const width = table?.rows[0]?.length ?? 0;
    if (!table || width < 4) return null;
    const at = Math.floor(random() * width);
    // Without its states a table looks like one of a device that has none.
    if (table.rows.slice(1).some((r) => isState(r[at] ?? ''))) return null;
    // Nor is it to be seen that it once told of what pages of other makes do not tell.
    if (piece.entry.columns || UNTOLD.test(table.rows[0]?.[at] ?? '')) return null;
    const rows = table.rows.map((r) => (r.length < 3 ? r : r.filter((_, i) => i !== at)));
    return withText(piece, glued(rows, table.glue));
  },
  'shuffle the columns': (piece, random) => {
    const table = tableOf(piece.text);
    const width = table?.rows[0]?.length ?? 0;
    // Roles that a person gave to columns count by place.
    if (!table || width < 3 || piece.entry.columns) return null;
    const order = Array.from({ length: width }, (_, i) => i);
    for (let i = width - 1; i > 0; i--) {
      const j = Math.floor(random() * (i + 1));
      [order[i], order[j]] = [order[j] ?? i, order[i] ?? j];
    }
    const rows = table.rows.map((r) => (r.length === width ? order.map((i) => r[i] ?? '') : r));
    return withText(piece, glued(rows, table.glue));
  },
  'an empty cell': (piece, random) => {
    const table = tableOf(piece.text);
    const at = table && pick(written(table.rows.map((r) => r.join(''))).slice(1), random);
    if (!table || at === undefined || at === null) return null;
    const width = table.rows[at]?.length ?? 0;
    if (width < 3) return null;
    const column = Math.floor(random() * width);
    // An empty cell for senders means anyone on every page, and one at the end of a range one port.
    const heading = table.rows[0]?.[column] ?? '';
    if (/\/\d/.test(table.rows[at]?.[column] ?? '') || UNTOLD.test(heading) || RANGE_END.test(heading))
      return null;
    const rows = table.rows.map((r, i) => (i === at ? r.map((c, j) => (j === column ? '' : c)) : r));
    return withText(piece, glued(rows, table.glue));
  },
  'an odd cell': (piece, random) => {
    const table = tableOf(piece.text);
    const at = table && pick(written(table.rows.map((r) => r.join(''))).slice(1), random);
    if (!table || at === undefined || at === null) return null;
    if ((table.rows[at]?.length ?? 0) < 3) return null;
    const column = Math.floor(random() * (table.rows[at]?.length ?? 0));
    const rows = table.rows.map((r, i) => (i === at ? r.map((c, j) => (j === column ? 'flurb' : c)) : r));
    return withText(piece, glued(rows, table.glue));
  },
  'an unknown word for a state or an action': (piece, random) => {
    const found = [...piece.text.matchAll(STATES)];
    const one = pick(found, random);
    if (!one) return null;
    return withText(
      piece,
      `${piece.text.slice(0, one.index)}Flurb${piece.text.slice(one.index + one[0].length)}`,
    );
  },
  'an unknown word behind a row': (piece, random) => {
    const lines = linesOf(piece.text);
    const at = pick(written(lines).slice(1), random);
    return at === undefined
      ? null
      : withText(piece, lines.map((l, i) => (i === at ? `${l} flurb` : l)).join('\n'));
  },
  'a letter for a digit': (piece, random) => {
    // Inside numbers only: names are what they are written like.
    const one = pick([...piece.text.matchAll(/(?<![A-Za-z])[01](?![A-Za-z])/g)], random);
    if (!one) return null;
    const letter = one[0] === '0' ? 'O' : 'l';
    return withText(piece, piece.text.slice(0, one.index) + letter + piece.text.slice(one.index + 1));
  },
};

/** A piece that tells how a machine routes, and no more. */
function saysRoutes(folder: CaseFolder, entry: EvidenceEntry): boolean {
  const bytes = folder.files.get(entry.file);
  const covers = bytes ? (readText(new TextDecoder().decode(bytes))?.covers ?? []) : [];
  return covers.length > 0 && covers.every((c) => /^(?:routes|policy)/.test(c));
}

/** Ways to spoil a whole case: true evidence more, or in another order. */
export const MORE: Readonly<Record<string, (folder: CaseFolder, random: Random) => CaseFolder | null>> = {
  'the pieces in another order': (folder) => {
    const entries = folder.document.evidence ?? [];
    return entries.length < 2
      ? null
      : { ...folder, document: { ...folder.document, evidence: [...entries].reverse() } };
  },
  'a piece twice': (folder, random) => {
    const one = pick(folder.document.evidence ?? [], random);
    const bytes = one && folder.files.get(one.file);
    if (!one || !bytes) return null;
    const file = `${one.file}.again`;
    return {
      document: { ...folder.document, evidence: [...(folder.document.evidence ?? []), { ...one, file }] },
      files: new Map([...folder.files, [file, bytes]]),
    };
  },
  'one piece less': (folder, random) => {
    // What a gateway's further pages would say, and how a machine routes without its own word, is taken for
    // granted; a host's addresses, listeners and rules never are.
    const hosts = new Set(
      folder.document.path.filter((s) => s.role === 'host' && !s.settings).map((s) => s.id),
    );
    const one = pick(
      (folder.document.evidence ?? []).filter((e) => hosts.has(e.stop) && !saysRoutes(folder, e)),
      random,
    );
    if (!one) return null;
    const evidence = (folder.document.evidence ?? []).filter((e) => e !== one);
    return {
      document: { ...folder.document, evidence },
      files: new Map([...folder.files].filter(([file]) => file !== one.file)),
    };
  },
};
