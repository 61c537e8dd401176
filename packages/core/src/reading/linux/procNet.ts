import type { Problem, SocketFact } from '../../facts/index.ts';
import { formatAddress } from '../../net/index.ts';
import { nth } from '../../place/index.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { spanOf, type Line } from '../text.ts';

const HEADING = /^\s*sl\s+local_address\s+(?:rem|remote)_address\s+st\s+tx_queue/;
const ROW = new RegExp(
  String.raw`^\s*\d+:\s+([0-9A-F]{8}|[0-9A-F]{32}):([0-9A-F]{4})\s+` +
    String.raw`([0-9A-F]{8}|[0-9A-F]{32}):([0-9A-F]{4})\s+([0-9A-F]{2})\s`,
  'i',
);
/** States of the kernel (include/net/tcp_states.h); 7 is a UDP socket without a far end. */
const STATES: Readonly<Record<string, string>> = { '01': 'ESTAB', '07': 'UNCONN', '0A': 'LISTEN' };

/**
 * `/proc/net/tcp`, `udp`, `tcp6`, `udp6`: one protocol and family alone, so that it never shows all that
 * listens (proc(5)).
 */
export const procNet: Reader = {
  format: 'proc-net',
  title: 'sockets as the kernel lists them (/proc/net)',
  recognise: (text) => (written(text.slice(0, 2000)).some((l) => HEADING.test(l.text)) ? 0.98 : 0),
  read(text, command = '') {
    const facts: SocketFact[] = [];
    const problems: Problem[] = [];
    const named = /\/proc\/net\/(tcp|udp)/.exec(command)?.[1] ?? null;
    const isUdp = named === null ? /\bdrops\s*$/m.test(text.slice(0, 400)) : named === 'udp';
    for (const line of written(text)) {
      if (HEADING.test(line.text)) continue;
      const fact = socketOf(line, isUdp ? 'udp' : 'tcp');
      if (fact) facts.push(fact);
      else problems.push(problemAt(line, 'no-socket-line'));
    }
    return { format: 'proc-net', facts, problems, covers: [] };
  },
};

function socketOf(line: Line, protocol: 'tcp' | 'udp'): SocketFact | null {
  const row = ROW.exec(line.text);
  if (!row) return null;
  const own = nth(row, 1);
  const peerPort = parseInt(nth(row, 4), 16);
  const family = own.length === 8 ? 4 : 6;
  const state = nth(row, 5).toUpperCase();
  return {
    kind: 'socket',
    at: spanOf(line, `${own}:${nth(row, 2)}`),
    protocol,
    family,
    address: addressIn(own),
    port: parseInt(nth(row, 2), 16),
    state: STATES[state] ?? `STATE-${state}`,
    ...(family === 6 && /^0+$/.test(own) ? { bothFamilies: 'not-said' as const } : {}),
    ...(peerPort > 0 ? { peer: addressIn(nth(row, 3)), peerPort } : {}),
    processes: [],
  };
}

/** Words of 32 bits, each in the order of the machine's own bytes: little-endian. */
function addressIn(hex: string): string {
  const words = hex.match(/.{8}/g) ?? [];
  const bytes = words.flatMap((w) => (w.match(/../g) ?? []).reverse());
  return formatAddress({ family: hex.length === 8 ? 4 : 6, bits: BigInt(`0x${bytes.join('')}`) });
}
