import { parseAddress, servicePort } from '../../net/index.ts';
import { nth } from '../../place/index.ts';
import type { Problem, SocketFact } from '../../facts/index.ts';
import { spanOf } from '../text.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const HEADING = /^COMMAND\s+PID\s+(?:TID\s+)?(?:TASKCMD\s+)?USER\s+FD\s+TYPE\b/;
const ROW = new RegExp(
  String.raw`^(\S+)\s+(\d+)\s+(?:\d+\s+)?(\S+)\s+(\d+)[a-zA-Z]*\s+(IPv4|IPv6)\s+\S+\s+\S+\s+` +
    String.raw`(TCP|UDP)\s+(\S+?)(?:->(\S+))?(?:\s+\((\w+)\))?\s*$`,
);

/** An address and a port, which has a name without `-P`. */
const END = /^(?:\[([^\]]+)\]|(.*)):(\d+|[a-z][\w-]*)$/;

/** Without `-n` addresses have names as well: which one a machine's own name means, nobody can tell. */
function hostOf(host: string, isSix: boolean): string | null {
  if (host === 'localhost') return isSix ? '::1' : '127.0.0.1';
  return host === '*' || parseAddress(host) !== null ? host : null;
}

/**
 * `lsof -nP -i`. Names are cut to nine characters, blanks in them stand as `\x20`; one socket of several
 * processes is several lines.
 */
export const lsof: Reader = {
  format: 'lsof',
  title: 'sockets and their programs (lsof)',
  recognise: (text) => {
    if (written(text.slice(0, 3000)).some((l) => HEADING.test(l.text))) return 0.97;
    return written(text.slice(0, 3000)).some((l) => ROW.test(l.text)) ? 0.9 : 0;
  },
  read(text) {
    const sockets = new Map<string, SocketFact>();
    const problems: Problem[] = [];
    for (const line of written(text)) {
      if (HEADING.test(line.text)) continue;
      const match = ROW.exec(line.text);
      const local = match ? END.exec(nth(match, 7)) : null;
      const port = local ? servicePort(nth(local, 3)) : undefined;
      if (!match || !local || port === undefined) {
        if (!/\b(sock|unix|REG|DIR|CHR|FIFO|PIPE|NETLINK|pack|IPv[46].*:\*)\b/.test(line.text))
          problems.push(problemAt(line, 'no-lsof-line'));
        continue;
      }
      const six = match[5] === 'IPv6';
      const host = hostOf(local[1] ?? nth(local, 2), six);
      if (host === null) {
        problems.push(problemAt(line, 'no-lsof-line'));
        continue;
      }
      const any = six ? '::' : '0.0.0.0';
      const process = {
        name: nth(match, 1).replaceAll('\\x20', ' '),
        pid: Number(match[2]),
        fd: Number(match[4]),
      };
      let state;
      if (match[9] === 'LISTEN') state = 'LISTEN';
      else if (match[6] === 'UDP' && !match[8]) state = 'UNCONN';
      else if (match[9] === 'ESTABLISHED') state = 'ESTAB';
      else state = match[9] ?? 'ESTAB';
      const peer = match[8] ? END.exec(match[8]) : null;
      const peerPort = peer ? servicePort(nth(peer, 3)) : undefined;
      const key = `${match[6]} ${match[5]} ${match[7]} ${match[8] ?? ''}`;
      const before = sockets.get(key);
      // `*:80 IPv6` takes IPv4 too unless the program said otherwise; lsof does not tell.
      sockets.set(
        key,
        before
          ? { ...before, processes: [...before.processes, process] }
          : {
              kind: 'socket',
              at: spanOf(line, nth(match, 7)),
              protocol: nth(match, 6).toLowerCase() as 'tcp' | 'udp',
              family: six ? 6 : 4,
              address: host === '*' ? any : host,
              port,
              state,
              ...(six && host === '*' ? { bothFamilies: 'not-said' as const } : {}),
              ...(peer && peerPort !== undefined ? { peer: peer[1] ?? nth(peer, 2), peerPort } : {}),
              processes: [process],
            },
      );
    }
    const facts = [...sockets.values()];
    return { format: 'lsof', facts, problems, covers: [] };
  },
};
