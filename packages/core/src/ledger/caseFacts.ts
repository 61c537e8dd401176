import {
  decodeText,
  evidenceEntries,
  type CaseDocument,
  type CaseFolder,
  type EvidenceEntry,
  type Observation,
  typedFile,
} from '../case/index.ts';
import type { Coverage, Fact, FactKind, Problem, Reading } from '../facts/index.ts';
import {
  isCapture,
  readCapture,
  cleanText,
  corrected,
  readTable,
  type TableColumns,
  readText,
} from '../reading/index.ts';
import type { AgedReading } from './newest.ts';
import { pastedTries } from './pastedTries.ts';
import { misplacedAt, type Misplaced } from './misplaced.ts';
import { wholeCovers, type Provenance } from './whole.ts';
import type { SourceRef } from '../place/index.ts';

/** One piece of evidence after reading. `format` null: not recognised, kept as a note. */
export interface ReadFile extends AgedReading {
  readonly stop: string;
  readonly format: string | null;
  readonly problems: readonly Problem[];
  readonly at: string | null;
  /** Typed by the technician instead of printed by a program. */
  readonly typed: boolean;
  /** What it shows; what is in `covers` as well it speaks for as a whole. */
  readonly shows: readonly Coverage[];
  /** A person has said that it is only some of what the program prints. */
  readonly part?: boolean;
  /** What it would speak for, were it known that nothing is missing in it. */
  readonly ifWhole: readonly Coverage[];
  /** Why it cannot be this stop's: nothing of it counts. */
  readonly misplaced?: Misplaced;
  /** The machine that a prompt in it names. */
  readonly promptHost?: string;
  /** Id of the check that it answers. */
  readonly asked?: string;
  /** The command line that printed it, where one is known. */
  readonly command?: string;
  /** Written lines. */
  readonly lines: number;
}

/** A case with its evidence taken apart into facts. */
export interface CaseFacts {
  readonly document: CaseDocument;
  readonly files: readonly ReadFile[];
}

/** Reads all evidence of a case. Files that are no text, or that no reader knows, stay with `format` null. */
export function readCase(folder: CaseFolder, cache: Map<string, Reading | null> = new Map()): CaseFacts {
  const files: ReadFile[] = [];
  const hasList = folder.document.evidence !== undefined;
  for (const entry of evidenceEntries(folder)) {
    const bytes = folder.files.get(entry.file);
    const key =
      `${entry.file}` +
      `${adjusted(entry) ? JSON.stringify([entry.corrections, entry.columns, entry.command]) : ''}`;
    const kept = cache.get(key);
    let reading;
    if (bytes) reading = kept === undefined ? readBytes(bytes, entry) : kept;
    else reading = null;
    if (bytes) cache.set(key, reading);
    files.push({
      file: entry.file,
      stop: entry.stop,
      format: reading?.format ?? null,
      facts: reading?.facts ?? [],
      ...judged(reading, { ...entry, byForm: !hasList }),
      problems: reading?.problems ?? [],
      ...(entry.asked === undefined ? {} : { asked: entry.asked }),
      ...commandOf(reading?.command ?? entry.command),
      ...(reading?.promptHost === undefined ? {} : { promptHost: reading.promptHost }),
      at: entry.at ?? null,
      typed: false,
      ...(entry.part ? { part: true } : {}),
      lines: bytes ? writtenLines(bytes) : 0,
    });
  }
  for (const stop of folder.document.path) {
    (stop.typed ?? []).forEach((line, i) => {
      const reading = readText(line.text);
      files.push({
        file: typedFile(stop.id, i),
        stop: stop.id,
        format: reading?.format ?? null,
        facts: reading?.facts ?? [],
        ...judged(reading, {}),
        problems: reading?.problems ?? [],
        at: line.at ?? null,
        typed: true,
        lines: 1,
      });
    });
  }
  const sorted = setAside(files).sort(byAge);
  return { document: withPastedTries(folder.document, sorted), files: sorted };
}

const commandOf = (command: string | undefined): Pick<ReadFile, 'command'> =>
  command === undefined ? {} : { command };

/** What was noted and what was sent of tries, in the order of time. */
function withPastedTries(document: CaseDocument, files: readonly ReadFile[]): CaseDocument {
  const pasted = pastedTries(files, document);
  if (pasted.length === 0) return document;
  const when = ({ at }: Observation): number => (at === undefined ? -Infinity : Date.parse(at));
  return {
    ...document,
    observations: [...(document.observations ?? []), ...pasted].sort((a, b) => when(a) - when(b)),
  };
}

