import { strToU8 } from 'fflate';
import { checkCaseDocument, type CaseDocument } from '../case/index.ts';
import { readCase } from '../ledger/index.ts';
import { buildSite } from '../model/index.ts';
import { proposals, type Proposal } from '../proposals/index.ts';
import { proposalWords } from '../words/index.ts';
import { ADDRESSES } from './gullcast.ts';

/** A case with a client, a gateway and a server, for what is proposed from its evidence. */
export const PATH = [
  { id: 'client', role: 'client', name: 'Client' },
  { id: 'carrier', role: 'carrier', name: 'Carrier' },
  { id: 'gateway', role: 'gateway', name: 'Gateway' },
  { id: 'server', role: 'host', name: 'Server' },
] as const;
export { ADDRESSES };

export function caseOf(more: Record<string, unknown> = {}): CaseDocument {
  return checkCaseDocument({
    format: 'bright-ferry-case',
    version: 1,
    title: 'Gullcast',
    path: PATH,
    service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
    client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
    ...more,
  });
}
export const factsOf = (document: CaseDocument, files: Readonly<Record<string, string>>) =>
  readCase({
    document,
    files: new Map(Object.entries(files).map(([name, text]) => [`evidence/${name}.txt`, strToU8(text)])),
  });
export const read = (files: Readonly<Record<string, string>>, document = caseOf()): Proposal[] => {
  const facts = factsOf(document, files);
  return proposals(facts, buildSite(facts));
};
export const said = (list: readonly Proposal[]): string[] =>
  list.map((p) => proposalWords(p, (id) => PATH.find((s) => s.id === id)?.name ?? id ?? '').text);
export const path = (d: CaseDocument): string => d.path.map((s) => s.id).join(' ');
