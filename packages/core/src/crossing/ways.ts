import { addressKind, type Address, type Family } from '../net/index.ts';
import type { Exit } from './mover.ts';
import type { Ending, ErrorKind } from './types.ts';
import type { Machine, NetInterface } from '../site/index.ts';
import type { Subject, Need } from '../rules/index.ts';
import type { RouteAnswer, RouteQuery } from './routing.ts';

/** Where a route leads: to the machine itself, out of it, or nowhere. */
export type Way =
  { readonly local: true } | { readonly local: false; readonly exit: Exit } | { readonly end: Ending };
export const isLoopback = (a: Address): boolean => addressKind(a).kind === 'loopback';

export function allowsLoopback(machine: Machine, device: NetInterface, family: Family): boolean {
  const on = (name: string): boolean =>
    machine.settings.get(`net.ipv4.conf.${name}.route_localnet`)?.value === '1';
  return family === 4 && (on('all') || on(device.name));
}

export const isMartian = (address: Address | null): string => (address === null ? 'sound' : 'martian');

export const queryOf = (packet: Subject, from: string): RouteQuery => ({
  destination: packet.destination,
  source: packet.source,
  in: from,
  mark: packet.mark,
  protocol: packet.protocol,
  sport: packet.sport,
  dport: packet.dport,
});

export function routeKey(answer: RouteAnswer): string {
  if (answer.is !== 'unicast') return answer.is;
  const { hop, route } = answer;
  return `${hop.device} ${hop.via?.bits ?? 'direct'} ${route.destination.length === 0}`;
}

export function wayOf(machine: Machine, answer: RouteAnswer, destination: Address): Way {
  switch (answer.is) {
    case 'local':
      return { local: true };
    case 'unicast': {
      const { device, via } = answer.hop;
      const need: Need = { need: 'interface-of-route', stop: machine.id, destination };
      if (device === null) return { end: { kind: 'not-known', need } };
      return { local: false, exit: { out: device, via, viaDefault: answer.route.destination.length === 0 } };
    }
    case 'blackhole':
    case 'unreachable':
    case 'prohibit':
      return { end: { kind: 'special-route', type: answer.is, by: answer.by } };
    case 'none':
      return { end: { kind: 'no-route', destination } };
    case 'unknown':
      return { end: { kind: 'not-known', need: answer.need } };
    case 'broadcast':
    case 'multicast':
    case 'anycast':
      return {
        end: { kind: 'not-known', need: { need: 'kind-of-packet', stop: machine.id, kind: answer.is } },
      };
  }
}

/** What the sender is told of a packet that has no way (RFC 1812 §5.2.7.1). */
export function refusalOf(ending: Ending): ErrorKind {
  if (ending.kind !== 'special-route') return 'net-unreachable';
  return ending.type === 'prohibit' ? 'admin-prohibited' : 'host-unreachable';
}
