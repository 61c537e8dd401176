import type { Fact, Problem, Reading } from '../facts/index.ts';
import { nth, type Span } from '../place/index.ts';

/** A text with its cut lines put together, and where each of its characters came from. */
export interface Rejoined {
  readonly text: string;
  /** Lines that lost their indentation were cut for sure, even where each half makes sense by itself. */
  readonly certain: boolean;
  /** The place in the text as it came of a place in the joined one. */
  readonly place: (line: number, column: number) => { readonly line: number; readonly column: number };
}

/** Terminals are at least so wide; the usual widths count at the first cut line, others need a second one. */
const LEAST_WIDTH = 60;
const USUAL_WIDTHS = new Set([80, 100, 120, 132, 160]);
/** Mail programs wrap at a width between these (RFC 5322 §2.1.1 asks for at most 78). */
const LEAST_MAIL = 66;
const WIDEST_MAIL = 100;
/** Longer texts come from files, which nobody wraps. */
const MOST_TEXT = 300_000;

/** The rest of a packet filter's rule, which would be a rule of its own where it stands at the margin. */
const VERDICT =
  /^(?:accept|drop|reject|return|jump|goto|counter|log|comment|dnat|snat|masquerade|redirect)\b/;

/** What ends a rule: behind it nothing of the same rule follows but a comment. */
const FINAL = /\b(?:accept|drop|reject|return|jump|goto|dnat|snat|masquerade|redirect|queue)\b/;

/**
 * Ways to put cut lines together again, likeliest first; none where the text does not look cut.
 * @param strange numbers of lines of which nothing is understood; null: of none anything
 */
export function rejoinings(text: string, strange: ReadonlySet<number> | null): Rejoined[] {
  if (text.length > MOST_TEXT) return [];
  const lines = text.split('\n').map((l) => l.replace(/\r$/, ''));
  const width = lines.reduce((w, l) => Math.max(w, l.length), 0);
  if (width < LEAST_WIDTH || lines.length < 2) return [];
  const atMargin = !lines.some((l) => /^\s+\S/.test(l));
  const next = (i: number): string => (lines[i + 1] ?? '').trimStart();
  // What was wrapped begins at the margin, and one of the halves is not understood; or its line was indented
  // and it is not.
  const lostIndent = (i: number): boolean =>
    indent(nth(lines, i)) > 0 && indent(nth(lines, i + 1)) === 0 && !/^[}\])]/.test(next(i));
  const orphan = (i: number): boolean =>
    atMargin &&
    VERDICT.test(next(i)) &&
    /^table \w+ /m.test(text) &&
    !FINAL.test(nth(lines, i).replace(/"[^"]*"/g, ''));
  // Words that other lines begin with begin rows, not the rest of one.
  const beginnings = repeated(lines.map(firstWord));
  const isCut = (i: number): boolean =>
    next(i) !== '' &&
    nth(lines, i).trim() !== '' &&
    !ROW.test(next(i)) &&
    !beginnings.has(firstWord(next(i))) &&
    (strange === null || strange.has(i + 1) || strange.has(i + 2) || lostIndent(i) || orphan(i));
  const certain = (cuts: readonly number[]): boolean => cuts.every((i) => lostIndent(i) || orphan(i));
  const out: Rejoined[] = [];
  const add = (cut: (i: number) => boolean, glue: string, least: number): void => {
    const cuts = [...lines.keys()].slice(0, -1).filter((i) => cut(i) && isCut(i));
    if (cuts.length >= least) out.push({ ...joined(lines, new Set(cuts), glue), certain: certain(cuts) });
  };
  // A terminal cuts at its last column, in the middle of words.
  add((i) => nth(lines, i).length === width, '', USUAL_WIDTHS.has(width) ? 1 : 2);
  // A mail program cuts at the blank before the word that would not fit.
  if (width <= WIDEST_MAIL)
    add(
      (i) => nth(lines, i).length + 1 + nth(next(i).split(/\s/, 1), 0).length > Math.max(width, LEAST_MAIL),
      ' ',
      1,
    );
  return out;
}

/** How rows of listings begin: what follows is a row of its own, however little is understood of it. */
const ROW = new RegExp(
  String.raw`^(?:(?:tcp|udp|tcp[46]|udp[46]|LISTEN|UNCONN|ESTAB|TCP|UDP|default|broadcast|` +
    String.raw`local)\b|\d{1,4}\s+(?:TCP|UDP)\s)`,
);
const firstWord = (line: string): string => /^\S{2,}(?=\s)/.exec(line.trimStart())?.[0] ?? '';

const repeated = (words: readonly string[]): ReadonlySet<string> =>
  new Set(words.filter((w, i) => w !== '' && /^[a-z]/i.test(w) && words.indexOf(w) !== i));

const indent = (line: string): number => line.length - line.trimStart().length;

function joined(
  lines: readonly string[],
  cuts: ReadonlySet<number>,
  glue: string,
): Omit<Rejoined, 'certain'> {
  const out: { text: string; parts: { from: number; line: number; shift: number }[] }[] = [];
  let open = false;
  lines.forEach((line, i) => {
    const last = out[out.length - 1];
    if (open && last) {
      const added = glue === '' ? line : line.trimStart();
      last.parts.push({
        from: last.text.length + glue.length,
        line: i + 1,
        shift: line.length - added.length,
      });
      last.text += glue + added;
    } else out.push({ text: line, parts: [{ from: 0, line: i + 1, shift: 0 }] });
    open = cuts.has(i);
  });
  return {
    text: out.map((l) => l.text).join('\n'),
    place: (line, column) => {
      const parts = out[line - 1]?.parts ?? [{ from: 0, line, shift: 0 }];
      const part = parts.filter((p) => p.from <= column).pop() ?? nth(parts, 0);
      return { line: part.line, column: column - part.from + part.shift };
    },
  };
}

/** A reading of the joined text with its places in the text as it came. */
export function placedBack(reading: Reading, { place }: Rejoined): Reading {
  const back = (at: Span): Span => {
    const from = place(at.line, at.column ?? 0);
    const to = at.endColumn === undefined ? null : place(at.line, Math.max(at.column ?? 0, at.endColumn - 1));
    return {
      line: from.line,
      ...(at.column === undefined ? {} : { column: from.column }),
      ...(to && to.line === from.line ? { endColumn: to.column + 1 } : {}),
    };
  };
  const problem = (p: Problem): Problem => ({ ...p, line: place(p.line, 0).line });
  return {
    ...reading,
    facts: reading.facts.map((f) => withPlaces(f, back)),
    problems: reading.problems.map(problem),
    ...(reading.parts
      ? {
          parts: reading.parts.map((p) => ({
            ...p,
            line: place(p.line, 0).line,
            facts: p.facts.map((f) => withPlaces(f, back)),
          })),
        }
      : {}),
  };
}

/** A fact with all its places changed. */
export function withPlaces(fact: Fact, change: (at: Span) => Span): Fact {
  const at = change(fact.at);
  if (fact.kind === 'nft')
    return { ...fact, at, objects: fact.objects.map((o) => ({ ...o, at: change(o.at) })) };
  if (fact.kind === 'iptables')
    return {
      ...fact,
      at,
      tables: fact.tables.map((t) => ({
        ...t,
        chains: t.chains.map((c) => ({ ...c, at: change(c.at) })),
        rules: t.rules.map((r) => ({ ...r, at: change(r.at) })),
      })),
    };
  return { ...fact, at };
}