/** Pieces that are another machine's decide nothing where they lie. */
function setAside(files: readonly ReadFile[]): ReadFile[] {
  const misplaced = misplacedAt(files);
  return files.map((f): ReadFile => {
    const why = misplaced.get(f);
    if (!why) return f;
    const { parts: _parts, ...rest } = f;
    return { ...rest, facts: [], covers: [], shows: [], ifWhole: [], misplaced: why };
  });
}

/** What a reading speaks for, and what it shows without speaking for the rest of it. */
function judged(
  reading: Reading | null,
  said: Provenance,
): Pick<ReadFile, 'covers' | 'shows' | 'ifWhole' | 'parts'> {
  if (!reading) return { covers: [], shows: [], ifWhole: [] };
  const as = (provenance: Provenance): Pick<ReadFile, 'covers' | 'parts'> => {
    const parts = reading.parts?.map((p) => ({ ...p, covers: wholeCovers(p, provenance), shows: p.covers }));
    const covers = parts ? [...new Set(parts.flatMap((p) => p.covers))] : wholeCovers(reading, provenance);
    return { covers, ...(parts ? { parts } : {}) };
  };
  return { ...as(said), shows: reading.covers, ifWhole: as({ ...said, whole: true }).covers };
}

/**
 * Typed before printed, older before newer, else as they stand in the case: what comes last is what stands.
 */
const byAge = (a: { typed: boolean; at: string | null }, b: { typed: boolean; at: string | null }): number =>
  Number(b.typed) - Number(a.typed) || (a.at ?? '').localeCompare(b.at ?? '');

const counted = new WeakMap<Uint8Array, number>();

/** Lines with something on them; counted once for each piece. */
function writtenLines(bytes: Uint8Array): number {
  let count = counted.get(bytes);
  if (count === undefined) {
    const decoded = decodeText(bytes);
    counted.set(bytes, (count = 'text' in decoded ? (decoded.text.match(/[^\s][^\n\r]*/g)?.length ?? 0) : 0));
  }
  return count;
}

const adjusted = (entry: EvidenceEntry): boolean =>
  entry.corrections !== undefined || entry.columns !== undefined || entry.command !== undefined;

/**
 * Reads a piece of evidence, with what a person has put right in it. Null where it is no text, or no reader
 * knows it.
 */
export function readBytes(
  bytes: Uint8Array,
  { corrections, columns, command }: Pick<EvidenceEntry, 'corrections' | 'columns' | 'command'> = {},
): Reading | null {
  if (isCapture(bytes)) return readCapture(bytes);
  const decoded = decodeText(bytes);
  if (!('text' in decoded)) return null;
  const text = corrected(cleanText(decoded.text), corrections ?? []);
  return (columns ? readTable(text, columns as TableColumns) : null) ?? readText(text, command);
}

/** The case as it were if every piece that may be whole is; null where none is in question. */
export function ifAllWhole(facts: CaseFacts): { facts: CaseFacts; files: readonly string[] } | null {
  const open = facts.files.filter((f) => f.ifWhole.some((c) => !f.covers.includes(c)));
  if (open.length === 0) return null;
  const files = facts.files.map((f) => {
    if (!open.includes(f)) return f;
    const parts = f.parts?.map((p) => ({ ...p, covers: f.ifWhole.filter((c) => p.shows?.includes(c)) }));
    return { ...f, covers: f.ifWhole, ...(parts ? { parts } : {}) };
  });
  return { facts: { ...facts, files }, files: open.map((f) => f.file) };
}

/** A fact with where it came from. */
export interface Located<F extends Fact = Fact> {
  readonly fact: F;
  readonly stop: string;
  readonly source: SourceRef;
  readonly typed: boolean;
  readonly at: string | null;
}

/** All facts of a kind, printed ones before typed ones of the same age; the last one stands. */
export function factsOf<K extends FactKind>(
  facts: CaseFacts,
  kind: K,
): Located<Extract<Fact, { kind: K }>>[] {
  return facts.files
    .flatMap((f) =>
      f.facts
        .filter((x): x is Extract<Fact, { kind: K }> => x.kind === kind)
        .map((fact) => ({
          fact,
          stop: f.stop,
          source: { file: f.file, ...fact.at },
          typed: f.typed,
          at: f.at,
        })),
    )
    .sort(byAge);
}
