import type { CaseDocument, Change } from '../case/index.ts';
import type { CaseFacts, ReadFile } from './caseFacts.ts';

const FIREWALL_TOPICS = new Set([
  'hostRows',
  'hostProfiles',
  'activeProfile',
  'hostRules',
  'bsdRules',
  'allowRows',
  'filterRows',
]);

/** Whether a piece of evidence shows what such a change is made to. */
function shows(file: Pick<ReadFile, 'covers' | 'facts'>, yields: string): boolean {
  const covers = (...names: readonly string[]): boolean => file.covers.some((c) => names.includes(c));
  switch (yields) {
    case 'forwards':
      return covers('forwards', 'rules4');
    case 'rules':
      return (
        covers('rules4', 'rules6') ||
        file.facts.some((f) => f.kind === 'noted' && FIREWALL_TOPICS.has(f.topic))
      );
    case 'sockets':
      return covers('sockets-tcp', 'sockets-udp') || file.facts.some((f) => f.kind === 'socket');
    case 'routes':
      return covers('routes4', 'routes6') || file.facts.some((f) => f.kind === 'setting');
    case 'name':
      return file.facts.some((f) => f.kind === 'name');
    case 'status':
      return file.facts.some((f) => f.kind === 'labelled' && f.what === 'wan-address');
    default:
      return false;
  }
}

/** A piece without a time is from before every change: it was there when the change was worked out. */
const isBefore = (file: Pick<ReadFile, 'at'>, change: Change): boolean =>
  file.at === null || file.at < change.at;
/** A name is looked up anywhere. */
const isAt = (file: Pick<ReadFile, 'stop'>, change: Change): boolean =>
  file.stop === change.stop || change.yields === 'name';

/** The change since which a piece of evidence is stale; null where it is not. */
export const staleSince = (file: ReadFile, document: CaseDocument): Change | null =>
  document.changes?.find((c) => isAt(file, c) && isBefore(file, c) && shows(file, c.yields)) ?? null;

/** Changes that no evidence shows yet. */
export const awaited = (facts: CaseFacts): Change[] =>
  (facts.document.changes ?? []).filter(
    (c) => !facts.files.some((f) => isAt(f, c) && !isBefore(f, c) && shows(f, c.yields)),
  );
