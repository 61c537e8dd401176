import {
  isReachable,
  prefixContains,
  prefixOf,
  sameAddress,
  type Address,
  type Family,
} from '../net/index.ts';
import type { Machine, NetInterface, Site } from '../site/index.ts';

/** Devices that stand between the internet and what is behind them. */
const STANDING: ReadonlySet<string> = new Set(['gateway', 'edge']);

/**
 * Where packets from the internet come in for an address that an inner machine holds. Whatever the
 * address, a packet passes every device that stands between: a globally routed address inside does not
 * lie outside its router (RFC 6092 §1). `interface` null: where the outermost device has its line outward
 * is not known.
 */
export function entriesOf(machines: readonly Machine[]): NonNullable<Site['fronts']> {
  return machines.flatMap((machine) => {
    if (machine.role === 'client' || machine.role === 'carrier') return [];
    return (machine.interfaces ?? [])
      .filter((i) => !i.loopback)
      .flatMap((own) =>
        own.addresses.flatMap(({ address, scope }) => {
          if (scope === 'link' || !isReachable(address)) return [];
          const outer = outermost(machines, machine, own, address.family);
          return outer === machine
            ? []
            : [{ address, machine: outer.id, interface: outsideOf(outer, address.family)?.name ?? null }];
        }),
      );
  });
}

/** The last device on the way out of a machine, itself where none stands before it. */
function outermost(machines: readonly Machine[], from: Machine, by: NetInterface, family: Family): Machine {
  const passed = new Set([from]);
  let machine = from;
  let own: NetInterface | null = by;
  for (;;) {
    const next = own && before(machines, machine, own, family);
    if (!next || passed.has(next)) return machine;
    passed.add(next);
    machine = next;
    own = outsideOf(next, family);
  }
}

/**
 * The device before a machine: the one that its default route names, else the one on whose inside it
 * stands.
 */
function before(
  machines: readonly Machine[],
  machine: Machine,
  own: NetInterface,
  family: Family,
): Machine | null {
  const hop = defaultHop(machine, family);
  const via = hop?.via;
  const named = via
    ? machines.find((m) => m !== machine && STANDING.has(m.role) && holds(m, via))
    : undefined;
  if (named) return named;
  // Another line leads outward: what is on this one is not told by it.
  if (hop?.device && hop.device !== own.name && !own.addresses.some((a) => a.address.family === 4))
    return null;
  // Of a device whose addresses are not known it is not known either that it does not stand between.
  return (
    machines
      .slice(0, machines.indexOf(machine))
      .filter((m) => STANDING.has(m.role))
      .findLast((m) => m.interfaces === null || insideHolds(m, own)) ?? null
  );
}

/** Whether a device has the network of another machine's interface on its inside. */
function insideHolds(device: Machine, own: NetInterface): boolean {
  const outside = outsideOf(device, 4) ?? outsideOf(device, 6);
  return (device.interfaces ?? [])
    .filter((i) => i !== outside && !i.loopback)
    .flatMap((i) => i.addresses)
    .filter((a) => a.scope !== 'link' && a.prefixLength > 0)
    .some((a) => own.addresses.some((x) => prefixContains(prefixOf(a.address, a.prefixLength), x.address)));
}

const defaultHop = (machine: Machine, family: Family) =>
  [...(machine.routes[family] ?? [])]
    .filter((r) => r.destination.length === 0 && r.type === 'unicast')
    .sort((a, b) => a.metric - b.metric)[0]?.hops[0];

/** The interface by which a device goes out, in the family or else in the other one. */
function outsideOf(machine: Machine, family: Family): NetInterface | null {
  const device = (defaultHop(machine, family) ?? defaultHop(machine, family === 4 ? 6 : 4))?.device;
  return machine.interfaces?.find((i) => i.name === device) ?? null;
}

const holds = (machine: Machine, address: Address): boolean =>
  machine.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, address))) ?? false;
