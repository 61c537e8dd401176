import { ADDRESS_LENGTH, sameAddress, type Address } from '../net/index.ts';
import { everyTransport, type Machine, type Site } from '../site/index.ts';

/**
 * The site with a machine for a sender that no evidence describes: a client stop of which nothing is known stands for it,
 * else a stop called `client`. It can talk to its own network, and through that network's router.
 */
export function withSender(site: Site, address: Address): Site {
  if (site.machines.some((m) => m.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, address))))) return site;
  const free = site.machines.find((m) => m.role === 'client' && m.interfaces === null);
  const bare = bareMachine(free?.id ?? 'client', address);
  return { ...site, machines: [...site.machines.filter((m) => m !== free), bare] };
}

/** A machine of which only one address is known. */
export function bareMachine(id: string, address: Address): Machine {
  return {
    id, role: 'client',
    interfaces: [{
      name: 'net', index: null, adminUp: true, carrier: null, mac: null, loopback: false, noNeighbours: false, source: null,
      addresses: [{ address, prefixLength: ADDRESS_LENGTH[address.family], peer: null, secondary: false, unusable: false, scope: 'global', source: null }],
    }],
    routes: { 4: null, 6: null }, policy: { 4: null, 6: null }, sockets: null, neighbours: [], settings: new Map(), program: { 4: null, 6: null },
    presumed: { forwarding: false, socketsComplete: everyTransport(false), kind: 'bare' },
  };
}
