import { PROTOCOL, sameAddress, type Transport } from '../net/index.ts';
import type { Ask, Need, Subject } from '../rules/index.ts';
import type { Machine, Socket } from '../site/index.ts';
import type { SourceRef } from '../place/index.ts';

export type SocketAnswer =
  | { readonly is: 'open'; readonly socket: Socket | null }
  | { readonly is: 'closed'; readonly near: readonly Socket[]; readonly source: SourceRef | null }
  | { readonly is: 'unknown'; readonly need: Need };

const byPort = new WeakMap<readonly Socket[], Map<number, Socket[]>>();
const NONE: readonly Socket[] = [];

/** All sockets of a machine on a port, of whatever protocol and address. */
export function socketsOn({ sockets }: Machine, port: number | null): readonly Socket[] {
  if (!sockets || port === null) return NONE;
  let index = byPort.get(sockets);
  if (!index) {
    index = new Map();
    for (const socket of sockets) {
      const list = index.get(socket.port);
      if (list) list.push(socket);
      else index.set(socket.port, [socket]);
    }
    byPort.set(sockets, index);
  }
  return index.get(port) ?? NONE;
}

/**
 * The socket that takes a packet (inet_lookup_listener): same protocol, family and port, bound to the address
 * asked for or to any, and to no other interface. `near` holds the sockets that differ in one of these, for
 * the explanation.
 */
export function findSocket(machine: Machine, packet: Subject, ask: Ask): SocketAnswer {
  const transport: Transport = packet.protocol === PROTOCOL.udp ? 'udp' : 'tcp';
  const { family, destination, dport } = packet;
  const port = dport ?? 0;
  const { sockets } = machine;
  if (!sockets) return { is: 'unknown', need: { need: 'listeners', stop: machine.id, transport, port } };
  const samePort = socketsOn(machine, port);
  const here = samePort.filter(
    (s) => s.transport === transport && (s.device === null || s.device === packet.in),
  );
  const open = here.find(
    (s) => s.families.includes(family) && (s.address === null || sameAddress(s.address, destination)),
  );
  if (open) return { is: 'open', socket: open };
  const settle = { stop: machine.id, yields: 'sockets' } as const;
  const perhaps = family === 4 ? here.find((s) => s.perhapsFour) : undefined;
  if (perhaps) {
    const need: Need = {
      need: 'dual-stack',
      stop: machine.id,
      transport,
      port,
      program: perhaps.program ?? null,
    };
    const takesFour = ask({ key: `${machine.id}/dual/${transport}/${port}`, need, settle }, 2) === 0;
    if (takesFour) return { is: 'open', socket: perhaps };
  }
  if (!machine.presumed.socketsComplete[transport]) {
    const endpoint = { address: destination, port };
    const need: Need = { need: 'own-listener', stop: machine.id, transport, endpoint };
    const isClosed = ask({ key: `${machine.id}/socket/${transport}/${port}`, need, settle }, 2) === 0;
    if (!isClosed) return { is: 'open', socket: null };
  }
  return { is: 'closed', near: samePort, source: sockets[0]?.source ?? null };
}
