import { contradictions, factsOf, slipOf, type CaseFacts } from '../ledger/index.ts';
import { isDismissed } from '../case/index.ts';
import { parseAddress } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { ClientProposal, TypedProposal } from './types.ts';

/** `198.51.100.23:40112`, `[2001:db8::1]:40112` */
const hostOf = (endpoint: string): string =>
  /^\[([^\]]+)\]/.exec(endpoint)?.[1] ??
  (endpoint.split(':').length > 2 ? endpoint : endpoint.replace(/:\d+$/, ''));
const portOf = (endpoint: string): number => Number(/:(\d+)$/.exec(endpoint)?.[1] ?? 0);

/** Senders that logs, session tables and refusals of programs show at the service's ports. */
function senders(facts: CaseFacts): { address: string; source: SourceRef }[] {
  const endpoints = facts.document.service?.endpoints ?? [];
  const served = (protocol: string, port: number): boolean =>
    endpoints.some((e) => e.protocol === protocol && port >= e.port && port <= (e.portEnd ?? e.port));
  return factsOf(facts, 'noted').flatMap(({ fact, source }): { address: string; source: SourceRef }[] => {
    const v = fact.value as Readonly<Record<string, unknown>> | null;
    if (fact.topic === 'client' && typeof fact.value === 'string') return [{ address: fact.value, source }];
    if (fact.topic === 'tries' && v && served(String(v['protocol']), portOf(String(v['to']))))
      return [{ address: hostOf(String(v['from'])), source }];
    const original =
      fact.topic === 'flows' && v
        ? (v['original'] as { protocol?: string; source?: string; destinationPort?: number } | undefined)
        : undefined;
    return original?.source && served(String(original.protocol), original.destinationPort ?? 0)
      ? [{ address: original.source, source }]
      : [];
  });
}

/** The client's written address against who really came. */
export function clientProposals(facts: CaseFacts): ClientProposal[] {
  const written = facts.document.client?.address;
  if (!written || !parseAddress(written)) return [];
  const came = senders(facts);
  if (came.some((s) => s.address === written)) return [];
  for (const { address, source } of came) {
    const slip = slipOf(address, written);
    const id = `client/${address}`;
    if (slip && !isDismissed(facts.document, id))
      return [{ kind: 'client-address', id, written, seen: address, slip, evidence: [source] }];
  }
  return [];
}

/** Typed values that a printed one contradicts by one slip. */
export function typedProposals(facts: CaseFacts): TypedProposal[] {
  return contradictions(facts).flatMap((c): TypedProposal[] => {
    const [printed, typed] = [c.sides.find((s) => !s.typed), c.sides.find((s) => s.typed)];
    const id = `typed/${typed?.stop}/${typed?.value}`;
    if (!c.slip || !printed || !typed || isDismissed(facts.document, id)) return [];
    return [
      {
        kind: 'typed-slip',
        id,
        stop: typed.stop,
        file: typed.source.file,
        typed: typed.value,
        printed: printed.value,
        slip: c.slip,
        evidence: [printed.source, typed.source],
      },
    ];
  });
}
