import { nth } from '../../place/index.ts';
import { parseAddress, parsePortRange, type Interval } from '../../net/index.ts';

/** Inside targets are private or unique local; also `ADDR:PORT` in one cell. */
export const isPrivate = (text: string): boolean =>
  /^(10\.|192\.168\.|172\.(1[6-9]|2\d|3[01])\.|f[cd][0-9a-f]{2}:)/i.test(text) &&
  (parseAddress(text) !== null || endpointOf(text) !== null);

export const endpointOf = (text: string): { address: string; ports: Interval<number> } | null => {
  if (!text.includes(':')) return null;
  const match = /^((?:\d{1,3}\.){3}\d{1,3}):(\d{1,5}(?:-\d{1,5})?)$/.exec(text);
  const ports = match ? parsePortRange(nth(match, 2)) : null;
  return match && ports && parseAddress(nth(match, 1)) ? { address: nth(match, 1), ports } : null;
};

export const PROTOCOL = /^(tcp|udp|both|all|any|tcp\s*[/&+]\s*udp|udp\s*[/&+]\s*tcp|tcp and udp)$/i;

/** Both transports in one word or two, as pages and people write them. */
const BOTH = new RegExp(
  String.raw`^(?:both|all|any|\*|beide|les deux|ambos|entrambi|tcpudp|udptcp|` +
    String.raw`tcp ?(?:[/&+,|_-]|and|und|et|y|e|or) ?udp|` +
    String.raw`udp ?(?:[/&+,|_-]|and|und|et|y|e|or) ?tcp|tcp udp|udp tcp)$`,
  'i',
);
/** Other protocols that a row can be about (IANA protocol numbers). */
const OTHER = /^(esp|ah|gre|icmp|icmpv6|igmp|sctp|ipip|50|51|47|1|58|132)$/i;

/** The transports that a cell names: numbers are those of IANA; null where it names none that is known. */
export function protocolOf(text: string): 'tcp' | 'udp' | 'both' | 'other' | null {
  if (text === 'TCP' || text === 'tcp') return 'tcp';
  if (text === 'UDP' || text === 'udp') return 'udp';
  const plain = text.normalize('NFKC').replace(/\s+/g, ' ').trim();
  if (/^(tcp|6)( only)?$/i.test(plain)) return 'tcp';
  if (/^(udp|17)( only)?$/i.test(plain)) return 'udp';
  if (BOTH.test(plain)) return 'both';
  return OTHER.test(plain) ? 'other' : null;
}
const YES = /^(yes|on|enabled?|active|true|1|✓|✔|☑|x|ja|oui|si|sí|sim)$/i;
const NO = /^(no|off|disabled?|inactive|false|0|✗|✘|☐|-|nein|non|não)$/i;
export const ANY_SOURCE = /^(any|anyone|all|everyone|\*|0\.0\.0\.0\/0|::\/0)$/i;
/** What a rule does, in the words of several languages. */
export const ACTION = new RegExp(
  String.raw`^(allow(ed)?|permit|accept|pass|let in|deny|denied|drop|discard|block(ed)?|reject|` +
    String.raw`refuse|erlauben|zulassen|blockieren|autoriser|bloquer|permitir|bloquear)$`,
  'i',
);
export const MAC = /^(?:[0-9a-f]{2}([:-]))(?:[0-9a-f]{2}\1){4}[0-9a-f]{2}$/i;
/** Headings of columns with times and lengths of time, whose numbers are no ports. */
export const TIME_HEADING =
  /life|lease|expir|ttl|durat|remain|\bage\b|second|\btime\b|since|laufzeit|dur[ée]e|tiempo|tempo/i;

/** Colons, small letters: the form that listings use. */
export const macOf = (text: string): string => text.toLowerCase().replaceAll('-', ':');

/** What kind of value a cell holds, for recognising a table without heading. */
export function kindOfCell(text: string): string {
  if (PROTOCOL.test(text)) return 'protocol';
  if (MAC.test(text)) return 'mac';
  if (parseAddress(text)) return 'address';
  if (endpointOf(text)) return 'endpoint';
  if (parsePortRange(text)) return 'number';
  return YES.test(text) || NO.test(text) ? 'yes-no' : 'text';
}
