import { forwardCompiler } from './forwardCompiler.ts';
import { withId } from '../place/index.ts';
import {
  type ForwardTableSettings,
  type ForwardRow,
  type HostSurroundings,
  withDevice,
  ownSockets,
  forwardTableDevice,
  type ProtectedNet,
} from '../devices/index.ts';
import { type Address, ADDRESS_LENGTH, prefixOf } from '../net/index.ts';
import { everyTransport, type Machine } from '../site/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import { furtherForwards } from './forwards.ts';
import { pageManner } from './pages.ts';

export function surroundings(machine: Machine): HostSurroundings {
  const subnets = (machine.interfaces ?? [])
    .filter((i) => !i.loopback)
    .flatMap((i) =>
      i.addresses.filter((a) => a.scope !== 'link').map((a) => prefixOf(a.address, a.prefixLength)),
    );
  return { subnets, sockets: machine.sockets };
}

/**
 * The networks on which the hosts behind a perimeter stand, with the gateway that their default route names.
 */
export function protectedNets(machines: readonly Machine[]): ProtectedNet[] {
  return machines
    .filter((m) => m.role === 'host')
    .flatMap((m) =>
      (m.interfaces ?? [])
        .filter((i) => !i.loopback && i.adminUp)
        .flatMap((i) =>
          i.addresses
            .filter((a) => a.scope !== 'link' && !a.unusable && a.scope !== 'host')
            .map((a): ProtectedNet => {
              const via = m.routes[a.address.family]?.find((r) => r.destination.length === 0)?.hops[0]?.via;
              const base = prefixOf(a.address, a.prefixLength);
              const first: Address = {
                family: base.family,
                bits:
                  a.prefixLength >= ADDRESS_LENGTH[base.family] - 1
                    ? a.address.bits ^ 1n
                    : base.bits + (base.bits + 1n === a.address.bits ? 2n : 1n),
              };
              return { gateway: via ?? first, length: a.prefixLength, machine: [a.address] };
            }),
        ),
    );
}

/**
 * A table with lines of its own is the whole router; without them it tells how the router that the evidence
 * shows behaves.
 */
export function forwardTable(
  settings: ForwardTableSettings,
  machine: Machine,
  facts: CaseFacts,
  rows: readonly ForwardRow[],
): Machine {
  if (settings.interfaces && settings.interfaces.length > 0) {
    const device = forwardTableDevice(
      settings,
      settings.interfaces,
      rows,
      furtherForwards(facts, machine.id),
      pageManner(facts, machine.id, settings),
    );
    const laid = withDevice(machine, device);
    // What a simple router does with IPv6 is not told by its table of IPv4 forwards (RFC 6092).
    return { ...laid, program: { 4: laid.program[4], 6: machine.program[6] } };
  }
  if (!machine.interfaces) return machine;
  // Without a table of its own it only tells how the router that the evidence shows behaves.
  const program = forwardCompiler(withId(facts.document.path, machine.id), machine, facts)(rows);
  const own = ownSockets(settings.ownPorts, 'forward table: own ports');
  return {
    ...machine,
    program: { 4: program, 6: machine.program[6] },
    sockets: own ?? machine.sockets,
    presumed: own ? { ...machine.presumed, socketsComplete: everyTransport(true) } : machine.presumed,
  };
}
