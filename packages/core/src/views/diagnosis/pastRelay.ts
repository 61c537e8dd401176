import { settingsOfKind } from '../../case/index.ts';
import { hasEnded, type RelaySettings } from '../../devices/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { parseDialled } from '../../intake/index.ts';
import { parseAddress, type Address } from '../../net/index.ts';

/** The relay of a case, as somebody has filled it in; null: there is none, or nothing is known of it. */
export function relayOf({ document }: CaseFacts): RelaySettings | null {
  const stop = document.path.find((s) => s.role === 'relay');
  return settingsOfKind(stop, 'relay');
}

/**
 * A case without the routers beside a relay's tunnel: a relay that hides its clients is asked and answered
 * through the tunnel alone, and what those routers forward is of no matter.
 */
export function pastRelay(facts: CaseFacts): CaseFacts {
  if (relayOf(facts)?.hidesClient !== true) return facts;
  const { document } = facts;
  return { ...facts, document: { ...document, path: document.path.filter((s) => s.role !== 'gateway') } };
}

/** Where a relay leads what is dialled, or what the service listens on; null: no lease is for either. */
export function relayEnd(facts: CaseFacts): Address | null {
  const relay = relayOf(facts);
  const { service, client } = facts.document;
  const ports = (service?.endpoints ?? []).map((e) => e.port);
  const dialled = parseDialled(client?.dials ?? '')?.port ?? null;
  const leases = (relay?.leases ?? []).filter((l) => !hasEnded(l, relay?.at));
  const own =
    leases.find((l) => l.port === dialled) ??
    leases.find((l) => ports.includes(l.toPort ?? l.port)) ??
    relay?.leases.find((l) => l.port === dialled);
  return own ? parseAddress(own.to) : null;
}
