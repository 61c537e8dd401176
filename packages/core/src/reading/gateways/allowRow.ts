import { known, open as unknown, type AllowRowRecord } from '../../facts/index.ts';
import { parsePortRange, parsePrefix } from '../../net/index.ts';

export type Row = AllowRowRecord;

export const ANYONE = /^(any|anywhere|all|everyone|internet|\*|0\.0\.0\.0\/0|::\/0)$/i;
const ANY_PROTOCOL = /^(any|all|-1|\*)$/i;
const OTHER_PROTOCOL = /^(icmp(v?6)?|icmpv4|esp|ah|gre|sctp|1|47|50|51|58)$/i;
const OUTWARD = /^(out|outbound|egress|outgoing)$/i;
const INWARD = /^(in|inbound|ingress|incoming)$/i;
const REFUSE = /^(deny|denied|drop|block|reject|refuse)$/i;
const PERMIT = /^(allow|allowed|accept|permit|pass)$/i;
/** Fields that tell of a row without changing what it does. */
const REMARK = new RegExp(
  String.raw`name|desc|comment|^id$|Id$|_id$|uuid|created|updated|time|owner|region|arn|etag|` +
    String.raw`note|label|version|priority|number|order|ether|family|ip.?version|^type$|kind|link|` +
    String.raw`vpc|network$|revision`,
  'i',
);

/** What a row takes out of what it lets in. */
const EXCEPT = /\b(except|excluding|excluded?|but not|other than|without|ausser|außer|sauf|salvo|not)\b/i;
/** Where a program listens is nobody's source. */
const OWN_SIDE = /listen|bind|local|host|server|public|own|inside|intern|lan\b/i;

/** What is known of a row while its fields are looked at. */
export interface Draft {
  names: string[];
  protocols: string[];
  ports: string[];
  ends: { from?: number; to?: number };
  sources: string[];
  outward: boolean;
  inward: boolean;
  refuses: boolean;
  off: boolean;
  strange: string[];
}

export const draft = (): Draft => ({
  names: [],
  protocols: [],
  ports: [],
  ends: {},
  sources: [],
  outward: false,
  inward: false,
  refuses: false,
  off: false,
  strange: [],
});

/** Puts one value where it belongs, by what it is and by what its field is called. */
export function take(d: Draft, key: string, value: string): void {
  const text = value.trim();
  if (text === '') return;
  if (/^(?:.*\s)?(?:rule|display|group)?[ _-]?(?:name|desc\w*|comment|label|notes?)$/i.test(key)) {
    d.names.push(text);
    return;
  }
  if (EXCEPT.test(key)) {
    d.strange.push(`${key} ${text}`);
    return;
  }
  if (OUTWARD.test(text) || INWARD.test(text)) {
    d[OUTWARD.test(text) ? 'outward' : 'inward'] = true;
    return;
  }
  if (/egress|outbound/i.test(key) && /^(true|false)$/i.test(text)) {
    d.outward ||= /true/i.test(text);
    return;
  }
  if (REFUSE.test(text) || PERMIT.test(text)) {
    d.refuses ||= REFUSE.test(text);
    return;
  }
  if (/stat(e|us)$/i.test(key) && /^(on|active|enabled|in use|applied)$/i.test(text)) return;
  if (/disabled/i.test(key) || /enabled|active/i.test(key)) {
    d.off ||= /disabled/i.test(key) === /^(true|yes|1)$/i.test(text);
    return;
  }
  const proto =
    /^(tcp|udp)$/i.test(text) ||
    (/proto/i.test(key) && (ANY_PROTOCOL.test(text) || OTHER_PROTOCOL.test(text) || /^(6|17)$/.test(text)));
  if (proto) d.protocols.push(text.toLowerCase().replace(/^6$/, 'tcp').replace(/^17$/, 'udp'));
  else if (/port/i.test(key) && /src|source/i.test(key)) {
    if (!ANYONE.test(text) && !/^(0-65535|1-65535)$/.test(text)) d.strange.push(`${key} ${text}`);
  } else if (/port/i.test(key) && /from|start|begin|min|first|low/i.test(key) && /^-?\d+$/.test(text))
    d.ends.from = Number(text);
  else if (
    /port/i.test(key) &&
    /^to|to$|end|max|last|high/i.test(key.split(' ').pop()!) &&
    /^-?\d+$/.test(text)
  )
    d.ends.to = Number(text);
  else if (/port/i.test(key)) d.ports.push(text);
  else if (/dest|dst|target/i.test(key)) {
    if (!ANYONE.test(text)) d.strange.push(`${key} ${text}`);
  } else if ((ANYONE.test(text) || (/[.:]/.test(text) && parsePrefix(text) !== null)) && !OWN_SIDE.test(key))
    d.sources.push(text);
  else if (
    /(?:source|remote|peer|from)[ _-]?(?:[a-z]+[ _-]?)?group$/i.test(key) &&
    /^[\w.-]{1,80}$/.test(text)
  )
    d.sources.push(`group:${text}`);
  else if (/source|remote|cidr|peer|group|from|range|prefix|address/i.test(key))
    d.strange.push(`${key} ${text}`);
  else if (!REMARK.test(key)) d.strange.push(`${key} ${text}`);
}

