import type { Fact, Problem, Reading } from './facts.ts';
import { READERS } from './readers/index.ts';
import type { Reader } from './readers/reader.ts';
import { isFiltered, stretchesOf, type Stretch } from './split.ts';

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
    const score = candidate.recognise(text);
    if (score > sureness) {
      sureness = score;
      reader = candidate;
    }
    if (sureness >= CERTAIN) break;
  }
  return { reader, sureness };
}

/** The reader that fits a text best; null where none does. Content decides, never a file's name. */
export const recognise = (text: string): Reader | null => best(text).reader;

/** The text read last: what is pasted is first recognised, then read again as part of its case. */
let last: { readonly text: string; readonly reading: Reading | null } | null = null;

/** Reads a text with the reader that fits; several outputs in one paste are read each by itself. Null where nothing is understood. */
export function readText(text: string): Reading | null {
  if (last?.text !== text) last = { text, reading: readAnew(text) };
  return last.reading;
}

function readAnew(text: string): Reading | null {
  const stretches = text.length <= LONGEST_SPLIT ? stretchesOf(text) : [];
  if (stretches.length > 1 || (stretches[0] && stretches[0].text.length < text.trimEnd().length)) {
    const parts = stretches.map((s) => ({ ...s, ...best(s.text) }));
    const sure = parts.filter((p) => p.reader !== null && p.sureness >= SURE_PART);
    const known = new Set(sure.map((p) => p.reader!.format));
    if (sure.length > 0 && (known.size > 1 || sure.length === 1 || hasPrompts(text, stretches))) return joined(parts);
  }
  const { reader } = best(text);
  return reader?.read(text) ?? null;
}

const hasPrompts = (text: string, stretches: readonly { from: number; text: string }[]): boolean => stretches.reduce((n, s) => n + s.text.split('\n').length, 0) < text.trimEnd().split('\n').length;

function readStretch({ reader, text, command }: Stretch & { readonly reader: Reader | null }): Reading | null {
  const reading = reader?.read(text) ?? null;
  return reading && command && isFiltered(command) ? { ...reading, covers: [] } : reading;
}

/** One reading of several outputs; every fact keeps its line in the whole paste. */
function joined(parts: readonly (Stretch & { readonly reader: Reader | null })[]): Reading {
  const read = parts.map((p) => ({ ...p, reading: readStretch(p) }));
  const whole = read.filter((p) => p.reading !== null);
  const facts = whole.flatMap((p) => p.reading!.facts.map((f) => movedFact(f, p.from - 1)));
  const problems = read.flatMap((p): Problem[] => (p.reading ? p.reading.problems.map((x) => ({ ...x, line: x.line + p.from - 1 })) : [{ line: p.from, text: p.text.trim().split('\n')[0]!.slice(0, 200), why: 'no reader recognises this part' }]));
  const parted = whole.map((p) => ({ format: p.reading!.format, line: p.from, facts: p.reading!.facts.map((f) => movedFact(f, p.from - 1)), covers: p.reading!.covers }));
  const formats = new Set(parted.map((p) => p.format));
  return { format: formats.size === 1 && parted.length === 1 ? parted[0]!.format : 'several', facts, problems, covers: [...new Set(whole.flatMap((p) => p.reading!.covers))], ...(parted.length > 1 ? { parts: parted } : {}) };
}

/** A fact whose places count from the beginning of the whole paste. */
function movedFact(fact: Fact, by: number): Fact {
  if (by === 0) return fact;
  const at = { ...fact.at, line: fact.at.line + by };
  if (fact.kind === 'nft') return { ...fact, at, objects: fact.objects.map((o) => ({ ...o, at: { ...o.at, line: o.at.line + by } })) };
  if (fact.kind === 'iptables') return { ...fact, at, tables: fact.tables.map((t) => ({ ...t, chains: t.chains.map((c) => ({ ...c, at: { ...c.at, line: c.at.line + by } })), rules: t.rules.map((r) => ({ ...r, at: { ...r.at, line: r.at.line + by } })) })) };
  return { ...fact, at };
}
