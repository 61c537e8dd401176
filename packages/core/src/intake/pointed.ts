import { addressKind, formatAddress, isReachable, parseAddress, type Address } from '../net/index.ts';
import { nth } from '../place/index.ts';

/** What something in a line that nobody reads may be, and the line that says so when it is typed. */
export interface Pointed {
  /** `203.0.113.50` */
  readonly part: string;
  readonly meaning: PointedMeaning;
  /** `WAN IP 203.0.113.50` */
  readonly typed: string;
}

export type PointedMeaning =
  | 'outside-address'
  | 'inside-address'
  | 'server-address'
  | 'client-address'
  | 'seen-address'
  | 'forward'
  | 'tcp-port'
  | 'udp-port';

const WORD = /[\da-fA-F.:]{3,45}/g;
const PORT = /(?:^|[\s:(/])(\d{1,5})(?=$|[\s,;)/])/g;
const PROTOCOL = /\b(tcp|udp)\b/i;
/** More is not offered: such a line is a table, and wants a reader. */
const MOST = 8;

/**
 * What the addresses and ports of a line can be pointed at as: of an outside address what a gateway, a client
 * or a look from outside says, of an inside one what a router or the server says, and a forward where a port
 * and an inside address stand beside each other.
 */
export function pointedAt(line: string): Pointed[] {
  const addresses = new Map<string, Address>();
  for (const [word] of line.matchAll(WORD)) {
    const address = parseAddress(word.replace(/[.:]$/, ''));
    const kind = address && addressKind(address).kind;
    if (address && kind !== 'loopback' && kind !== 'link-local' && /[.:]/.test(word))
      addresses.set(formatAddress(address), address);
  }
  let rest = line;
  for (const [word] of line.matchAll(WORD))
    if (parseAddress(word) && /[.:]/.test(word)) rest = rest.replace(word, ' ');
  const ports = [...rest.matchAll(PORT)].map((m) => Number(nth(m, 1))).filter((p) => p > 0 && p < 65_536);
  const protocol = PROTOCOL.exec(line)?.[1]?.toLowerCase() ?? null;
  const inside = [...addresses].filter(([, a]) => !isReachable(a));
  const forwards = inside.flatMap(([to]) =>
    protocol === null || ports.length === 0
      ? []
      : [forwardOf(protocol, nth(ports, 0), to, ports[1] ?? nth(ports, 0))],
  );
  return [
    ...forwards,
    ...[...addresses].flatMap(([text, a]) => meaningsOf(text, a)),
    ...portsOf(ports, protocol),
  ].slice(0, MOST);
}

const forwardOf = (protocol: string, outside: number, to: string, inside: number): Pointed => ({
  part: `${protocol.toUpperCase()} ${outside} → ${to}:${inside}`,
  meaning: 'forward',
  typed: `${protocol} ${outside} ${to} ${inside}`,
});

const meaningsOf = (part: string, address: Address): Pointed[] =>
  isReachable(address)
    ? [
        { part, meaning: 'outside-address', typed: `WAN IP ${part}` },
        { part, meaning: 'client-address', typed: `client ${part}` },
        { part, meaning: 'seen-address', typed: `seen from outside ${part}` },
      ]
    : [
        { part, meaning: 'server-address', typed: `server ${part}` },
        { part, meaning: 'inside-address', typed: `LAN IP ${part}` },
        { part, meaning: 'outside-address', typed: `WAN IP ${part}` },
      ];

const portsOf = (ports: readonly number[], protocol: string | null): Pointed[] =>
  [...new Set(ports)].flatMap((port): Pointed[] => [
    ...(protocol === 'udp' ? [] : [{ part: `${port}`, meaning: 'tcp-port' as const, typed: `tcp ${port}` }]),
    ...(protocol === 'tcp' ? [] : [{ part: `${port}`, meaning: 'udp-port' as const, typed: `udp ${port}` }]),
  ]);
