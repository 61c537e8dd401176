import { nth } from '../../place/index.ts';
import type { Family } from '../../net/index.ts';
import type { Field } from '../../rules/index.ts';
import { isObject, type Json, type JsonObject, type NftFamily } from './objects.ts';
import { bitsFor, Unmodelled } from './values.ts';

const inner = (expression: JsonObject, key: string): JsonObject | null =>
  isObject(expression[key]) ? (expression[key] as JsonObject) : null;

/** The fields of a left-hand side; several for a concatenation. */
export function fieldsOf(left: Json, family: NftFamily): Field[] {
  if (isObject(left) && Array.isArray(left['concat']))
    return (left['concat'] as Json[]).map((part) => fieldOf(part, family));
  return [fieldOf(left, family)];
}

export function fieldOf(left: Json, family: NftFamily): Field {
  if (!isObject(left)) throw new Unmodelled(`the expression ${JSON.stringify(left)}`);
  const payload = inner(left, 'payload');
  if (payload) return payloadField(payload, family);
  const meta = inner(left, 'meta');
  if (meta) return metaField(String(meta['key']));
  const ct = inner(left, 'ct');
  if (ct) return ctField(ct);
  const fib = inner(left, 'fib');
  if (fib) return fibField(fib);
  const and = left['&'];
  if (Array.isArray(and)) {
    const field = fieldOf(and[0] as Json, family);
    return { of: 'and', field, mask: bitsFor(field, and[1] as Json) };
  }
  throw new Unmodelled(`the expression ${Object.keys(left)[0] ?? '?'}`);
}

const addressFamily = (protocol: string): Family | null => {
  if (protocol === 'ip') return 4;
  return protocol === 'ip6' ? 6 : null;
};

const TRANSPORT: Readonly<Record<string, number | null>> = {
  tcp: 6,
  udp: 17,
  th: null,
  sctp: 132,
  dccp: 33,
  udplite: 136,
};

function payloadField(payload: JsonObject, family: NftFamily): Field {
  if ('base' in payload) return rawField(payload, family);
  const protocol = String(payload['protocol']);
  const name = String(payload['field']);
  if (protocol in TRANSPORT) {
    if (name === 'sport' || name === 'dport') return { of: name, protocol: TRANSPORT[protocol]! };
    if (protocol === 'tcp' && name === 'flags') return { of: 'tcp-flags' };
  }
  const f = addressFamily(protocol);
  if (f && name === 'saddr') return { of: 'source', family: f };
  if (f && name === 'daddr') return { of: 'destination', family: f };
  if ((protocol === 'ip' && name === 'ttl') || (protocol === 'ip6' && name === 'hoplimit'))
    return { of: 'hops-left', family: f! };
  if (protocol === 'ip' && name === 'protocol') return { of: 'protocol', family: 4 };
  if (protocol === 'ip6' && name === 'nexthdr') return { of: 'protocol', family: 6 };
  if (protocol === 'icmp' && name === 'type') return { of: 'icmp-type', protocol: 1 };
  if (protocol === 'icmp' && name === 'code') return { of: 'icmp-code', protocol: 1 };
  if (protocol === 'icmpv6' && name === 'type') return { of: 'icmp-type', protocol: 58 };
  if (protocol === 'icmpv6' && name === 'code') return { of: 'icmp-code', protocol: 58 };
  throw new Unmodelled(`the match on ${protocol} ${name}`);
}

/**
 * Header bytes by offset and length in bits, as generated rules have them (RFC 791 §3.1, RFC 8200 §3, RFC
 * 9293 §3.1).
 */
function rawField(payload: JsonObject, family: NftFamily): Field {
  const place = `${String(payload['base'])},${String(payload['offset'])},${String(payload['len'])}`;
  if (place === 'th,0,16') return { of: 'sport', protocol: null };
  if (place === 'th,16,16') return { of: 'dport', protocol: null };
  if (family === 'ip') {
    if (place === 'nh,72,8') return { of: 'protocol' };
    if (place === 'nh,96,32') return { of: 'source', family: 4 };
    if (place === 'nh,128,32') return { of: 'destination', family: 4 };
  }
  if (family === 'ip6' && place === 'nh,48,8') return { of: 'protocol' };
  throw new Unmodelled(`the raw header match @${place}`);
}

function metaField(key: string): Field {
  switch (key) {
    case 'iif':
    case 'iifname':
      return { of: 'in' };
    case 'oif':
    case 'oifname':
      return { of: 'out' };
    case 'l4proto':
      return { of: 'protocol' };
    case 'nfproto':
    case 'protocol':
      return { of: 'family' };
    case 'mark':
      return { of: 'mark' };
    case 'pkttype':
      return { of: 'packet-type' };
    default:
      throw new Unmodelled(`the match on meta ${key}`);
  }
}

function ctField(ct: JsonObject): Field {
  const key = String(ct['key']);
  const direction = ct['dir'] === 'reply' ? 'reply' : 'original';
  const words = key.split(' ');
  const last = nth(words, words.length - 1);
  const family = words.length > 1 ? addressFamily(nth(words, 0)) : null;
  switch (last) {
    case 'state':
      return { of: 'ct-state' };
    case 'status':
      return { of: 'ct-status' };
    case 'direction':
      return { of: 'ct-direction' };
    case 'mark':
      return { of: 'ct-mark' };
    case 'protocol':
      return { of: 'ct-protocol' };
    case 'l3proto':
      return { of: 'ct-family' };
  }
  if ('dir' in ct) {
    switch (last) {
      case 'saddr':
        return { of: 'ct-source', direction, family };
      case 'daddr':
        return { of: 'ct-destination', direction, family };
      case 'proto-src':
        return { of: 'ct-sport', direction };
      case 'proto-dst':
        return { of: 'ct-dport', direction };
    }
  }
  throw new Unmodelled(`the match on ct ${key}`);
}

function fibField(fib: JsonObject): Field {
  const flags = Array.isArray(fib['flags']) ? (fib['flags'] as Json[]).map(String) : [String(fib['flags'])];
  const has = (flag: string): boolean => flags.includes(flag);
  let only: 'in' | 'out' | null;
  if (has('iif')) only = 'in';
  else if (has('oif')) only = 'out';
  else only = null;
  if (fib['result'] === 'type' && !has('mark'))
    return { of: 'address-type', side: has('saddr') ? 'source' : 'destination', only };
  if (fib['result'] === 'oif' && has('saddr') && only !== 'out')
    return { of: 'reverse-path', mark: has('mark'), interface: only === 'in' };
  throw new Unmodelled(`the match on fib ${flags.join(' . ')} ${String(fib['result'])}`);
}
