import { last } from '../../place/index.ts';
import { maskLength, parseAddress, parsePrefix } from '../../net/index.ts';
import type { Problem, RouteFact } from '../../facts/index.ts';
import { spanOf, type Line } from '../text.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const HEADING4 =
  /\b(Destination|Ziel|Destino|Dest)\b.*\b(Gateway|Router|Passerelle|Pasarela)\b.*\b(Genmask|Netmask)\b/i;
const HEADING6 = /\bDestination\b.*\bNext Hop\b.*\bFlags?\b/i;
const BSD = /^Destination\s+Gateway\s+Flags\b/;

/** `route -n`, `netstat -rn`, `route -6 -n` of Linux, and the BSD and macOS form of `netstat -rn`. */
export const routeTable: Reader = {
  format: 'route-table',
  title: 'routes (route, netstat -r)',
  recognise: (text) =>
    written(text.slice(0, 5000)).some(
      (l) => HEADING4.test(l.text) || HEADING6.test(l.text) || BSD.test(l.text.trim()),
    )
      ? 0.95
      : 0,
  read(text) {
    const facts: RouteFact[] = [];
    const problems: Problem[] = [];
    let form: 'four' | 'six' | 'bsd' = 'four';
    let metricAt = -1;
    let family: 4 | 6 = 4;
    const families = new Set<4 | 6>();
    for (const line of written(text)) {
      if (HEADING4.test(line.text)) {
        form = 'four';
        metricAt = line.text.trim().split(/\s+/).indexOf('Metric');
        families.add(4);
      } else if (HEADING6.test(line.text)) {
        form = 'six';
        families.add(6);
      } else if (BSD.test(line.text.trim())) form = 'bsd';
      else if (/^(Kernel IP|Routing tables|Active Routes)/.test(line.text.trim())) continue;
      else if (/^Internet(6?):?\s*$/.test(line.text.trim())) {
        family = line.text.includes('6') ? 6 : 4;
        families.add(family);
      } else {
        let fact;
        if (form === 'four') fact = four(line, metricAt);
        else if (form === 'six') fact = six(line);
        else fact = bsd(line, family);
        if (fact === null) problems.push(problemAt(line, 'no-route-table-line'));
        else if (fact !== 'other') facts.push(fact);
      }
    }
    const covers = [...families].map((f) => (f === 4 ? ('routes4' as const) : ('routes6' as const)));
    return { format: 'route-table', facts, problems, covers };
  },
};

const route = (
  line: Line,
  family: 4 | 6,
  to: string,
  via: string | null,
  dev: string | null,
  metric: number,
  type = 'unicast',
): RouteFact => ({
  kind: 'route',
  at: spanOf(line, line.text.trim()),
  family,
  table: 'main',
  type,
  to,
  hops: [{ via, dev }],
  metric,
});

/** Destination, gateway, mask, flags, then columns that differ, interface last. `!` is a reject route. */
function four(line: Line, metricAt: number): RouteFact | null {
  const words = line.text.trim().split(/\s+/);
  const [destination, gateway, mask, flags] = words;
  if (!destination || !parseAddress(destination === 'default' ? '0.0.0.0' : destination) || !mask || !flags)
    return null;
  const length = maskLength(mask);
  if (length === null) return null;
  const to = length === 0 ? 'default' : `${destination}/${length}`;
  const metric = metricAt > 0 && /^\d+$/.test(words[metricAt] ?? '') ? Number(words[metricAt]) : 0;
  const reject = flags.includes('!');
  const dev = last(words);
  const row = route(
    line,
    4,
    to,
    gateway && flags.includes('G') && !isZero(gateway) && parseAddress(gateway) ? gateway : null,
    reject || dev === '-' || dev === '*' ? null : dev,
    metric,
    reject ? 'unreachable' : 'unicast',
  );
  if (reject) return row;
  // Linux prints a blackhole and a throw alike, without an interface; a gateway of IPv6 is printed as zeros.
  if (dev === '*') return { ...row, unmodelled: 'no interface: blackhole or throw' };
  return flags.includes('G') && row.hops[0]?.via === null ? { ...row, unmodelled: HIDDEN } : row;
}

