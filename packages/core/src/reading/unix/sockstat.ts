import type { Problem, SocketFact } from '../../facts/index.ts';
import { parseAddress } from '../../net/index.ts';
import { nth } from '../../place/index.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { spanOf, type Line } from '../text.ts';

const HEADING = /^USER\s+COMMAND\s+PID\s+FD\s+PROTO\s+LOCAL ADDRESS\s+FOREIGN ADDRESS/;
const ROW = /^(\S+)\s+(\S+)\s+(\d+)\s+(\d+)\s+(tcp|udp)(46|4|6)?\s+(\S+)\s+(\S+)/;

/** Sockets of FreeBSD, with the programs that hold them (sockstat(1)). */
export const sockstat: Reader = {
  format: 'sockstat',
  title: 'sockets (sockstat)',
  recognise: (text) => (written(text.slice(0, 4000)).some((l) => HEADING.test(l.text)) ? 0.97 : 0),
  read(text) {
    const facts: SocketFact[] = [];
    const problems: Problem[] = [];
    for (const line of written(text)) {
      if (HEADING.test(line.text)) continue;
      const fact = socketOf(line);
      if (fact) facts.push(fact);
      else if (/\b(?:tcp|udp)/.test(line.text)) problems.push(problemAt(line, 'socket-unreadable'));
    }
    const covers = [
      ...(facts.some((f) => f.state === 'LISTEN') ? (['sockets-tcp'] as const) : []),
      ...(facts.some((f) => f.state === 'UNCONN') ? (['sockets-udp'] as const) : []),
    ];
    return { format: 'sockstat', facts, problems, covers };
  },
};

function socketOf(line: Line): SocketFact | null {
  const row = ROW.exec(line.text);
  if (!row) return null;
  const local = endOf(nth(row, 7));
  const peer = endOf(nth(row, 8));
  if (!local || local.port === null || !peer) return null;
  const protocol = nth(row, 5) as 'tcp' | 'udp';
  const both = row[6] === '46';
  const six = row[6] === '6' || (local.host?.includes(':') ?? false);
  const any = six ? '::' : '0.0.0.0';
  return {
    kind: 'socket',
    at: spanOf(line, nth(row, 7)),
    protocol,
    family: both && local.host === null ? 0 : familyOf(six),
    address: local.host ?? (both ? '*' : any),
    port: local.port,
    state: stateOf(protocol, peer.port),
    ...(peer.port !== null && peer.host !== null ? { peer: peer.host, peerPort: peer.port } : {}),
    processes: [{ name: nth(row, 2), pid: Number(row[3]), fd: Number(row[4]) }],
  };
}

const familyOf = (six: boolean): 4 | 6 => (six ? 6 : 4);

function stateOf(protocol: 'tcp' | 'udp', peerPort: number | null): string {
  if (peerPort !== null) return 'ESTAB';
  return protocol === 'tcp' ? 'LISTEN' : 'UNCONN';
}

/** `*:8211`, `192.168.50.20:8211`, `::1:5432`; null for what is no end of a socket. */
function endOf(text: string): { readonly host: string | null; readonly port: number | null } | null {
  const at = text.lastIndexOf(':');
  if (at < 0) return null;
  const [host, port] = [text.slice(0, at), text.slice(at + 1)];
  if (!/^(?:\d{1,5}|\*)$/.test(port) || Number(port) > 65535) return null;
  const plain = host.replace(/%\w+$/, '');
  if (host !== '*' && !parseAddress(plain)) return null;
  return { host: host === '*' ? null : plain, port: port === '*' ? null : Number(port) };
}
