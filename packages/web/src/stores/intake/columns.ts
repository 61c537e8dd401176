import { withEntry, type EvidenceEntry } from '@bright-ferry/core/case';
import type { Shapes } from '@bright-ferry/core/views';
import { useHistory } from '../history.ts';
import { SHAPES, shapesOf } from './kept.ts';
import { services } from '../services.ts';

/** What people said of the columns of tables: it holds for all tables of that shape in this browser. */
export function useColumns() {
  const { cabinet } = services();
  const history = useHistory();
  let knownShapes: Shapes | null = null;

  /** Columns of tables that were put right in any case of this browser. */
  async function knownColumns(): Promise<Shapes> {
    knownShapes ??= shapesOf(await cabinet.note(SHAPES));
    return knownShapes;
  }

  /** Says what the columns of a copied table are; the next table of the same shape is read like that. */
  async function setColumns(
    fileName: string,
    columns: NonNullable<EvidenceEntry['columns']>,
    signature: string,
  ): Promise<void> {
    knownShapes = { ...(await knownColumns()), [signature]: columns };
    await cabinet.setNote(SHAPES, JSON.stringify(knownShapes));
    if (!history.document) return;
    await history.change(
      (d) => withEntry(d, fileName, (e) => ({ ...e, columns })),
      'Columns put right; the next table of this shape is read like that.',
    );
  }

  return { knownColumns, setColumns };
}
