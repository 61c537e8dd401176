import type { CaseFacts } from '../../ledger/index.ts';
import { dialSlips } from './dialSlips.ts';
import { endpointLabel } from './endpoints.ts';
import type { Aim } from './packet.ts';

export const serviceLine = (facts: CaseFacts): string => {
  const s = facts.document.service;
  return [s?.name, (s?.endpoints ?? []).map(endpointLabel).join(', ')].filter(Boolean).join(' · ');
};

export function clientLine(facts: CaseFacts, aim: Aim): string {
  const c = facts.document.client;
  return [
    c?.address ?? (aim.clientStandsIn ? 'client not known' : ''),
    c?.dials ? `dials ${c.dials}` : '',
    c?.says && c.says.length < 60 ? `“${c.says}”` : '',
  ]
    .filter(Boolean)
    .join(' ');
}

export const dialNotes = (facts: CaseFacts): string[] =>
  dialSlips(facts).map((p) => p.text + (p.corrected ? `: ${p.corrected}` : ''));
