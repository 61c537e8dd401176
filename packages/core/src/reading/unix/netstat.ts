import { nth } from '../../place/index.ts';
import { parseAddress, servicePort } from '../../net/index.ts';
import type { Coverage, Gap, Problem, SocketFact } from '../../facts/index.ts';
import { before, isLastLineEnded, spanOf, type Line } from '../text.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

/** Protocol column: `tcp`, `tcp6`, `udp`, `udp46`, `tcp4`, `TCP`. */
const PROTOCOL = /^(tcp|udp)(4|6|46)?$/i;
const ENDPOINT =
  /^(?:\[([0-9a-fA-F:.]+)(?:%\w+)?\]|([0-9a-fA-F.:*]+?)(?:%\w+)?)[:.](\d{1,5}|\*|[a-z][\w-]*)$/;
/** Without `-n` addresses and ports are shown by their names: which address it is, is not said. */
const NAMED = /^\s*(?:TCP|UDP)\s+[A-Za-z][\w.-]*:[\w-]+\s+(?:[\w.-]+:[\w-]+|\*:\*)(?:\s|$)/;
/**
 * States as netstat prints them; other languages translate some of them, so a word in the state's place
 * counts by what its peer is.
 */
const STATES = new Set([
  'LISTEN',
  'LISTENING',
  'ESTABLISHED',
  'TIME_WAIT',
  'SYN_SENT',
  'SYN_RECV',
  'SYN_RECEIVED',
  'CLOSE_WAIT',
  'FIN_WAIT1',
  'FIN_WAIT2',
  'FIN_WAIT_1',
  'FIN_WAIT_2',
  'LAST_ACK',
  'CLOSING',
  'CLOSED',
  'BOUND',
]);

/**
 * `netstat` of Linux (`-tulpn`, `-an`), BSD and macOS (`-anv`, address and port joined by a dot) and Windows
 * (`-ano`, `-anob`), whatever the language of its headings: the shape of the rows decides.
 */
