import type { Fact, Problem } from '../../facts/index.ts';
import { nth, type Span } from '../../place/index.ts';
import { linesOf, type Line } from '../text.ts';
import { lineAt, once, problemAt, told } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { otherTry } from './otherClients.ts';
import { ERRNO, errorOutcome, READINESS } from './outcomes.ts';
import { endpoint, type Try } from './try.ts';

const NO_CONNECTION = new RegExp(
  String.raw`\bconnect(?:x)? to (\S+)(?: \([^)]*\))? port (\d+)(?: from \S+ port \d+)?` +
    String.raw`(?: \((tcp|udp)\))? (?:failed|timed out)[:,]? ?(.*)$`,
  'i',
);

/** What one line of a client program's output says about its try; null where it is none. */
function tryOf(line: Line): Try | null {
  const t = line.text;
  const at = lineAt(line);
  let m: RegExpExecArray | null;
  if ((m = /Connection to (\S+)(?: \(([0-9a-fA-F.:]+)\))? (\d+) port \[(tcp|udp)\/.*?\] succeeded/.exec(t))) {
    const udp = m[4] === 'udp';
    return {
      at,
      outcome: udp ? 'unknown' : 'answered',
      to: endpoint(m[2] ?? nth(m, 1), nth(m, 3)),
      protocol: m[4] as 'tcp' | 'udp',
      says: udp ? 'UDP: success is printed when no ICMP error came back; it proves little' : 'success',
    };
  }
  if ((m = NO_CONNECTION.exec(t))) {
    const outcome = errorOutcome(nth(m, 4)) ?? (/timed out/.test(t) ? 'timeout' : 'unknown');
    return {
      at,
      outcome,
      to: endpoint(nth(m, 1), nth(m, 2)),
      protocol: (m[3] as 'tcp' | 'udp' | undefined) ?? 'tcp',
      ...(outcome === 'prohibited'
        ? { says: `ICMP administratively prohibited, shown as ${nth(m, 4).trim()}` }
        : {}),
    };
  }
  if ((m = /connection to server at "([^"]+)"(?: \([^)]*\))?, port (\d+) failed: (.*)$/.exec(t))) {
    const fatal = /^FATAL:\s+(\S.*)/.exec(nth(m, 3));
    const client = /for host "([^"]+)"/.exec(nth(m, 3))?.[1];
    return {
      at,
      to: endpoint(nth(m, 1), nth(m, 2)),
      protocol: 'tcp',
      outcome: fatal ? 'server answers' : (errorOutcome(nth(m, 3)) ?? 'unknown'),
      ...(fatal
        ? { says: `server answers: ${nth(nth(fatal, 1).split(/ for (?:host|user) /), 0).trim()}` }
        : {}),
      ...(client ? { client } : {}),
    };
  }
  if ((m = /^(\S+):(\d+) - (accepting connections|rejecting connections|no response|no attempt)/.exec(t)))
    return {
      at,
      to: endpoint(nth(m, 1), nth(m, 2)),
      protocol: 'tcp',
      outcome: READINESS[nth(m, 3)] ?? 'unknown',
      says: nth(m, 3),
    };
  if ((m = /Could not connect to Redis at (\S+):(\d+): (.*)$/.exec(t)))
    return {
      at,
      to: endpoint(nth(m, 1), nth(m, 2)),
      protocol: 'tcp',
      outcome: errorOutcome(nth(m, 3)) ?? 'unknown',
    };
  if (/^\(error\) |^-(DENIED|NOAUTH|ERR)\b/.test(t))
    return {
      at,
      outcome: 'server answers',
      says: `server answers: ${t.replace(/^\(error\) |^-/, '').slice(0, 120)}`,
    };
  if ((m = /^ERROR (\d+) \([0-9A-Z]+\):? (.*)$/.exec(t))) return databaseError(at, Number(m[1]), nth(m, 2));
  if ((m = /Failed to connect to (\S+) port (\d+)(?: after \d+ ms)?: (.*)$/.exec(t)))
    return {
      at,
      to: endpoint(nth(m, 1), nth(m, 2)),
      protocol: 'tcp',
      outcome: errorOutcome(nth(m, 3)) ?? 'unknown',
    };
  if ((m = /Could not resolve host:? (\S+)|Name or service not known|nodename nor servname/.exec(t)))
    return { at, outcome: 'name not resolved' };
  if ((m = /^\* Connected to \S+ \(([0-9a-fA-F.:]+)\) port (\d+)/.exec(t.trim())))
    return { at, outcome: 'answered', to: endpoint(nth(m, 1), nth(m, 2)), protocol: 'tcp' };
  if ((m = /^(?:\(UNKNOWN\)|[\w.-]+) \[([0-9a-fA-F.:]+)\] (\d+) \([^)]*\) : (.*)$/.exec(t)))
    return {
      at,
      to: endpoint(nth(m, 1), nth(m, 2)),
      protocol: 'tcp',
      outcome: /\bopen\b/i.test(nth(m, 3)) ? 'answered' : (errorOutcome(nth(m, 3)) ?? 'unknown'),
    };
  if (
    (m = /^(?:Ncat|telnet): (?:Unable to connect to remote host: )?(.*)$/.exec(t)) &&
    errorOutcome(nth(m, 1))
  )
    return { at, protocol: 'tcp', outcome: errorOutcome(nth(m, 1)) ?? 'unknown' };
  if ((m = /^(?:Ncat: )?Connected to ([0-9a-fA-F.:]+?)(?::(\d+))?\.\s*$/.exec(t)))
    return { at, protocol: 'tcp', outcome: 'answered', to: m[2] ? endpoint(nth(m, 1), m[2]) : nth(m, 1) };
  if ((m = /^Connecting To (\S+?)\.\.\..{0,80} on port (\d+): (.*)$/.exec(t)))
    return {
      at,
      to: endpoint(nth(m, 1), nth(m, 2)),
      protocol: 'tcp',
      // It says the same of a refusal and of silence.
      outcome: errorOutcome(nth(m, 3)) ?? 'unknown',
    };
  if ((m = /^psql: (?:error: )?could not connect to server: (.*)$/.exec(t)))
    return { at, protocol: 'tcp', outcome: errorOutcome(nth(m, 1)) ?? 'unknown' };
  if ((m = /TcpTestSucceeded\s*:\s*(True|False)/i.exec(t)))
    return {
      at,
      outcome: nth(m, 1).toLowerCase() === 'true' ? 'answered' : 'unknown',
      protocol: 'tcp',
      says: nth(m, 1).toLowerCase() === 'true' ? 'success' : 'no connection',
    };
  return otherTry(line);
}

