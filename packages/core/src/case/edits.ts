import type { StopSettings } from '../devices/index.ts';
import type {
  CaseDocument,
  Change,
  EvidenceEntry,
  Observation,
  PathStop,
  ServiceEndpoint,
  TypedLine,
  WatchedTry,
} from './document.ts';
import { typedPlace } from './typed.ts';

/** Edits of a case, as pure functions: the document as it is in, the document as it shall be out. */

const withStop = (document: CaseDocument, id: string, by: (stop: PathStop) => PathStop): CaseDocument => ({
  ...document,
  path: document.path.map((s) => (s.id === id ? by(s) : s)),
});

const withEntries = (
  document: CaseDocument,
  by: (entries: readonly EvidenceEntry[]) => readonly EvidenceEntry[],
): CaseDocument => ({ ...document, evidence: by(document.evidence ?? []) });

/** Takes in a piece of evidence. */
export const withEvidence = (document: CaseDocument, entry: EvidenceEntry): CaseDocument =>
  withEntries(document, (entries) => [...entries, entry]);

/** Changes what is said of a piece of evidence: whose it is, that it is only a part, what its columns are. */
export const withEntry = (
  document: CaseDocument,
  file: string,
  by: (entry: EvidenceEntry) => EvidenceEntry,
): CaseDocument => withEntries(document, (entries) => entries.map((e) => (e.file === file ? by(e) : e)));

/** Whether a listing is only some of what the program prints. */
export const withPart = (document: CaseDocument, file: string, isPart: boolean): CaseDocument =>
  withEntry(document, file, ({ part: _, ...entry }) => (isPart ? { ...entry, part: true } : entry));

/** A typed line at a stop. */
export const withTyped = (document: CaseDocument, stop: string, line: TypedLine): CaseDocument =>
  withStop(document, stop, (s) => ({ ...s, typed: [...(s.typed ?? []), line] }));

/** Without a piece of evidence, or without a typed line (`typed/<stop>/<number>`). */
export function withoutEvidence(document: CaseDocument, file: string): CaseDocument {
  const typed = typedPlace(file);
  if (!typed) return withEntries(document, (entries) => entries.filter((e) => e.file !== file));
  return withStop(document, typed.stop, (s) => ({
    ...s,
    typed: (s.typed ?? []).filter((_, i) => i !== typed.index),
  }));
}

/** What a technician fills in about a device; null takes it away. */
export const withSettings = (
  document: CaseDocument,
  stop: string,
  settings: StopSettings | null,
): CaseDocument =>
  withStop(document, stop, ({ settings: _, ...rest }) => (settings ? { ...rest, settings } : rest));

/** A change that was made: what is known of that place is from before. */
export const withChange = (document: CaseDocument, change: Change): CaseDocument => ({
  ...document,
  changes: [...(document.changes ?? []), change],
});

/** The client was told to try now, while something records it. */
export const withWatched = (document: CaseDocument, tried: WatchedTry): CaseDocument => ({
  ...document,
  watched: [...(document.watched ?? []), tried],
});

/** A check that the owner cannot do. */
export const withDeclined = (document: CaseDocument, check: string): CaseDocument => ({
  ...document,
  declined: [...(document.declined ?? []), check],
});

/**
 * A proposal refused: it does not come again. A found stop that was put on the path leaves it, with the
 * evidence from there.
 */
export function withDismissed(document: CaseDocument, id: string): CaseDocument {
  const path = document.path.filter((s) => s.found?.id !== id);
  const stops = new Set(path.map((s) => s.id));
  const evidence = document.evidence?.filter((e) => stops.has(e.stop));
  return {
    ...document,
    path,
    ...(evidence ? { evidence } : {}),
    dismissed: [...(document.dismissed ?? []).filter((d) => d !== id), id],
  };
}

/** Two stops are one machine: all that is known of the other goes to the one that stays. */
export function withJoined(document: CaseDocument, stays: string, goes: string): CaseDocument {
  const lines = document.path.find((s) => s.id === goes)?.typed ?? [];
  const rest = { ...document, path: document.path.filter((s) => s.id !== goes) };
  const typed =
    lines.length === 0
      ? rest
      : withStop(rest, stays, (s) => ({ ...s, typed: [...(s.typed ?? []), ...lines] }));
  if (!document.evidence) return typed;
  return withEntries(typed, (entries) => entries.map((e) => (e.stop === goes ? { ...e, stop: stays } : e)));
}

