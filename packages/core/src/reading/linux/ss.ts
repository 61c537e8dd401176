import { nth } from '../../place/index.ts';
import { parseAddress, servicePort } from '../../net/index.ts';
import type { Coverage, Gap, Problem, SocketFact } from '../../facts/index.ts';
import { isLastLineEnded, linesOf, spanOf, type Line } from '../text.ts';
import type { Reader } from '../reader.ts';

const STATES = new RegExp(
  String.raw`^(LISTEN|UNCONN|ESTAB|SYN-SENT|SYN-RECV|FIN-WAIT-1|FIN-WAIT-2|TIME-WAIT|CLOSE-WAIT|` +
    String.raw`LAST-ACK|CLOSING|CLOSED|UNKNOWN)$`,
);
const NETIDS = new Set([
  'tcp',
  'udp',
  'u_str',
  'u_dgr',
  'u_seq',
  'raw',
  'p_raw',
  'p_dgr',
  'nl',
  'icmp6',
  'icmp',
  'sctp',
  'dccp',
  'mptcp',
  'v_str',
  'v_dgr',
  'ti_st',
  'xdp',
  '???',
]);
const HEADING = /\bRecv-Q\b.*\bSend-Q\b.*\bLocal Address:\s*Port\b/;

/**
 * `ss` listings, with or without heading. Columns: [Netid] State Recv-Q Send-Q Local:Port Peer:Port
 * [Process]. `*:P` takes both families, `[::]:P` only IPv6, `0.0.0.0:P` only IPv4; `%if` is a device binding.
 */
export const ss: Reader = {
  format: 'ss',
  title: 'sockets (ss)',
  recognise(text) {
    const lines = linesOf(text.slice(0, 20_000)).filter((l) => l.text.trim() !== '');
    if (lines.some((l) => HEADING.test(l.text) && !/Foreign/.test(l.text))) return 0.95;
    return lines.some((l) => row(l, null) !== null) ? 0.85 : 0;
  },
  read(text, command = '') {
    const facts: SocketFact[] = [];
    const problems: Problem[] = [];
    const seen = new Set<string>();
    const only = /^[ \t]*UNCONN\s/m.test(text) ? 'udp' : 'tcp';
    let heading: string | null = null;
    for (const line of linesOf(text)) {
      if (line.text.trim() === '') continue;
      if (HEADING.test(line.text)) {
        heading = line.text;
        continue;
      }
      const parsed = row(line, heading, only);
      if (parsed === 'other') continue;
      if (parsed === null) {
        problems.push({
          line: line.number,
          text: line.text.slice(0, 200),
          why: 'no-socket-line',
        });
        continue;
      }
      seen.add(parsed.protocol);
      facts.push(parsed);
      if (/users:\((?!.*\)\)\s*$)/.test(line.text)) problems.push(cutRow(line));
    }
    // A kind of socket that a listing of all kinds has no row of has none, unless it is of one state alone.
    const all = heading !== null && /^Netid\s+State\b/.test(heading.trim());
    const listening = facts.length === 0 || facts.some((f) => f.state === 'LISTEN' || f.state === 'UNCONN');
    const covers: Coverage[] = !listening
      ? []
      : [
          ...(all || seen.has('tcp') ? ['sockets-tcp' as const] : []),
          ...(all || seen.has('udp') ? ['sockets-udp' as const] : []),
        ];
    // Without a heading a listing of both protocols cannot be told from one of a single protocol; rows of
    // either count for both.
    return {
      format: 'ss',
      facts,
      problems,
      covers: heading === null && facts.length > 0 ? ['sockets-tcp', 'sockets-udp'] : covers,
      ...gapsOf(text, heading, facts, command),
    };
  },
};

/** The command asks for no heading (ss(8), -H). */
const HEADLESS = /\s-[a-zA-Z]*H|--no-header/;

