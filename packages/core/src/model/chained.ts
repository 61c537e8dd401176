import { prefixContains, prefixOf, sameAddress, type Address } from '../net/index.ts';
import {
  routeTo,
  type InterfaceAddress,
  type Machine,
  type NetInterface,
  type Route,
} from '../site/index.ts';

/** Roles whose machines pass packets on for others. */
const PASS_ON: readonly Machine['role'][] = ['gateway', 'edge', 'carrier', 'relay'];

/**
 * Routers behind other routers: where nobody said the next hop of a default route, it leads to the router on
 * whose inside network the outside address lies. (A plain router's page and a form seldom name it.)
 */
export function chained(machines: readonly Machine[]): Machine[] {
  return machines.map((machine) => {
    const out = isPlain(machine) ? outsideOf(machine) : null;
    const near = out && nextRouter(machine, out.own, machines);
    return out && near ? led(machine, out.line, out.own, near) : machine;
  });
}

const isPlain = ({ presumed, role }: Machine): boolean => presumed.kind === 'box' && PASS_ON.includes(role);

const isDefault = ({ destination, hops }: Route, device: string | null = null): boolean =>
  destination.length === 0 && hops.some((h) => h.via === null && (device === null || h.device === device));

/** The line by which a default route leaves without a next hop, and its address. */
function outsideOf({ routes, interfaces }: Machine) {
  const device = routes[4]?.find((r) => isDefault(r))?.hops[0]?.device;
  const line = interfaces?.find((i) => i.name === device);
  const own = line?.addresses.find((a) => a.address.family === 4);
  return line && own ? { line, own } : null;
}

/** The address of the router on whose inside network an address lies. */
function nextRouter(
  machine: Machine,
  { address }: InterfaceAddress,
  machines: readonly Machine[],
): InterfaceAddress | undefined {
  return machines
    .filter((m) => m !== machine && PASS_ON.includes(m.role))
    .flatMap((m) => (m.interfaces ?? []).filter((i) => !leadsOut(m, i)))
    .flatMap((i) => i.addresses)
    .find((a) => a.prefixLength < 31 && holds(a, address));
}

/** Beside it on one line outward stands no router before it. */
const leadsOut = ({ routes }: Machine, { name }: NetInterface): boolean =>
  routes[4]?.some((r) => r.destination.length === 0 && r.hops.some((h) => h.device === name)) ?? false;

const holds = (a: InterfaceAddress, address: Address): boolean =>
  a.address.family === address.family &&
  !sameAddress(a.address, address) &&
  prefixContains(prefixOf(a.address, a.prefixLength), address);

function led(machine: Machine, line: NetInterface, own: InterfaceAddress, near: InterfaceAddress): Machine {
  const hop = { via: near.address, device: line.name };
  const routes = (machine.routes[4] ?? []).map((r) => (isDefault(r, line.name) ? { ...r, hops: [hop] } : r));
  const link = routeTo(prefixOf(near.address, near.prefixLength), { via: null, device: line.name });
  const addresses = line.addresses.map((a) => (a === own ? { ...a, prefixLength: near.prefixLength } : a));
  return {
    ...machine,
    interfaces: (machine.interfaces ?? []).map((i) => (i === line ? { ...line, addresses } : i)),
    routes: { ...machine.routes, 4: [...routes, link] },
  };
}
