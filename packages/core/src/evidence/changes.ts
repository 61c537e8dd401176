import type { CaseDocument } from '../case/index.ts';
import type { CaseFacts, ReadFile } from './caseFacts.ts';

/** A change that was made at a device. Evidence of that kind from before it tells of the time before. */
export interface Change {
  readonly stop: string;
  /** What shows it, as in the checks: `forwards`, `rules`, `sockets`, `routes`, `name`, `status`. */
  readonly yields: string;
  readonly title: string;
  /** ISO 8601 */
  readonly at: string;
}

export function changesOf(document: CaseDocument): Change[] {
  const list = document['changes'];
  return Array.isArray(list) ? list.filter((c): c is Change => typeof c === 'object' && c !== null && ['stop', 'yields', 'title', 'at'].every((k) => typeof (c as Record<string, unknown>)[k] === 'string')) : [];
}

const FIREWALL_TOPICS = new Set(['hostRows', 'hostProfiles', 'activeProfile', 'hostRules', 'bsdRules', 'allowRows', 'filterRows']);

/** Whether a piece of evidence shows what such a change is made to. */
function shows(file: Pick<ReadFile, 'covers' | 'facts'>, yields: string): boolean {
  const covers = (...names: readonly string[]): boolean => file.covers.some((c) => names.includes(c));
  switch (yields) {
    case 'forwards': return covers('forwards', 'rules4');
    case 'rules': return covers('rules4', 'rules6') || file.facts.some((f) => f.kind === 'noted' && FIREWALL_TOPICS.has(f.topic));
    case 'sockets': return covers('sockets-tcp', 'sockets-udp') || file.facts.some((f) => f.kind === 'socket');
    case 'routes': return covers('routes4', 'routes6') || file.facts.some((f) => f.kind === 'setting');
    case 'name': return file.facts.some((f) => f.kind === 'name');
    case 'status': return file.facts.some((f) => f.kind === 'labelled' && f.what === 'wan-address');
    default: return false;
  }
}

/** A piece without a time is from before every change: it was there when the change was worked out. */
const isBefore = (file: Pick<ReadFile, 'at'>, change: Change): boolean => file.at === null || file.at < change.at;
/** A name is looked up anywhere. */
const isAt = (file: Pick<ReadFile, 'stop'>, change: Change): boolean => file.stop === change.stop || change.yields === 'name';

/** The change since which a piece of evidence is stale; null where it is not. */
export const staleSince = (file: ReadFile, document: CaseDocument): Change | null => changesOf(document).find((c) => isAt(file, c) && isBefore(file, c) && shows(file, c.yields)) ?? null;

/** Changes that no evidence shows yet. */
export const awaited = (facts: CaseFacts): Change[] => changesOf(facts.document).filter((c) => !facts.files.some((f) => isAt(f, c) && !isBefore(f, c) && shows(f, c.yields)));
