import type { CaseDocument, PathStop } from '../case/index.ts';
import type { Proposal } from './types.ts';

/** The case with a proposal taken. Pure; what it leaves out of a document stays in its history. */
export function accept(document: CaseDocument, proposal: Proposal): CaseDocument {
  switch (proposal.kind) {
    case 'stop': {
      const at = proposal.before === null ? -1 : document.path.findIndex((s) => s.id === proposal.before);
      const stop: PathStop = { ...proposal.stop, found: { id: proposal.id, reason: proposal.reason, evidence: proposal.evidence } };
      return { ...document, path: at < 0 ? [...document.path, stop] : [...document.path.slice(0, at), stop, ...document.path.slice(at)] };
    }
    case 'endpoint': {
      const had = document.service?.endpoints ?? [];
      const kept = proposal.instead ? had.filter((e) => e !== proposal.instead && !(e.protocol === proposal.instead!.protocol && e.port === proposal.instead!.port)) : had;
      return { ...document, service: { ...document.service, endpoints: [...kept, ...proposal.endpoints] } };
    }
    case 'client-address': return { ...document, client: { ...document.client, address: proposal.seen } };
    case 'typed-slip': return withoutTyped(document, proposal.file);
    case 'same-machine': return joined(document, proposal.stop, proposal.other);
  }
}

/** The case with a proposal refused: it does not come again. A found stop that was put on the path leaves it. */
export function dismiss(document: CaseDocument, id: string): CaseDocument {
  const before = Array.isArray(document['dismissed']) ? (document['dismissed'] as unknown[]) : [];
  const path = document.path.filter((s) => (s['found'] as { id?: unknown } | undefined)?.id !== id);
  const stops = new Set(path.map((s) => s.id));
  const evidence = document.evidence?.filter((e) => stops.has(e.stop));
  return { ...document, path, ...(evidence ? { evidence } : {}), dismissed: [...before.filter((d) => d !== id), id] };
}

function withoutTyped(document: CaseDocument, file: string): CaseDocument {
  const typed = /^typed\/([^/]+)\/(\d+)$/.exec(file);
  if (!typed) return document;
  return { ...document, path: document.path.map((s) => (s.id === typed[1] && Array.isArray(s['typed']) ? { ...s, typed: (s['typed'] as unknown[]).filter((_, i) => i !== Number(typed[2]) - 1) } : s)) };
}

/** All that is known of the other stop goes to the one that stays. */
function joined(document: CaseDocument, stays: string, goes: string): CaseDocument {
  const other = document.path.find((s) => s.id === goes);
  const lines = Array.isArray(other?.['typed']) ? (other['typed'] as unknown[]) : [];
  const path = document.path.filter((s) => s.id !== goes).map((s) => (s.id === stays && lines.length > 0 ? { ...s, typed: [...(Array.isArray(s['typed']) ? (s['typed'] as unknown[]) : []), ...lines] } : s));
  return { ...document, path, ...(document.evidence ? { evidence: document.evidence.map((e) => (e.stop === goes ? { ...e, stop: stays } : e)) } : {}) };
}
