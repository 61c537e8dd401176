import { contradictions, factsOf, slipOf, type CaseFacts } from '../ledger/index.ts';
import { isDismissed, serves } from '../case/index.ts';
import { parseAddress } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { ClientProposal, TypedProposal } from './types.ts';

/** `198.51.100.23:40112`, `[2001:db8::1]:40112` */
const hostOf = (endpoint: string): string =>
  /^\[([^\]]+)\]/.exec(endpoint)?.[1] ??
  (endpoint.split(':').length > 2 ? endpoint : endpoint.replace(/:\d+$/, ''));
const portOf = (endpoint: string): number => Number(/:(\d+)$/.exec(endpoint)?.[1] ?? 0);

interface Sender {
  readonly stop: string;
  readonly address: string;
  readonly source: SourceRef;
}

/** Senders that logs, session tables and refusals of programs show at the service's ports. */
function senders(facts: CaseFacts): Sender[] {
  const served = (protocol: string, port: number): boolean =>
    serves(facts.document.service?.endpoints, protocol, port);
  const refused = factsOf(facts, 'refused-client').map(({ fact, source, stop }) => ({
    stop,
    address: fact.value,
    source,
  }));
  const logged = factsOf(facts, 'try')
    .filter(({ fact }) => !fact.value.isOutward && served(fact.value.protocol, portOf(fact.value.to)))
    .map(({ fact, source, stop }) => ({ stop, address: hostOf(fact.value.from), source }));
  const tracked = factsOf(facts, 'session')
    .map(({ fact, source, stop }) => ({ stop, original: fact.value.original, source }))
    .filter(({ original }) => served(original.protocol, original.destinationPort ?? 0))
    .map(({ original, source, stop }) => ({ stop, address: original.source, source }));
  return [...refused, ...logged, ...tracked];
}

/** The client's written address against who really came. */
export function clientProposals(facts: CaseFacts): ClientProposal[] {
  const written = facts.document.client?.address;
  if (written && !parseAddress(written)) return [];
  const came = senders(facts);
  if (came.some((s) => s.address === written)) return [];
  const of = (address: string, source: SourceRef, slip: string | null): ClientProposal[] => {
    const id = `client/${address}`;
    if (isDismissed(facts.document, id)) return [];
    return [
      { kind: 'client-address', id, written: written ?? null, seen: address, slip, evidence: [source] },
    ];
  };
  for (const { address, source } of came) {
    const slip = written ? slipOf(address, written) : null;
    if (slip) return of(address, source, slip);
  }
  // One single sender that came as far as the server is the one who tried; of several nobody knows which, and
  // strangers knock at every gateway.
  const hosts = new Set(facts.document.path.filter((p) => p.role === 'host').map((p) => p.id));
  const [first] = came.filter((s) => hosts.has(s.stop));
  const isOnly = new Set(came.map((s) => s.address)).size === 1;
  return first && isOnly ? of(first.address, first.source, null) : [];
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