/**
 * A stop on the path, before another one; null: at the inner end. A path that has a stop of that id stays as
 * it is.
 */
export function withNewStop(document: CaseDocument, stop: PathStop, before: string | null): CaseDocument {
  if (document.path.some((s) => s.id === stop.id)) return document;
  const at = before === null ? -1 : document.path.findIndex((s) => s.id === before);
  const place = at < 0 ? document.path.length : at;
  return { ...document, path: document.path.toSpliced(place, 0, stop) };
}

/** Gives a stop another name; an empty one takes its name away. */
export const withName = (document: CaseDocument, id: string, name: string): CaseDocument =>
  withStop(document, id, ({ name: _name, ...stop }) =>
    name.trim() === '' ? stop : { ...stop, name: name.trim() },
  );

/** Says what kind of stop it is. Settings that such a stop cannot have are taken away. */
export const withRole = (
  document: CaseDocument,
  id: string,
  role: PathStop['role'],
  keepsSettings: boolean,
): CaseDocument =>
  withStop(document, id, ({ settings, ...stop }) => ({
    ...stop,
    role,
    ...(settings && keepsSettings ? { settings } : {}),
  }));

/** Moves a stop along the way: `by` -1 is one place towards the client. Ends stay ends of the list. */
export function withMoved(document: CaseDocument, id: string, by: -1 | 1): CaseDocument {
  const at = document.path.findIndex((s) => s.id === id);
  const stop = document.path[at];
  const to = at + by;
  if (!stop || to < 0 || to >= document.path.length) return document;
  return { ...document, path: document.path.toSpliced(at, 1).toSpliced(to, 0, stop) };
}

/** Without a stop, and what came from there. */
export function withoutStop(document: CaseDocument, id: string): CaseDocument {
  const path = document.path.filter((s) => s.id !== id);
  if (path.length === document.path.length) return document;
  const rest = { ...document, path };
  return document.evidence ? withEntries(rest, (entries) => entries.filter((e) => e.stop !== id)) : rest;
}

/** An id for a new stop of a kind that the path does not have yet. */
export function newStopId({ path }: CaseDocument, role: string): string {
  const taken = new Set(path.map((s) => s.id));
  let id = role;
  for (let n = 2; taken.has(id); n++) id = `${role}-${n}`;
  return id;
}

/** Says which protocol a port is for, where that was taken for granted. */
export function withProtocol(
  document: CaseDocument,
  port: number,
  protocols: readonly ('tcp' | 'udp')[],
): CaseDocument {
  const endpoints = document.service?.endpoints ?? [];
  const said = endpoints.flatMap((e): ServiceEndpoint[] => {
    if (e.port !== port || !e.guessed) return [e];
    const { guessed: _guessed, ...rest } = e;
    return protocols.map((protocol) => ({ ...rest, protocol }));
  });
  return { ...document, service: { ...document.service, endpoints: said } };
}

/** Something that was tried, and what came of it. */
export const withObservation = (document: CaseDocument, seen: Observation): CaseDocument => ({
  ...document,
  observations: [...(document.observations ?? []), seen],
});

/** A person says that nothing is missing in these pieces. */
export const withWhole = (document: CaseDocument, files: readonly string[]): CaseDocument =>
  files.reduce(
    (d, file) => withEntry(d, file, ({ part: _part, ...entry }) => ({ ...entry, whole: true })),
    document,
  );

/** Other pieces in the place of some: what was sent together parted, or what was sent in parts joined. */
export function withPieces(
  document: CaseDocument,
  files: readonly string[],
  pieces: readonly EvidenceEntry[],
): CaseDocument {
  return withEntries(document, (entries) => {
    const at = entries.findIndex((e) => files.includes(e.file));
    if (at < 0) return entries;
    const left = (part: readonly EvidenceEntry[]): EvidenceEntry[] =>
      part.filter((e) => !files.includes(e.file));
    return [...left(entries.slice(0, at)), ...pieces, ...left(entries.slice(at))];
  });
}
