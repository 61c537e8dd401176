import { contradictions, staleSince, type CaseFacts, type Contradiction } from '../../ledger/index.ts';
import { formatTitle } from './formats.ts';
import {
  checkWords,
  contradictionWords,
  factText,
  misplacedText,
  problemText,
  type CheckWords,
  type StopNames,
} from '../../words/index.ts';

/** All evidence of a case, and how far it is understood. */
export interface ShelfView {
  readonly pieces: readonly {
    readonly file: string;
    readonly stop: string;
    readonly stopName: string;
    readonly title: string;
    readonly at: string | null;
    readonly typed: boolean;
    readonly facts: number;
    /** Written lines, and those of them that are understood. */
    readonly lines: number;
    readonly understood: number;
    readonly problems: number;
    /** Why it cannot be from there: nothing of it counts until it is moved. */
    readonly misplaced: string | null;
    readonly part: boolean;
    /** The change since which it tells of the time before; null: none. */
    readonly stale: string | null;
  }[];
  readonly contradictions: readonly ContradictionView[];
}

export interface ContradictionView {
  readonly text: string;
  readonly consequence: string;
  /** What to ask for, to settle it. */
  readonly settle: CheckWords;
  readonly sides: readonly {
    readonly value: string;
    readonly source: {
      readonly file: string;
      readonly line: number;
      readonly column?: number;
      readonly endColumn?: number;
    };
    readonly typed: boolean;
  }[];
}

export function shelfView(facts: CaseFacts, names: StopNames): ShelfView {
  return {
    pieces: facts.files.map((f) => ({
      file: f.file,
      stop: f.stop,
      stopName: names(f.stop),
      title: formatTitle(f.format),
      at: f.at,
      typed: f.typed,
      facts: f.facts.length,
      lines: f.lines,
      understood: f.format === null ? 0 : Math.max(0, f.lines - f.problems.length),
      problems: f.problems.length,
      misplaced: f.misplaced ? misplacedText(f.misplaced, f.stop, names) : null,
      part: f.part === true,
      stale: staleSince(f, facts.document)?.title ?? null,
    })),
    contradictions: contradictionViews(facts, names),
  };
}

export const contradictionViews = (facts: CaseFacts, names: StopNames): ContradictionView[] =>
  contradictions(facts).map((c) => contradictionView(c, names));

function contradictionView(c: Contradiction, names: StopNames): ContradictionView {
  const { text, consequence, settle } = contradictionWords(c, names);
  return {
    text,
    consequence,
    settle: checkWords(settle, names(c.stop), c.about === 'name' ? c.of : null),
    sides: c.sides.map((s) => ({ value: s.value, source: s.source, typed: s.typed })),
  };
}

/** One piece of evidence with what was understood in it, place by place. */
export interface ReadingView {
  readonly marks: readonly {
    readonly line: number;
    readonly column: number | null;
    readonly endColumn: number | null;
    readonly label: string;
    readonly value: string;
  }[];
  readonly problems: readonly { readonly line: number; readonly why: string }[];
  /** Why no line of it is understood; null: a reader took it. */
  readonly unread: string | null;
}

/** Marks shown of one piece. */
const MOST_MARKS = 5000;

export function readingView(facts: CaseFacts, file: string): ReadingView {
  const piece = facts.files.find((f) => f.file === file);
  if (!piece) return { marks: [], problems: [], unread: null };
  return {
    marks: piece.facts.slice(0, MOST_MARKS).map((fact) => ({
      line: fact.at.line,
      column: fact.at.column ?? null,
      endColumn: fact.at.endColumn ?? null,
      ...factText(fact),
    })),
    problems: piece.problems.map((p) => ({ line: p.line, why: problemText(p.why) })),
    unread: piece.format === null ? problemText('no-reader') : null,
  };
}
