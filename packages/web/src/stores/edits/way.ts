import {
  withSettings,
  newStopId,
  withMoved,
  withName,
  withNewStop,
  withoutStop,
  withRole,
  type CaseDocument,
} from '@bright-ferry/core/case';
import { kindsFor, type StopSettings } from '@bright-ferry/core/devices';
import { dismiss } from '@bright-ferry/core/proposals';
import type { Role } from '@bright-ferry/core/site';
import type { Edits, History } from './types.ts';

/** Edits of the way: its stops, and what is filled in about them. */
export function wayEdits(history: History, edit: Edits) {
  const rename = (stop: string, name: string): Promise<void> =>
    edit((d) => withName(d, stop, name), `Called ${name.trim() || stop} from now on.`);

  /** Says what kind of stop it is; settings that such a stop cannot have go. */
  async function setRole(stop: string, role: Role): Promise<void> {
    const settings = history.document?.path.find((s) => s.id === stop)?.settings;
    const keeps = settings === undefined || kindsFor(role).includes(settings.kind);
    await edit(
      (d) => withRole(d, stop, role, keeps),
      `${history.nameOf(stop)} is another kind of stop ` +
        `now${keeps ? '' : '; what was filled in about it is gone'}.`,
    );
  }

  const moveStop = (stop: string, by: -1 | 1): Promise<void> =>
    edit((d) => withMoved(d, stop, by), `${history.nameOf(stop)} moved along the way.`);

  async function addStop(role: Role, name: string, before: string | null): Promise<void> {
    await edit(
      (d) => withNewStop(d, { id: newStopId(d, role), role, name }, before),
      `${name} put on the way.`,
    );
  }

  /** Takes a stop off the way, and what came from there. */
  async function removeStop(stop: string): Promise<void> {
    const { document } = history;
    if (!document) return;
    const pieces = document.evidence?.filter((e) => e.stop === stop).length ?? 0;
    const told =
      pieces > 0 ? `, with ${pieces} ${pieces === 1 ? 'piece' : 'pieces'} of evidence from there` : '';
    await edit((d) => withoutStop(d, stop), `${history.nameOf(stop)} taken off the way${told}.`);
  }

  /** A stop that the evidence had put on the crossing is not there. */
  async function refuseStop(id: string): Promise<void> {
    const { document } = history;
    if (!document) return;
    const next = dismiss(document, id);
    const lost = (document.evidence?.length ?? 0) - (next.evidence?.length ?? 0);
    const pieces = lost === 1 ? 'piece' : 'pieces';
    const told = lost > 0 ? `, with ${lost} ${pieces} of evidence from there` : '';
    await history.change((d) => dismiss(d, id), `Taken off the crossing${told}.`);
  }

  /**
   * What a technician fills in about a device; null takes it away. Returns what is wrong with it; null: it
   * was kept.
   */
  async function setSettings(stop: string, settings: StopSettings | null): Promise<string | null> {
    if (!history.document) return null;
    const next = JSON.parse(JSON.stringify(withSettings(history.document, stop, settings))) as CaseDocument;
    const { CaseError, checkCaseDocument } = await import('../../lib/caseFormat.ts');
    try {
      checkCaseDocument(next);
    } catch (error) {
      if (!(error instanceof CaseError)) return String(error);
      return error.message.replace(/^case\.json: path\[\d+\]\.settings\.?/, '');
    }
    await edit(
      (d) => withSettings(d, stop, settings),
      settings ? 'Settings kept; the crossing follows them.' : 'Settings taken away.',
    );
    return null;
  }

  return { rename, setRole, moveStop, addStop, removeStop, refuseStop, setSettings };
}
