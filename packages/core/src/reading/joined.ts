import type { Fact, Problem, Reading, ReadPart } from '../facts/index.ts';
import { nth } from '../place/index.ts';
import { withPlaces } from './rejoin.ts';

/** One output of a paste: where it begins in it, and what was read of it; null: no reader knows it. */
interface ReadStretch {
  /** 1-based line in the whole paste. */
  readonly from: number;
  readonly text: string;
  readonly reading: Reading | null;
}

/** One reading of several outputs; every fact keeps its line in the whole paste. */
export function joined(read: readonly ReadStretch[]): Reading {
  const whole = read.flatMap(({ reading, from }) => (reading ? [{ reading, from }] : []));
  const facts = whole.flatMap((p) => p.reading.facts.map((f) => movedFact(f, p.from - 1)));
  const problems = read.flatMap((p): Problem[] =>
    p.reading
      ? p.reading.problems.map((x) => ({ ...x, line: x.line + p.from - 1 }))
      : [
          {
            line: p.from,
            text: nth(p.text.trim().split('\n'), 0).slice(0, 200),
            why: 'no-reader-part',
          },
        ],
  );
  const parted = whole.map((p) => ({
    format: p.reading.format,
    line: p.from,
    facts: p.reading.facts.map((f) => movedFact(f, p.from - 1)),
    covers: p.reading.covers,
    ...(p.reading.gaps ? { gaps: p.reading.gaps } : {}),
    ...(p.reading.command === undefined ? {} : { command: p.reading.command }),
  }));
  const formats = new Set(parted.map((p) => p.format));
  return {
    format: formats.size === 1 && parted.length === 1 ? nth(parted, 0).format : 'several',
    facts,
    problems,
    covers: [...new Set(whole.flatMap((p) => p.reading.covers))],
    ...(parted.length > 1 ? { parts: parted } : onlyOf(parted[0])),
  };
}

/** How the one output of a paste came about. */
const onlyOf = (part: ReadPart | undefined): Pick<Reading, 'gaps' | 'command'> => ({
  ...(part?.gaps ? { gaps: part.gaps } : {}),
  ...(part?.command === undefined ? {} : { command: part.command }),
});

/** A fact whose places count from the beginning of the whole paste. */
const movedFact = (fact: Fact, by: number): Fact =>
  by === 0 ? fact : withPlaces(fact, (at) => ({ ...at, line: at.line + by }));