/** A last row without the column that the others have, at the very end of the text, is cut. */
function gapsOf(
  text: string,
  heading: string | null,
  facts: readonly SocketFact[],
  command: string,
): { gaps?: readonly Gap[] } {
  const last = facts[facts.length - 1];
  const isEmpty = last === undefined && heading !== null && !/\s$/.test(text);
  const isCut =
    !isLastLineEnded(text) &&
    last?.processes.length === 0 &&
    (facts.length > 1 || /\s-\w*p/.test(command)) &&
    facts.slice(0, -1).every((f) => f.processes.length > 0);
  const gaps: Gap[] = [
    ...(heading === null && !HEADLESS.test(command) ? (['no-heading'] as const) : []),
    ...(isCut || isEmpty ? (['cut'] as const) : []),
  ];
  return gaps.length > 0 ? { gaps } : {};
}

const cutRow = (line: Line): Problem => ({
  line: line.number,
  text: line.text.slice(0, 200),
  why: 'row-cut',
});

/**
 * `only`: the protocol where the listing has no column for it; TCP sockets are never UNCONN in `-t` or `-l`
 * listings.
 */
function row(line: Line, heading: string | null, only: 'tcp' | 'udp' = 'tcp'): SocketFact | 'other' | null {
  const words = line.text.trim().split(/\s+/);
  let at = 0;
  let netid = words[0] ?? '';
  if (NETIDS.has(netid)) at = 1;
  else netid = heading !== null && !/^Netid/.test(heading.trim()) ? only : '';
  let state = '';
  if (STATES.test(words[at] ?? '')) state = nth(words, at++);
  if (netid === '' && state === '') return null;
  if (netid === '' && state !== '') netid = state === 'UNCONN' ? 'udp' : 'tcp';
  const isQueued = /^\d+$/.test(words[at] ?? '') && /^\d+$/.test(words[at + 1] ?? '');
  // A word such as “???” alone begins rows of other tables as well.
  if (netid !== 'tcp' && netid !== 'udp' && NETIDS.has(netid))
    return isQueued || state !== '' ? 'other' : null;
  if (!isQueued) return null;
  const local = endpoint(words[at + 2] ?? '');
  const peer = endpoint(words[at + 3] ?? '');
  // A row ends with the other end; one without it is cut, and its port may be as well.
  if (!local || local.port === null || !peer) return null;
  return {
    kind: 'socket',
    at: spanOf(line, nth(words, at + 2)),
    protocol: netid as 'tcp' | 'udp',
    family: local.family,
    address: local.address,
    port: local.port,
    state: state || unnamedState(netid, peer),
    ...(local.device ? { device: local.device } : {}),
    ...(peer && peer.port !== null ? { peer: peer.address, peerPort: peer.port } : {}),
    processes: processes(line.text),
  };
}

/** `ss state …` shows no state: what has another end is connected in some way, or was. */
function unnamedState(netid: string, peer: NonNullable<ReturnType<typeof endpoint>>): string {
  if (peer.port !== null) return 'ESTAB';
  return netid === 'udp' ? 'UNCONN' : 'LISTEN';
}

/**
 * `0.0.0.0:80`, `*:80`, `[::]:80`, `[fe80::1]%eth0:80`, `127.0.0.53%lo:53`, `*%eth0:68`; a `*` port is null.
 */
function endpoint(
  text: string,
): { address: string; family: 4 | 6 | 0; port: number | null; device: string | null } | null {
  const match = /^(?:\[([^\]%]+)(?:%([^\]]+))?\]|([^%\s]*?))(?:%([^:\s]+))?:(\d+|\*|[a-z][\w-]*)$/.exec(text);
  if (!match) return null;
  const host = match[1] ?? match[3] ?? '';
  const port = match[5] === '*' ? null : servicePort(nth(match, 5));
  if (port === undefined || (port !== null && port > 65535)) return null;
  const device = match[2] ?? match[4] ?? null;
  if (host === '*') return { address: '*', family: 0, port, device };
  const parsed = parseAddress(host);
  return parsed ? { address: host, family: parsed.family, port, device } : null;
}

/** `users:(("nginx",pid=59,fd=7),("nginx",pid=60,fd=7))`; names hold blanks and may hold quotes. */
function processes(text: string): SocketFact['processes'] {
  const at = text.indexOf('users:(');
  if (at < 0) return [];
  return [...text.slice(at).matchAll(/\("(.*?)",pid=(\d+),fd=(\d+)\)/g)].map((m) => ({
    name: nth(m, 1),
    pid: Number(m[2]),
    fd: Number(m[3]),
  }));
}