/** MariaDB and MySQL client errors: 2002/2003 come from the network, 1045 and 1130 from the server itself. */
function databaseError(at: Span, code: number, text: string): Try {
  const host = /server on '([^']+)'/.exec(text)?.[1];
  const errno = /\((\d+)\b[^)]*\)\s*$/.exec(text)?.[1];
  const client = /Host '([^']+)' is not allowed|'@'([^']+)'/.exec(text);
  if (code === 2002 || code === 2003)
    return {
      at,
      protocol: 'tcp',
      outcome: errorOutcome(text) ?? ERRNO[errno ?? ''] ?? 'unknown',
      ...(host ? { to: host } : {}),
    };
  return {
    at,
    outcome: 'server answers',
    says: `server answers: ${text.slice(0, 120)}`,
    ...(client ? { client: client[1] ?? nth(client, 2) } : {}),
  };
}

/**
 * What client programs print when they try to connect: nc, curl, psql, pg_isready, redis-cli, mariadb,
 * Test-NetConnection.
 */
export const connectionTry: Reader = {
  format: 'connection-try',
  title: 'a connection try and what it came to',
  recognise: (text) =>
    linesOf(text.slice(0, 20_000)).some((l) => tryOf(l) !== null) ||
    /^HTTP\/[\d.]+ \d{3}\b/m.test(text.slice(0, 4000)) ||
    /^curl: \(\d+\)/m.test(text)
      ? 0.9
      : 0,
  read(text) {
    const problems: Problem[] = [];
    const tries: Try[] = [];
    let status: { code: number; line: Line } | null = null;
    let trying: string | null = null;
    for (const line of linesOf(text.replaceAll('\r', '\n'))) {
      const found = tryOf(line);
      if (found) tries.push(found);
      const http = /^(?:< )?HTTP\/[\d.]+ (\d{3})\b/.exec(line.text);
      if (http) status = { code: Number(http[1]), line };
      const target = /Trying ([0-9a-fA-F.:[\]]+):(\d+)/.exec(line.text);
      if (target) trying = endpoint(nth(target, 1).replace(/^\[|\]$/g, ''), nth(target, 2));
      const named = /^(?:ComputerName|RemoteAddress|RemotePort)\s*:\s*(\S+)/.exec(line.text);
      if (named && /RemoteAddress/.test(line.text)) trying = nth(named, 1);
      else if (named && /RemotePort/.test(line.text)) trying = `${trying ?? ''}:${nth(named, 1)}`;
    }
    if (tries.length === 0 && !status)
      problems.push(problemAt(linesOf(text)[0] ?? { number: 1, text: '' }, 'no-outcome'));
    return { format: 'connection-try', facts: factsOf(tries, status, trying), problems, covers: [] };
  },
};

/**
 * The last word counts: programs try several addresses and report in the end. The first line that names the
 * endpoint keeps it.
 */
function factsOf(
  tries: readonly Try[],
  status: { code: number; line: Line } | null,
  trying: string | null,
): Fact[] {
  const decided =
    tries.find((t) => t.outcome === 'server answers') ??
    tries.find((t) => t.outcome === 'answered') ??
    tries.find((t) => t.outcome !== 'unknown') ??
    tries[0];
  const out: Fact[] = [];
  if (decided) {
    out.push(told('outcome', decided.at, decided.says ?? decided.outcome));
    const to = tries.map((t) => t.to).find((t) => t !== undefined && /:\d+$/.test(t)) ?? trying ?? decided.to;
    if (to) out.push(once('to', decided.at, to));
    if (decided.protocol) out.push(once('protocol', decided.at, decided.protocol));
    if (decided.client)
      out.push(
        told('refused-client', decided.at, decided.client, `the server sees the client as ${decided.client}`),
      );
  } else if (status && trying)
    out.push(told('outcome', lineAt(status.line), 'answered'), once('to', lineAt(status.line), trying));
  if (status) out.push(once('status', lineAt(status.line), status.code, `HTTP ${status.code}`));
  return out;
}
