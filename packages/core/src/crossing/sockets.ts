import { formatEndpoint, sameAddress, type Header } from '../net/index.ts';
import type { Ask } from '../rules/index.ts';
import type { Machine, Socket, SourceRef } from '../site/index.ts';

export type SocketAnswer =
  | { readonly is: 'open'; readonly socket: Socket | null }
  | { readonly is: 'closed'; readonly near: readonly Socket[]; readonly source: SourceRef | null }
  | { readonly is: 'unknown'; readonly needs: string };

/**
 * The socket that takes a packet (inet_lookup_listener): same protocol, family and port, bound to the address asked for or
 * to any, and to no other interface. `near` holds the sockets that differ in one of these, for the explanation.
 */
export function findSocket(machine: Machine, { transport, destination }: Header, device: string | null, ask: Ask): SocketAnswer {
  const { sockets } = machine;
  if (!sockets) return { is: 'unknown', needs: `what listens on ${machine.id} (${transport} ${destination.port})` };
  const samePort = sockets.filter((s) => s.port === destination.port);
  const open = samePort.find(
    (s) => s.transport === transport && s.families.includes(destination.address.family) && (s.address === null || sameAddress(s.address, destination.address)) && (s.device === null || s.device === device),
  );
  if (open) return { is: 'open', socket: open };
  const perhaps = destination.address.family === 4 ? samePort.find((s) => s.transport === transport && s.perhapsFour && (s.device === null || s.device === device)) : undefined;
  if (perhaps) {
    const four = ask({ key: `${machine.id}/dual/${transport}/${destination.port}`, needs: `whether ${perhaps.program ?? 'the program'} on ${machine.id} takes IPv4 on ${transport} ${destination.port} too (the listing shows “:::${destination.port}” either way)`, settle: { stop: machine.id, yields: 'sockets' } }, 2) === 0;
    if (four) return { is: 'open', socket: perhaps };
  }
  if (!machine.presumed.socketsComplete[transport]) {
    const closed = ask({ key: `${machine.id}/socket/${transport}/${destination.port}`, needs: `whether ${machine.id} itself listens on ${transport} ${formatEndpoint(destination)}`, settle: { stop: machine.id, yields: 'sockets' } }, 2) === 0;
    if (!closed) return { is: 'open', socket: null };
  }
  return { is: 'closed', near: samePort, source: sockets[0]?.source ?? null };
}
