import { ADDRESS_LENGTH, type Address, type Prefix } from '../net/index.ts';
import { everyTransport, type Machine, type NextHop, type Route } from './machine.ts';

/** A route of the main table by one hop, known in all that is not given. */
export const routeTo = (destination: Prefix, hop: NextHop, more: Partial<Route> = {}): Route => ({
  family: destination.family,
  table: 'main',
  type: 'unicast',
  destination,
  hops: [hop],
  metric: 0,
  preferred: null,
  dead: false,
  unmodelled: null,
  source: null,
  ...more,
});

/** A machine of which only one address is known. */
export function bareMachine(id: string, address: Address): Machine {
  return {
    id,
    role: 'client',
    interfaces: [
      {
        name: 'net',
        index: null,
        adminUp: true,
        carrier: null,
        mac: null,
        loopback: false,
        noNeighbours: false,
        source: null,
        addresses: [
          {
            address,
            prefixLength: ADDRESS_LENGTH[address.family],
            peer: null,
            secondary: false,
            unusable: false,
            scope: 'global',
            source: null,
          },
        ],
      },
    ],
    routes: { 4: null, 6: null },
    policy: { 4: null, 6: null },
    sockets: null,
    neighbours: [],
    settings: new Map(),
    program: { 4: null, 6: null },
    presumed: { forwarding: false, socketsComplete: everyTransport(false), kind: 'bare' },
  };
}

/** Kernel settings of a machine that does not look at the way back of what comes in (RFC 3704). */
export const withoutSourceCheck = (
  interfaces: readonly { readonly name: string }[],
): [string, { readonly value: string; readonly source: null }][] =>
  ['all', ...interfaces.map((i) => i.name)].map((name) => [
    `net.ipv4.conf.${name}.rp_filter`,
    { value: '0', source: null },
  ]);
