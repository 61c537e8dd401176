import type { CaseDocument } from '@bright-ferry/core/case';
import { Dexie, type EntityTable } from 'dexie';

/** A kept case. The bytes of its evidence are in `files`, so that history costs little. */
export interface KeptCase {
  readonly id: string;
  readonly updatedAt: string;
  readonly document: CaseDocument;
  /** Documents before and after this one, oldest first, for undo and redo. */
  readonly past: readonly CaseDocument[];
  readonly future: readonly CaseDocument[];
}

export interface KeptFile {
  /** `case id` + newline + path */
  readonly key: string;
  readonly caseId: string;
  readonly path: string;
  readonly bytes: Uint8Array;
}

export interface Note {
  readonly key: string;
  readonly value: string;
}

export class Database extends Dexie {
  declare cases: EntityTable<KeptCase, 'id'>;
  declare files: EntityTable<KeptFile, 'key'>;
  declare notes: EntityTable<Note, 'key'>;

  constructor() {
    super('bright-ferry');
    this.version(1).stores({ cases: 'id, updatedAt', files: 'key, caseId', notes: 'key' });
  }
}

export const fileKey = (caseId: string, path: string): string => `${caseId}\n${path}`;
