import { nth } from '../../place/index.ts';
import type { Line } from '../text.ts';
import { lineAt } from '../noted.ts';
import { ERRNO, errorOutcome } from './outcomes.ts';
import { endpoint, type Try } from './try.ts';

type Told = Omit<Try, 'at'>;

const over = (m: RegExpExecArray, error: string): Told => ({
  to: endpoint(nth(m, 1), nth(m, 2)),
  protocol: 'tcp',
  outcome: errorOutcome(error) ?? 'unknown',
});

/** What shells, downloaders and TLS clients print of a connection, each with what it came to. */
const LINES: readonly (readonly [RegExp, (m: RegExpExecArray) => Told | null])[] = [
  [/^ssh: connect to (?:host|address) (\S+) port (\d+): (.*)$/, (m) => over(m, nth(m, 3))],
  [
    /^[\w.-]{1,64}@[\w.:-]{1,255}: (Permission denied \(.*)$|^kex_exchange_identification: (.*)$/,
    (m) => ({ outcome: 'server answers', says: `server answers: ${m[1] ?? nth(m, 2)}` }),
  ],
  [
    /^Connecting to (\S+?)(?: \([^)]*\))?(?:\|([0-9a-fA-F.:]+)\|)?:(\d+)\.\.\. (?:connected\.|failed: (.*)$)/,
    (m) => ({
      to: endpoint(m[2] ?? nth(m, 1), nth(m, 3)),
      protocol: 'tcp',
      outcome: m[4] === undefined ? 'answered' : (errorOutcome(m[4]) ?? 'unknown'),
    }),
  ],
  [
    /^wget: can't connect to remote host(?: \(([0-9a-fA-F.:]+)\))?: (.*)$/,
    (m) => ({
      ...(m[1] === undefined ? {} : { to: m[1] }),
      protocol: 'tcp',
      outcome: errorOutcome(nth(m, 2)) ?? 'unknown',
    }),
  ],
  [/^CONNECTED\([0-9A-F]{1,8}\)\s*$/i, () => ({ protocol: 'tcp', outcome: 'answered' })],
  [/^connect:errno=(\d+)\s*$/, (m) => ({ protocol: 'tcp', outcome: ERRNO[nth(m, 1)] ?? 'unknown' })],
];

const code = (names: string): string => String.raw`(?:^|[\s(])(?:${names})\)?\.?\s*$`;
const sentence = (words: string): string => String.raw`^[\w.:-]{3,80}(?:’s|'s)? (?:${words})\b`;

/** What pages of browsers say in place of the page that was asked for: their codes, and their sentences. */
const PAGES: readonly (readonly [RegExp, Told])[] = [
  [
    new RegExp(`${code('ERR_CONNECTION_REFUSED')}|${sentence('refused to connect')}`),
    { protocol: 'tcp', outcome: 'refused' },
  ],
  [
    new RegExp(`${code('ERR_(?:CONNECTION_)?TIMED_OUT')}|${sentence('took too long to respond')}`),
    { protocol: 'tcp', outcome: 'timeout' },
  ],
  [new RegExp(code('ERR_ADDRESS_UNREACHABLE')), { protocol: 'tcp', outcome: 'prohibited' }],
  [
    new RegExp(
      `${code(String.raw`ERR_NAME_NOT_RESOLVED|DNS_PROBE_FINISHED_\w+`)}|` +
        sentence('(?:server )?(?:IP|DNS) address could not be found'),
    ),
    { outcome: 'name not resolved' },
  ],
  // It was connected; what became of it then, or who reset it, these do not say.
  [new RegExp(code(String.raw`ERR_EMPTY_RESPONSE|ERR_SSL_\w+`)), { protocol: 'tcp', outcome: 'answered' }],
  [
    new RegExp(code('ERR_CONNECTION_(?:RESET|CLOSED|ABORTED)')),
    { protocol: 'tcp', outcome: 'unknown', says: 'reset' },
  ],
];

/** What a line of another client says about its try; null where it is none. */
export function otherTry(line: Line): Try | null {
  for (const [pattern, told] of LINES) {
    const m = pattern.exec(line.text);
    const said = m ? told(m) : null;
    if (said) return { at: lineAt(line), ...said };
  }
  const page = line.text.length > 300 ? undefined : PAGES.find(([pattern]) => pattern.test(line.text));
  return page ? { at: lineAt(line), ...page[1] } : null;
}