const isZero = (gateway: string | undefined): boolean => gateway === '0.0.0.0';

/** Zeros where the gateway is one of IPv6, or a name where the command was not asked for numbers. */
const HIDDEN = 'a gateway that is not shown';

function six(line: Line): RouteFact | 'other' | null {
  const words = line.text.trim().split(/\s+/);
  const [, hop, flags, metric] = words;
  // Without `-n` the unspecified address stands in brackets.
  const destination = words[0]?.replace(/^\[([\da-f:.]+)\]/i, '$1');
  const p = destination ? parsePrefix(destination === 'default' ? '::/0' : destination) : null;
  if (!p || !hop || !flags) return null;
  // `n` marks the machine's own addresses, anycast and multicast entries: no routes that one could take. The
  // end of every table refuses, with metric -1, and is none either; other rows with `!` refuse.
  const isRefused = flags.includes('!') && metric !== '-1';
  if ((flags.includes('n') && !isRefused) || p.bits >> 120n === 0xffn || !/[UG!]/.test(flags)) return 'other';
  const via = parseAddress(hop.replace(/%\w+/, '')) && hop !== '::' ? hop : null;
  const row = route(
    line,
    6,
    p.length === 0 ? 'default' : destination!,
    via,
    flags.includes('!') ? null : (words[words.length - 1] ?? null),
    Number(metric) || 0,
    flags.includes('!') ? 'unreachable' : 'unicast',
  );
  return flags.includes('G') && via === null ? { ...row, unmodelled: HIDDEN } : row;
}

/**
 * `default  192.168.50.1  UGScg  en0`; short prefixes such as `192.168.50` or `10/8` are completed by their
 * octets.
 */
function bsd(line: Line, family: 4 | 6): RouteFact | 'other' | null {
  const [destination, gateway, flags, netif] = line.text.trim().split(/\s+/);
  if (!destination || !gateway || !flags || !netif || !/^[A-Za-z0-9]+$/.test(flags)) return null;
  const plain = destination.replace(/%\w+/, '');
  let to;
  if (plain === 'default') to = 'default';
  else if (family === 6) to = plain;
  else to = completed(plain);
  if (to === null || (to !== 'default' && !parsePrefix(to))) return null;
  if (/^ff/i.test(plain) || /^(224|255)\b/.test(plain)) return 'other';
  if (flags.includes('L') && flags.includes('H')) return 'other';
  const via = parseAddress(gateway.replace(/%\w+/, ''));
  const hop = via && flags.includes('G') ? gateway.replace(/%\w+/, '') : null;
  const row = route(line, family, to, hop, netif, 0, bsdType(flags));
  // `I` (macOS): taken only by what is bound to that interface, beside the way that all others take. Such a
  // row without a next hop is there for each tunnel, used or not.
  if (flags.includes('I') && hop === null) return 'other';
  if (flags.includes('I')) return { ...row, unmodelled: 'a way of one interface only' };
  return flags.includes('G') && hop === null && !isInterface(gateway) ? { ...row, unmodelled: HIDDEN } : row;
}

/** `link#11`, a link address, or the interface itself: what is on the link has no next hop. */
const isInterface = (gateway: string): boolean =>
  /^link#\d+$|^(?:[\da-f]{1,2}[:.]){5}[\da-f]{1,2}$/i.test(gateway);

/** `R` answers that it cannot be reached, `B` throws away (netstat(1) of BSD). */
function bsdType(flags: string): string {
  if (flags.includes('B')) return 'blackhole';
  return flags.includes('R') ? 'unreachable' : 'unicast';
}

function completed(text: string): string | null {
  const [octets, length] = text.split('/');
  const parts = octets!.split('.');
  if (parts.length > 4 || parts.some((p) => !/^\d{1,3}$/.test(p))) return null;
  return `${[...parts, '0', '0', '0'].slice(0, 4).join('.')}/${length ?? parts.length * 8}`;
}
