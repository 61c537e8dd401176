import { nth } from '../place/index.ts';
import type { Coverage, Fact, Gap, Problem, Reading, ReadPart } from '../facts/index.ts';
import { READERS } from './readers.ts';
import type { Reader } from './reader.ts';
import { lookAlikes } from './lookAlike.ts';
import { linesOf } from './text.ts';
import { placedBack, rejoinings, withPlaces } from './rejoin.ts';
import { nftText } from './linux/nftText/index.ts';
import { saysByNothing, stretchesOf, type Stretch, promptHost } from './split.ts';

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
  for (const candidate of READERS) {
    if ((candidate.most ?? 1) <= sureness) continue;
    const score = guarded(0, () => candidate.recognise(text));
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

/** Listings of which each row speaks for itself: one that could not be read may say anything. */
const ROW_BY_ROW: ReadonlySet<Coverage> = new Set([
  'sockets-tcp',
  'sockets-udp',
  'host-rows',
  'front-end',
  'mappings',
  'routes4',
  'routes6',
  'policy4',
  'policy6',
  'allow-list',
  'zone-rules',
  'zone-lines',
  'translations',
]);

/** A line that stands for lines left out. */
const LEFT_OUT = /^(?:\.{3,}|…|snip|snipped|cut|truncated|omitted|etc\.?)$/i;
/** What pagers print at the end of a page that is not the last. */
const PAGER =
  /^-+ ?more ?\d{0,3}%? ?-+ ?(?:\d{1,3}%)?$|^-{2,} ?more\b|\b(?:press|hit|type) .{1,30} (?:to|for) (?:continue|more)\b|\bq(?:uit)?[ :]to quit\b|^-- q quit/i;
const leavesOut = (text: string): boolean =>
  linesOf(text).some((l) => {
    if (l.text.length >= 60) return false;
    const bare = l.text.replace(/[[\](){}<>*]/g, '').trim();
    return LEFT_OUT.test(bare) || PAGER.test(bare);
  });

/**
 * What in the text itself leaves open whether it is whole: lines left out, and rows of sockets or
 * firewall rows that could not be read and may be about any port.
 */
function withGaps(reading: Reading): Reading {
  const isUnread =
    reading.problems.length > 0 &&
    (reading.covers.some((c) => ROW_BY_ROW.has(c)) ||
      reading.problems.some((p) => /\binet6?\b/.test(p.text) && reading.covers.includes('addresses')));
  return isUnread ? withGap(reading, 'unread') : reading;
}

/** The reading, and each output of it, with one more reason why it may not be whole. */
const withGap = (reading: Reading, gap: Gap): Reading => ({
  ...reading,
  gaps: [...new Set([...(reading.gaps ?? []), gap])],
  ...(reading.parts
    ? { parts: reading.parts.map((p) => ({ ...p, gaps: [...new Set([...(p.gaps ?? []), gap])] })) }
    : {}),
});

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

/** What programs print in a console; pages and sentences have lines of any length. */
const isPrinted = ({ format }: Reading): boolean =>
  ![
    'forward-table',
    'device-table',
    'rule-table',
    'zone-page',
    'labelled-values',
    'notice',
    'allow-list',
  ].includes(format);

/** Consoles that cut lines do so at this width; a ruler of that length is none. */
const CONSOLE = 80;
/** The last word of a packet filter's line: what is cut off here are digits of its handle. */
const HANDLE = /# handle \d+$/;

/** The longest lines end exactly at a console's edge: the rest of them is cut off. */
function isCutAtEdge(text: string): boolean {
  const lines = linesOf(text).filter((l) => !/^[-=\s]*$/.test(l.text));
  return (
    lines.every((l) => l.text.length <= CONSOLE) &&
    lines.some((l) => l.text.length === CONSOLE && /[^\s)\]}"'>;]$/.test(l.text) && !HANDLE.test(l.text))
  );
}

/** A last line without its end of which nothing is understood: the text breaks off in it. */
function endsStrangely(text: string, plain: Reading | null): boolean {
  if (!plain || /\s$/.test(text)) return false;
  const lines = linesOf(text);
  const last = lines[lines.length - 1]?.number;
  return plain.problems.some((p) => p.line === last);
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
      return joined(parts);
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

/** One reading of several outputs; every fact keeps its line in the whole paste. */
function joined(parts: readonly (Stretch & { readonly reader: Reader | null })[]): Reading {
  const read = parts.map((p) => ({ ...p, reading: readStretch(p) }));
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
