import type { Problem, Reading } from '../facts/index.ts';
import { joined } from './joined.ts';
import { nftText } from './linux/nftText/index.ts';
import { lookAlikes } from './lookAlike.ts';
import { READERS } from './readers.ts';
import type { Reader } from './reader.ts';
import { placedBack, rejoinings } from './rejoin.ts';
import { promptHost, saysByNothing, stretchesOf, type Stretch } from './split.ts';
import { thinned } from './thinned.ts';
import { endsStrangely, isCutAtEdge, isPrinted, leavesOut, withGap, withGaps } from './wholeness.ts';

/** Sureness below which a text counts as not recognised. */
const LEAST_SURE = 0.4;
/** Sureness that a stretch of a paste needs to count as an output of its own. */
const SURE_PART = 0.6;
/** Longer pastes are one output: logs and rule sets, which nobody pastes behind each other. */
const LONGEST_SPLIT = 2_000_000;

/** From here on no other reader is asked: its format has a mark that nothing else has. */
const CERTAIN = 0.97;

interface Recognised {
  readonly reader: Reader | null;
  readonly sureness: number;
}

function best(text: string): Recognised {
  let reader: Reader | null = null;
  let sureness = LEAST_SURE;
  const seen = thinned(text);
  for (const candidate of READERS) {
    if ((candidate.most ?? 1) <= sureness) continue;
    const score = guarded(0, () => candidate.recognise(seen));
    if (score > sureness) {
      sureness = score;
      reader = candidate;
    }
    if (sureness >= CERTAIN) break;
  }
  return { reader, sureness };
}

/**
 * Runs what calls itself for each level of nesting; `otherwise` where the levels are more than the stack
 * holds.
 */
function guarded<T>(otherwise: T, work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof RangeError) return otherwise;
    throw error;
  }
}

function readBy(reader: Reader, text: string, command?: string): Reading {
  const why = 'too-deep' as const;
  const refused: Reading = {
    format: reader.format,
    facts: [],
    problems: [{ line: 1, text: text.slice(0, 200), why }],
    covers: [],
  };
  return withGaps(guarded(refused, () => reader.read(text, command)));
}

/** The reader that fits a text best; null where none does. Content decides, never a file's name. */
export const recognise = (text: string): Reader | null => best(text).reader;

/** The text read last: what is pasted is first recognised, then read again as part of its case. */
let last: { readonly text: string; readonly command: string; readonly reading: Reading | null } | null = null;

/**
 * Reads a text with the reader that fits; several outputs in one paste are read each by itself. Null where
 * nothing is understood.
 */
export function readText(text: string, command = ''): Reading | null {
  if (last?.text !== text || last.command !== command)
    last = { text, command, reading: readWhole(text, command) };
  return last.reading;
}

function readWhole(text: string, command: string): Reading | null {
  const plain = readAnew(text, command);
  const host = promptHost(text);
  const seen = withLookAlikes(text, repaired(text, plain, command));
  const reading = seen && host !== null ? { ...seen, promptHost: host } : seen;
  if (reading && endsStrangely(text, plain)) return withGap(reading, 'cut');
  return reading && (leavesOut(text) || (isPrinted(reading) && isCutAtEdge(text)))
    ? withGap(reading, 'cut')
    : reading;
}

/**
 * Lines that a terminal or a mail program cut are put together where that makes sense of more of the text.
 */
function repaired(text: string, reading: Reading | null, command: string): Reading | null {
  let best = reading;
  const isUnread = !reading || reading.facts.length === 0;
  for (const way of rejoinings(text, isUnread ? null : new Set(reading.problems.map((p) => p.line)))) {
    if (!way.certain && best?.problems.length === 0) continue;
    const other = readAnew(way.text, command);
    if (
      other &&
      ((way.certain && other.format === best?.format && other.problems.length <= best.problems.length) ||
        betterThan(other, best))
    )
      best = placedBack(other, way);
  }
  return best;
}

/**
 * Joining may not lose facts: it has to leave fewer lines that nothing is understood of. A row that goes
 * into the heading before it is no better understood.
 */
const betterThan = (other: Reading, before: Reading | null): boolean =>
  before === null
    ? other.problems.length === 0 && other.facts.length > 0
    : other.problems.length < before.problems.length &&
      other.facts.length >= Math.max(1, before.facts.length) &&
      saidIn(other) !== saidIn(before) &&
      (other.format === before.format || other.format === 'several' || before.facts.length === 0);

/** What a reading says, wherever it stands: lines that vanish without saying more were not understood. */
const saidIn = ({ facts }: Reading): string =>
  JSON.stringify(facts, (key, value: unknown) => {
    if (key === 'at') return undefined;
    return typeof value === 'bigint' ? value.toString(16) : value;
  });

/** Letters where digits belong are named, not assumed. */
function withLookAlikes(text: string, reading: Reading | null): Reading | null {
  if (!reading) return reading;
  const found = lookAlikes(text);
  if (found.length === 0) return reading;
  const lines = text.split(/\r\n|\n|\r/);
  const problems = found.map((l): Problem => ({
    line: l.line,
    text: (lines[l.line - 1] ?? '').trim().slice(0, 200),
    why: { is: 'looks-like', from: l.from, to: l.to, detail: l.why },
  }));
  const said = new Set(problems.map((p) => p.line));
  return {
    ...reading,
    problems: [...reading.problems.filter((p) => !said.has(p.line)), ...problems].sort(
      (a, b) => a.line - b.line,
    ),
  };
}

function readAnew(text: string, command: string): Reading | null {
  const stretches = text.length <= LONGEST_SPLIT ? stretchesOf(text) : [];
  if (stretches.length > 1 || (stretches[0] && stretches[0].text.length < text.trimEnd().length)) {
    const parts = stretches.map((s) => ({
      ...s,
      ...(s.text.trim() === '' ? { reader: nftText, sureness: CERTAIN } : best(s.text)),
    }));
    const sure = parts.flatMap(({ reader, sureness }) => (reader && sureness >= SURE_PART ? [reader] : []));
    const known = new Set(sure.map((r) => r.format));
    if (sure.length > 0 && (known.size > 1 || sure.length === 1 || hasPrompts(text, stretches)))
      return joined(parts.map((p) => ({ ...p, reading: readStretch(p) })));
  }
  const { reader } = best(text);
  return reader ? readBy(reader, text, command === '' ? undefined : command) : null;
}

const hasPrompts = (text: string, stretches: readonly { from: number; text: string }[]): boolean =>
  stretches.reduce((n, s) => n + s.text.split('\n').length, 0) < text.trimEnd().split('\n').length;

/** A rule set without a table. */
const NO_RULES: Reading = {
  format: 'nft',
  facts: [{ kind: 'nft', at: { line: 1 }, objects: [] }],
  problems: [],
  covers: ['rules4', 'rules6'],
};

function readStretch({
  reader,
  text,
  command,
}: Stretch & { readonly reader: Reader | null }): Reading | null {
  if (text.trim() === '' && command !== undefined && saysByNothing(command)) return { ...NO_RULES, command };
  const reading = reader ? readBy(reader, text, command) : null;
  return reading && command !== undefined ? { ...reading, command } : reading;
}