/** The row that a draft makes: null where it is none, `passed` where it says nothing about what comes in. */
export function rowOf(d: Draft): Row | 'passed' | null {
  if (d.ends.from !== undefined || d.ends.to !== undefined) {
    const first = d.ends.from ?? d.ends.to!;
    const last = d.ends.to ?? first;
    if (first >= 0 && !(first === 0 && (last === 0 || last === 65_535)))
      d.ports.push(first === last ? String(first) : `${first}-${last}`);
    else d.ports.push('any');
  }
  if (d.sources.length === 0 && !d.strange.some((s) => /group|source|remote/i.test(s))) return null;
  if (d.ports.length === 0 && d.protocols.length === 0) return null;
  if (
    (d.outward && !d.inward) ||
    d.off ||
    (d.protocols.length > 0 && d.protocols.every((p) => OTHER_PROTOCOL.test(p)))
  )
    return 'passed';
  const open =
    d.ports.length === 0 || d.ports.some((p) => ANYONE.test(p) || p === '0-65535' || p === '1-65535');
  const readable = d.ports.every((p) => p.split(/[,;]\s*/).every((x) => parsePortRange(x.trim()) !== null));
  const pairs = d.protocols.includes('tcp') && d.protocols.includes('udp') && d.ports.length > 1;
  const protocols = new Set(d.protocols.filter((p) => p === 'tcp' || p === 'udp'));
  const [protocol] = protocols;
  const isOne = protocols.size === 1 && !d.protocols.some((p) => ANY_PROTOCOL.test(p));
  return {
    name: d.names[0] ?? null,
    protocol: pairs
      ? unknown({ doubt: 'ports-of-which-protocol' })
      : protocolField(d, isOne ? protocol : undefined),
    ports: portsField(d, open, readable),
    sources: known(
      d.sources.length === 0
        ? ['any']
        : d.sources.map((s) => (/^(any|anywhere|all|everyone|internet|\*)$/i.test(s) ? 'any' : s)),
    ),
    further:
      d.strange.length > 0
        ? unknown({ doubt: 'word', field: 'option', text: d.strange.join(', ').slice(0, 120) })
        : known(null),
  };
}

/** A list that does not show its protocol leaves it open; `any` has to be said. */
function protocolField(d: Draft, only: string | undefined): Row['protocol'] {
  if (d.protocols.length === 0) return unknown({ doubt: 'not-shown', fields: ['protocol'] });
  return known(only === 'tcp' || only === 'udp' ? only : 'any');
}

function portsField(d: Draft, open: boolean, readable: boolean): Row['ports'] {
  if (open) return known(null);
  if (!readable) return unknown({ doubt: 'word', field: 'ports', text: d.ports.join(', ') });
  return known(d.ports.map((p) => p.replaceAll(';', ',').replace(/\s/g, '')).join(','));
}

/** Every value below an object, put where it belongs. */
export function gather(d: Draft, value: Record<string, unknown>, above: string): void {
  for (const [key, v] of Object.entries(value)) {
    if (/^den(y|ied)/i.test(key)) d.refuses = true;
    for (const each of Array.isArray(v) ? v : [v]) {
      if (typeof each === 'object' && each !== null)
        gather(d, each as Record<string, unknown>, `${above} ${key}`);
      else if (each !== null && each !== undefined)
        take(
          d,
          /port|proto|source|dest|cidr|range/i.test(key) ? key : `${above} ${key}`.trim(),
          String(each),
        );
    }
  }
}
