import { parseDialled } from '../intake/index.ts';
import { addressKind, isReachable, parseAddress, sameAddress, type Address } from '../net/index.ts';
import { settingsOfKind, isDismissed } from '../case/index.ts';
import { type Machine, type Site } from '../site/index.ts';
import type { SourceRef } from '../place/index.ts';
import { factsOf, type CaseFacts, labelledAddress } from '../ledger/index.ts';

/** What a technician has said of a router before the outermost gateway: that there is none. */
export const secondGatewayId = (gateway: string): string => `second-gateway/${gateway}`;

/**
 * Addresses that only a carrier gives out, so that nothing from outside comes in by itself (RFC 6598, RFC
 * 6333).
 */
const isCarriers = (a: Address): boolean => ['shared', 'ds-lite'].includes(addressKind(a).kind);

/**
 * Addresses of a gateway's other lines, which its page lists beside the one that is modelled: packets for
 * them come to it, and what it does with them is not known.
 */
export function otherLines(facts: CaseFacts, machines: readonly Machine[]): NonNullable<Site['fronts']> {
  return facts.document.path
    .filter((s) => s.role === 'gateway')
    .flatMap(({ id }) => {
      const own = labelledAddress(facts, id, 'wan-address');
      return factsOf(facts, 'labelled').flatMap(({ stop, fact, source }) => {
        const address = fact.what === 'wan-address' && stop === id ? parseAddress(fact.value) : null;
        const isBeside = own !== null && source.file === own.source.file;
        return address && isBeside && isReachable(address) && !isHeld(machines, address)
          ? [{ address, machine: id, interface: null }]
          : [];
      });
    });
}

const isHeld = (machines: readonly Machine[], address: Address): boolean =>
  machines.some((m) => m.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, address))));

/** Whether the outermost device may hold an address that nobody has told of yet. */
export function outsideUnknown(
  facts: CaseFacts,
  machines: readonly Machine[],
  fronts: NonNullable<Site['fronts']>,
): Site['outsideUnknown'] | null {
  const stop = facts.document.path.find(
    (s) => s.role === 'gateway' || s.role === 'host' || s.role === 'edge',
  );
  const machine = machines.find((m) => m.id === stop?.id);
  if (!machine) return null;
  if (machine.role === 'edge') {
    const said =
      fronts.some((f) => f.machine === machine.id) ||
      settingsOfKind(stop, 'allow-list')?.publicAddress !== undefined;
    return said
      ? null
      : {
          stop: machine.id,
          need: { need: 'public-address-turned', stop: machine.id },
          yields: 'seen-address',
        };
  }
  if (machine.role === 'host') {
    if (!machine.interfaces || machine.mayHoldMore)
      return { stop: machine.id, need: { need: 'addresses', stop: machine.id }, yields: 'addresses' };
    // A rented machine may have private addresses only, and a public one that its provider turns.
    const reachable = machine.interfaces.some((i) =>
      i.addresses.some((a) => a.address.family === 4 && isReachable(a.address)),
    );
    return reachable
      ? null
      : {
          stop: machine.id,
          need: { need: 'public-address-of-private', stop: machine.id },
          yields: 'seen-address',
        };
  }
  const wan = machine.interfaces ? wanAddress(facts, machine) : null;
  if (!wan)
    return { stop: machine.id, need: { need: 'outside-address', stop: machine.id }, yields: 'status' };
  if (
    isReachable(wan.address) ||
    isCarriers(wan.address) ||
    isDismissed(facts.document, secondGatewayId(machine.id))
  )
    return null;
  return {
    stop: machine.id,
    need: { need: 'router-before', stop: machine.id, address: wan.address },
    yields: 'seen-address',
  };
}

/**
 * Public addresses that a carrier answers for on behalf of many customers: the one that the internet sees (or
 * that is dialled) while the gateway's own WAN address is shared, private, or only good for a tunnel to the
 * carrier.
 */
export function sharedAddresses(
  facts: CaseFacts,
  machines: readonly Machine[],
  carrier: string,
): Site['sharedAddresses'] {
  const out: { address: Address; carrier: string; gateway: string; source: SourceRef | null }[] = [];
  const outer = machines.find((m) => m.role === 'gateway');
  if (!outer?.interfaces) return out;
  const wan = wanAddress(facts, outer);
  const held = (a: Address): boolean =>
    machines.some((m) => m.interfaces?.some((i) => i.addresses.some((x) => sameAddress(x.address, a))));
  for (const stop of facts.document.path) {
    const settings = settingsOfKind(stop, 'carrier');
    for (const text of settings?.ipv4 === 'own' ? [] : (settings?.sharedAddresses ?? [])) {
      const address = parseAddress(text);
      if (address && !held(address)) out.push({ address, carrier: stop.id, gateway: outer.id, source: null });
    }
  }
  if (!wan || isReachable(wan.address)) return out;
  // Behind a private address there may be a router of the owner's, which may forward.
  if (!isCarriers(wan.address) && !isDismissed(facts.document, secondGatewayId(outer.id))) return out;
  const seen = labelledAddress(facts, null, 'seen-address');
  if (seen && isReachable(seen.address) && !held(seen.address))
    out.push({ address: seen.address, carrier, gateway: outer.id, source: seen.source });
  const dialled = parseAddress(parseDialled(facts.document.client?.dials ?? '')?.host ?? '');
  for (const { a, source } of [
    ...factsOf(facts, 'name').flatMap(({ fact, source }) =>
      fact.answers.map((answer) => ({ a: parseAddress(answer), source: source as SourceRef | null })),
    ),
    { a: dialled, source: null },
  ]) {
    if (a && a.family === 4 && isReachable(a) && !held(a) && !out.some((o) => sameAddress(o.address, a)))
      out.push({ address: a, carrier, gateway: outer.id, source });
  }
  return out;
}

/** A gateway's outside address: said on its page, else the one on the interface of its default route. */
export function wanAddress(
  facts: CaseFacts,
  gateway: Machine,
): { address: Address; source: SourceRef | null } | null {
  const said = labelledAddress(facts, gateway.id, 'wan-address');
  if (said) return said;
  const device = gateway.routes[4]?.find((r) => r.destination.length === 0)?.hops[0]?.device;
  const own = gateway.interfaces
    ?.find((i) => i.name === device)
    ?.addresses.find((a) => a.address.family === 4);
  return own ? { address: own.address, source: own.source } : null;
}