export const netstat: Reader = {
  format: 'netstat',
  title: 'sockets (netstat)',
  recognise(text) {
    const lines = written(text.slice(0, 30_000));
    if (lines.some((l) => /^\s*Proto\s+Recv-Q\s+Send-Q\s+Local Address\s+Foreign Address/i.test(l.text)))
      return 0.97;
    const hits = lines.filter((l) => row(l) !== null || NAMED.test(l.text)).length;
    // Headings, and the programs that Windows prints below their sockets, are no rows.
    const others = lines.filter((l) => /^\s*(?:\[|(?:Active|Proto)\s)/.test(l.text)).length;
    if (hits > 0 && hits * 2 > lines.length - others) return 0.9;
    return hits >= 3 ? 0.86 : 0;
  },
  read(text) {
    const facts: SocketFact[] = [];
    const problems: Problem[] = [];
    let unix = false;
    for (const line of written(text)) {
      if (/^Active (UNIX|Multipath|LOCAL)/i.test(line.text.trim())) unix = true;
      if (/^Active Internet/i.test(line.text.trim())) unix = false;
      if (unix) continue;
      const parsed = row(line);
      if (parsed) {
        facts.push(parsed);
        continue;
      }
      // `netstat -b`: the program stands in brackets on a line of its own, below its socket.
      const program = /^\s*\[(.+)\]\s*$/.exec(line.text)?.[1];
      const last = facts[facts.length - 1];
      if (program && last && last.processes[0]?.name === undefined)
        facts[facts.length - 1] = { ...last, processes: [{ name: program, ...(last.processes[0] ?? {}) }] };
      else if (PROTOCOL.test(nth(line.text.trim().split(/\s+/), 0)))
        problems.push(problemAt(line, NAMED.test(line.text) ? 'socket-names' : 'socket-unreadable'));
    }
    const named = facts.map((f) =>
      f.processes[0] && f.processes[0].name === undefined ? { ...f, processes: [] } : f,
    );
    const listening = named.filter((f) => f.state === 'LISTEN' || f.state === 'UNCONN');
    const covers: Coverage[] =
      listening.length === 0
        ? []
        : [
            ...(listening.some((f) => f.protocol === 'tcp') ? ['sockets-tcp' as const] : []),
            ...(listening.some((f) => f.protocol === 'udp') ? ['sockets-udp' as const] : []),
          ];
    const isHeaded = written(text).some((l) => /^\s*Proto\b/i.test(l.text));
    return {
      format: 'netstat',
      facts: named,
      problems,
      covers,
      ...gapsOf(isHeaded, breaksOff(text)),
    };
  },
};

const gapsOf = (isHeaded: boolean, isCut: boolean): { gaps?: readonly Gap[] } => {
  const gaps: Gap[] = [...(isHeaded ? [] : (['no-heading'] as const)), ...(isCut ? (['cut'] as const) : [])];
  return gaps.length > 0 ? { gaps } : {};
};

const wordsOf = ({ text }: Line): string[] => text.trim().split(/\s+/);

/** The last line ends inside a program's brackets, or inside a word that stands whole elsewhere. */
function breaksOff(text: string): boolean {
  if (isLastLineEnded(text)) return false;
  const lines = written(text);
  const last = lines[lines.length - 1];
  if (!last) return false;
  if (/^\s*\[[^\]]*$/.test(last.text)) return true;
  const words = wordsOf(last);
  const end = words[words.length - 1] ?? '';
  // Each TCP socket has a state (netstat(8)): without one its row is cut.
  if (/^tcp/i.test(words[0] ?? '') && row(last) !== null && !/\p{L}/u.test(words.slice(1).join('')))
    return true;
  if (row(last) === null || words.length < 4 || !/^\p{L}+$/u.test(end)) return false;
  const others = new Set(lines.slice(0, -1).flatMap((l) => (row(l) ? wordsOf(l) : [])));
  // Windows prints no counts before the addresses, and its word is LISTENING.
  const isWindows = !/^\d+$/.test(words[1] ?? '');
  if (isWindows && end === 'LISTEN') return true;
  const isWhole = STATES.has(end.toUpperCase()) || others.has(end);
  return [...others, ...(isWhole ? [] : STATES)].some((w) => w.length > end.length && w.startsWith(end));
}

function endpoint(text: string): { host: string; port: number | null } | null {
  const match = ENDPOINT.exec(text);
  if (!match) return null;
  const host = match[1] ?? nth(match, 2);
  const port = match[3] === '*' ? null : servicePort(nth(match, 3));
  if (port === undefined || (port !== null && port > 65535)) return null;
  return host === '*' || parseAddress(host) ? { host, port } : null;
}

function row(line: Line): SocketFact | null {
  const words = line.text.trim().split(/\s+/);
  const kind = PROTOCOL.exec(words[0] ?? '');
  if (!kind) return null;
  // Linux and BSD count bytes in two columns before the addresses; Windows has none.
  const from = /^\d+$/.test(words[1] ?? '') && /^\d+$/.test(words[2] ?? '') ? 3 : 1;
  const local = endpoint(words[from] ?? '');
  const peer = endpoint(words[from + 1] ?? '');
  if (!local || local.port === null || !peer) return null;
  const protocol = nth(kind, 1).toLowerCase() as 'tcp' | 'udp';
  const after = words.slice(from + 2);
  const word = after[0] ?? '';
  const known = STATES.has(word.toUpperCase()) ? word.toUpperCase() : null;
  let state;
  if (protocol === 'udp')
    state = known === 'ESTABLISHED' || (peer.port !== null && peer.port > 0) ? 'ESTAB' : 'UNCONN';
  else state = stateOf(known, peer);
  const family = local.host.includes(':') || kind[2] === '6' || kind[2] === '46' ? 6 : 4;
  let address = local.host;
  if (address === '*' && kind[2] !== '46') address = family === 6 ? '::' : '0.0.0.0';
  const processes = processOf(after, from === 1, line.text);
  return {
    kind: 'socket',
    at: spanOf(line, nth(words, from)),
    protocol,
    family: address === '*' ? 0 : family,
    address,
    port: local.port,
    state,
    // net-tools prints `:::80` for sockets of both families and of IPv6 alone: which one it is, is not said.
    ...(address === '::' && kind[2] === '6' ? { bothFamilies: 'not-said' as const } : {}),
    ...(peer.port !== null && peer.port > 0 && parseAddress(peer.host)
      ? { peer: peer.host, peerPort: peer.port }
      : {}),
    processes,
  };
}

/** A translated state word is told by the other end: nobody there means it listens. */
function stateOf(known: string | null, peer: { host: string; port: number | null }): string {
  if (known === 'LISTEN' || known === 'LISTENING') return 'LISTEN';
  if (known) return known === 'ESTABLISHED' ? 'ESTAB' : known.replaceAll('_', '-');
  return peer.port === null || peer.port === 0 ? 'LISTEN' : 'ESTAB';
}

/** `59/nginx: master pr` of Linux, `lanternd:33` of macOS, or the bare process id of Windows. */
function processOf(after: readonly string[], windows: boolean, whole: string): SocketFact['processes'] {
  const linux = /\s(\d{1,9})\/(\S.*)/.exec(whole);
  if (linux) return [{ name: nth(before(nth(linux, 2), ':').split(' '), 0), pid: Number(linux[1]) }];
  const mac = after.map((w) => /^([A-Za-z][\w.-]*):(\d+)$/.exec(w)).find((m) => m !== null);
  if (mac) return [{ name: nth(mac, 1), pid: Number(mac[2]) }];
  const pid = after[after.length - 1];
  return windows && pid && /^\d+$/.test(pid) ? [{ pid: Number(pid) } as SocketFact['processes'][number]] : [];
}
