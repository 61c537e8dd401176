import { ADDRESS_LENGTH, parsePrefix, prefix, prefixOf, type Address, type Family } from '../net/index.ts';
import type { Program } from '../rules/index.ts';
import {
  everyTransport,
  type Machine,
  type NetInterface,
  type PolicyRule,
  type Presumed,
  type Route,
  type Socket,
  withoutSourceCheck,
  routeTo,
} from '../site/index.ts';
import { addressOf, portsOf, SettingsError } from './build.ts';
import type { DeviceInterface } from './line.ts';

/** What a device is, compiled from its settings. */
export interface Device {
  readonly interfaces: readonly NetInterface[];
  readonly routes: readonly Route[];
  readonly policy?: readonly PolicyRule[];
  readonly program: Program;
  /** Ports that the device itself answers on; null: not known. */
  readonly sockets: readonly Socket[] | null;
  readonly presumed: Presumed;
  /** Addresses that the internet delivers to this device although it does not hold them. */
  readonly fronts?: readonly string[];
}

const INSIDE_LENGTH = 24;

/** The device's lines as interfaces of a machine. */
export function interfacesOf(list: readonly DeviceInterface[], where: string): NetInterface[] {
  return list.map((d, index): NetInterface => ({
    name: d.name,
    index,
    adminUp: d.up !== false,
    carrier: d.up === false ? false : null,
    mac: null,
    loopback: false,
    noNeighbours: false,
    source: null,
    addresses: (d.addresses ?? []).map((text, i) => {
      const [at, length] = text.split('/');
      const address = addressOf(at!, `${where}: interface ${d.name}`);
      let prefixLength;
      if (length === undefined)
        prefixLength = d.side === 'outside' || i > 0 ? ADDRESS_LENGTH[address.family] : INSIDE_LENGTH;
      else prefixLength = Number(length);
      if (
        !Number.isInteger(prefixLength) ||
        prefixLength < 0 ||
        prefixLength > ADDRESS_LENGTH[address.family]
      )
        throw new SettingsError(`${where}: interface ${d.name}: “${text}” has no proper prefix length`);
      return {
        address,
        prefixLength,
        peer: null,
        secondary: i > 0,
        unusable: false,
        scope: 'global' as const,
        source: null,
      };
    }),
  }));
}

/** Everything, by a line, over the next router of its settings where they name one. */
const outward = (family: Family, device: string, via: string | null, table = 'main'): Route =>
  routeTo(
    prefix(family === 4 ? '0.0.0.0/0' : '::/0'),
    { via: via === null ? null : addressOf(via, 'gateway'), device },
    { table },
  );

/**
 * On-link routes, and a default route by the first outside line that is up; each family that has an outside
 * address.
 */
export function routesOf(list: readonly DeviceInterface[], interfaces: readonly NetInterface[]): Route[] {
  const connected = interfaces
    .filter((i) => i.adminUp)
    .flatMap((i) =>
      i.addresses
        .filter((a) => a.prefixLength < ADDRESS_LENGTH[a.address.family])

        .map((a) => routeTo(prefixOf(a.address, a.prefixLength), { via: null, device: i.name })),
    );
  const out = list.find((d) => d.side === 'outside' && d.up !== false);
  if (!out) return connected;
  const families = new Set(
    interfaces.find((i) => i.name === out.name)!.addresses.map((a) => a.address.family),
  );
  if (families.size === 0) families.add(4);
  return [
    ...connected,
    ...[...families].map((f) =>
      outward(
        f,
        out.name,
        out.gateway !== undefined && (out.gateway.includes(':') ? 6 : 4) === f ? out.gateway : null,
      ),
    ),
  ];
}

/**
 * One routing table per outside line, chosen by the mark that the session remembers: the answer leaves by the
 * line it came in on.
 */
export function linePolicy(list: readonly DeviceInterface[]): { routes: Route[]; policy: PolicyRule[] } {
  const outside = list.filter((d) => d.side === 'outside');
  const rule = (priority: number, table: string, mark: PolicyRule['mark']): PolicyRule => ({
    family: 4,
    priority,
    table,
    mark,
    not: false,
    from: null,
    to: null,
    in: null,
    out: null,
    protocol: null,
    sport: null,
    dport: null,
    action: 'lookup',
    goto: null,
    suppressPrefixLength: mark ? null : null,
    unmodelled: null,
    source: null,
  });
  return {
    routes: outside.map((d, i) => outward(4, d.name, d.gateway ?? null, `line${i + 1}`)),
    policy: [
      rule(0, 'local', null),
      { ...rule(10, 'main', null), suppressPrefixLength: 0 },
      ...outside.map((_, i) => rule(100 + i, `line${i + 1}`, { value: i + 1, mask: 0xff })),
      rule(32766, 'main', null),
    ],
  };
}

/** Ports that the device answers on itself. */
export function ownSockets(
  list: readonly { readonly protocol: 'tcp' | 'udp'; readonly ports: string | number }[] | undefined,
  where: string,
): Socket[] | null {
  if (!list) return null;
  return list.flatMap((o) =>
    (portsOf(o.ports, where) ?? []).flatMap(({ first, last }) =>
      Array.from({ length: Math.min(last - first + 1, 4096) }, (_, i): Socket => ({
        transport: o.protocol,
        address: null,
        families: [4, 6],
        port: first + i,
        device: null,
        program: 'the device itself',
        source: null,
      })),
    ),
  );
}

/** Lays a compiled device over what the evidence says of a stop; what the settings know stands. */
export function withDevice(machine: Machine, device: Device): Machine {
  return {
    ...machine,
    interfaces: device.interfaces,
    routes: {
      4: device.routes.filter((r) => r.family === 4),
      6: device.routes.filter((r) => r.family === 6),
    },
    policy: { 4: device.policy?.filter((p) => p.family === 4) ?? null, 6: null },
    sockets: device.sockets ?? machine.sockets ?? [],
    program: { 4: device.program, 6: device.program },
    settings: new Map([...withoutSourceCheck(device.interfaces), ...machine.settings]),
    presumed: { ...device.presumed, socketsComplete: everyTransport(device.sockets !== null) },
  };
}

/** An address or prefix of settings in one line of text. */
export const isPrefixText = (text: string): boolean => parsePrefix(text) !== null;

/** The interface with further addresses, each for itself alone. */
export const withFurther = (i: NetInterface, further: readonly Address[]): NetInterface => ({
  ...i,
  addresses: [
    ...i.addresses,
    ...further.map((address) => ({
      address,
      prefixLength: ADDRESS_LENGTH[address.family],
      peer: null,
      secondary: true,
      unusable: false,
      scope: 'global' as const,
      source: null,
    })),
  ],
});
