import type { AskKind } from '../asks/index.ts';
import type { StopSettings } from '../devices/index.ts';
import type { Role } from '../site/index.ts';
import type { FoundStop } from './found.ts';

/** The content of `case.json`; unknown keys survive a read and a write. See docs/formats/case.md. */
export interface CaseDocument {
  readonly format: 'bright-ferry-case';
  readonly version: 1;
  readonly title: string;
  readonly service?: Service;
  readonly client?: Client;
  readonly path: readonly PathStop[];
  readonly evidence?: readonly EvidenceEntry[];
  readonly observations?: readonly Observation[];
  readonly declined?: readonly string[];
  /** Ids of what was proposed and refused. */
  readonly dismissed?: readonly string[];
  /** Changes that were made at a device. */
  readonly changes?: readonly Change[];
  /** Tries that were made while something was being recorded. */
  readonly watched?: readonly WatchedTry[];
  /** When it was closed, RFC 3339; open without it. */
  readonly closed?: string;
  readonly [key: string]: unknown;
}

export interface ServiceEndpoint {
  readonly protocol: 'tcp' | 'udp';
  readonly port: number;
  readonly portEnd?: number;
  /** Nobody has said whether it is TCP or UDP: the protocol is taken for granted. */
  readonly guessed?: true;
}

export interface Service {
  readonly name?: string;
  readonly kind?: 'game' | 'media' | 'database' | 'other';
  readonly endpoints?: readonly ServiceEndpoint[];
  readonly audience?: 'anyone' | readonly string[];
}

export const SYMPTOMS = [
  'lost',
  'refused',
  'name-unknown',
  'connects-then-fails',
  'sometimes',
  'unknown',
] as const;
export type Symptom = (typeof SYMPTOMS)[number];

export interface Client {
  readonly address?: string;
  /** Further clients, from elsewhere. */
  readonly others?: readonly string[];
  /** Exactly what is typed. */
  readonly dials?: string;
  /** What others type, or the same client elsewhere: further names and addresses of the service. */
  readonly alsoDials?: readonly string[];
  readonly symptom?: Symptom;
  readonly says?: string;
}

export interface PathStop {
  readonly id: string;
  readonly role: Role;
  /** What people call it. */
  readonly name?: string;
  /** Lines that a technician typed, each read like a one-line paste. */
  readonly typed?: readonly TypedLine[];
  /** What is known of a device that prints no rules (docs/formats/settings.md). */
  readonly settings?: StopSettings;
  readonly found?: FoundStop;
  readonly [key: string]: unknown;
}

/** A line that a technician typed. */
export interface TypedLine {
  readonly text: string;
  /** RFC 3339 */
  readonly at?: string;
  readonly [key: string]: unknown;
}

/** A change that was made at a device. Evidence of that kind from before it tells of the time before. */
export interface Change {
  readonly stop: string;
  /** What shows it, as in the checks: `forwards`, `rules`, `sockets`, `routes`, `name`, `status`. */
  readonly yields: AskKind;
  readonly title: string;
  /** RFC 3339 */
  readonly at: string;
  /** What was filled in about the stop before the change was taken into it. */
  readonly before?: StopSettings;
}

/** The client was told to try at that moment, while a machine recorded it. */
export interface WatchedTry {
  readonly stop: string;
  /** What was recording: `drop-log`, `capture`, `counters`, `sessions`. */
  readonly yields: AskKind;
  /** RFC 3339, by the technician's own clock */
  readonly at: string;
}

export interface EvidenceEntry {
  readonly stop: string;
  /** Path below the case folder, `evidence/<stop>/<name>`. */
  readonly file: string;
  readonly at?: string;
  /** Only some of what the program prints: nothing follows from what it does not show. */
  readonly part?: boolean;
  /** A person's word that nothing is missing. */
  readonly whole?: boolean;
  /** The command line that printed it; several in one file joined by `; `. */
  readonly command?: string;
  /** Id of the check that it answers, `stop/yields`. */
  readonly asked?: string;
  /** Characters that a person has put right: in that line, `from` is read as `to`, which is as long. */
  readonly corrections?: readonly { readonly line: number; readonly from: string; readonly to: string }[];
  /** What the columns of a copied table are, where a person has put the guess right. */
  readonly columns?: { readonly table: 'forwards' | 'devices'; readonly roles: readonly string[] };
  readonly [key: string]: unknown;
}

export const VANTAGES = [
  'host',
  'lan',
  'lan-by-outside-address',
  'client',
  'client-by-name',
  'outside',
] as const;

export interface Observation {
  readonly vantage: (typeof VANTAGES)[number];
  readonly from?: string;
  readonly to: string;
  readonly outcome: 'answered' | 'refused' | 'lost';
  readonly at?: string;
  readonly greeting?: string;
  readonly note?: string;
  /** Something else than the service answered. */
  readonly other?: boolean;
}

/** A case with its files: `case.json` and raw evidence, by path. */
export interface CaseFolder {
  readonly document: CaseDocument;
  readonly files: ReadonlyMap<string, Uint8Array>;
}

/** Refusal of a case that cannot be read: names the file, the line where it is known, and the problem. */
export class CaseError extends Error {
  readonly file: string;
  readonly line: number | null;

  constructor(file: string, line: number | null, problem: string) {
    super(`${file}${line === null ? '' : `:${line}`}: ${problem}`);
    this.name = 'CaseError';
    this.file = file;
    this.line = line;
  }
}
