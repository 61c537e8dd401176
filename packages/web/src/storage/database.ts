import type { CaseDocument } from '@bright-ferry/core/case';
import { Dexie, type EntityTable } from 'dexie';

/** A kept case. The bytes of its evidence are in `files`, so that history costs little. */
export interface KeptCase {
  readonly id: string;
  readonly updatedAt: string;
  /**
   * Grows with each write: two pages that have the same case open tell by it who wrote last. Cases from
   * before it was counted have none.
   */
  readonly version?: number;
  readonly document: CaseDocument;
  /** Documents before and after this one, oldest first, for undo and redo. */
  readonly past: readonly CaseDocument[];
  readonly future: readonly CaseDocument[];
}

/** What the desk shows of a case, so that a list of hundreds need not read them. */
export interface CaseHead {
  readonly id: string;
  readonly updatedAt: string;
  readonly title: string;
  readonly service: string;
  /** What the client dials, and from where. */
  readonly dials: string;
  readonly from: string;
  /** RFC 3339; null: it is open. */
  readonly closed: string | null;
  /** When a change was made that nobody has tried since; null: there is none. RFC 3339. */
  readonly retest: string | null;
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
  declare heads: EntityTable<CaseHead, 'id'>;
  declare files: EntityTable<KeptFile, 'key'>;
  declare notes: EntityTable<Note, 'key'>;

  constructor() {
    super('bright-ferry');
    this.version(1).stores({ cases: 'id, updatedAt', files: 'key, caseId', notes: 'key' });
    this.version(2)
      .stores({ heads: 'id, updatedAt' })
      .upgrade(async (tx) => {
        const cases = await tx.table<KeptCase>('cases').toArray();
        await tx.table<CaseHead>('heads').bulkPut(cases.map((c) => headOf(c)));
      });
  }
}

export const fileKey = (caseId: string, path: string): string => `${caseId}\n${path}`;

export function headOf({ id, updatedAt, document }: KeptCase): CaseHead {
  const { title, service, client, changes = [], observations = [] } = document;
  const made = changes.map((c) => c.at).sort();
  const last = made[made.length - 1];
  const isTried = last !== undefined && observations.some((o) => (o.at ?? '') > last);
  return {
    id,
    updatedAt,
    title,
    service: service?.name ?? '',
    dials: client?.dials ?? '',
    from: client?.address ?? '',
    closed: document.closed ?? null,
    retest: last !== undefined && !isTried ? last : null,
  };
}
