import { parseAddress, parsePrefix, prefixInterval, type Family } from '../../net/index.ts';
import type { Step, TranslationTarget } from '../../rules/index.ts';
import { isObject, type Json } from './objects.ts';
import { Unmodelled, valuesFor } from './values.ts';
import { type TableContext } from './context.ts';
import { lookupOf } from './keys.ts';

const FAMILY: Readonly<Record<string, Family>> = { ip: 4, ip6: 6 };

export function translation(side: 'source' | 'destination', body: Json, context: TableContext): Step {
  if (!isObject(body)) throw new Unmodelled('a translation without a target');
  const addr = body['addr'] as Json | undefined;
  const family = FAMILY[String(body['family'] ?? '')] ?? FAMILY[context.family] ?? null;
  const ports = portsOf(isObject(body['port']) && 'map' in body['port'] ? undefined : body['port']);
  if (isObject(addr) && isObject(addr['map'])) {
    return {
      do: 'translate-map',
      side,
      family,
      lookup: lookupOf(addr['map'], context, (value) => ({
        ...targetOf(value),
        ...(ports ? { ports } : {}),
      })),
    };
  }
  if (isObject(body['port']) && isObject(body['port']['map'])) {
    const fixed = addr === undefined ? { addresses: null } : targetOf(addr);
    return {
      do: 'translate-map',
      side,
      family,
      lookup: lookupOf(body['port']['map'], context, (value) => ({
        addresses: fixed.addresses,
        ports: portsOf(value),
      })),
    };
  }
  const target = addr === undefined ? { addresses: null, ports: null } : targetOf(addr);
  const oneToOne = ['prefix', 'netmap'].some((flag) =>
    JSON.stringify([body['flags'] ?? null, body['type_flags'] ?? null]).includes(flag),
  );
  return {
    do: 'translate',
    side,
    family,
    target: {
      addresses: target.addresses,
      ports: ports ?? target.ports,
      prefix: oneToOne ? (target.prefix ?? null) : null,
    },
  };
}

/** An address, a range, a prefix, or an address with a port. */
function targetOf(value: Json): TranslationTarget {
  if (isObject(value) && Array.isArray(value['concat'])) {
    const [addr, port] = value['concat'] as Json[];
    return { addresses: targetOf(addr!).addresses, ports: portsOf(port) };
  }
  if (isObject(value) && Array.isArray(value['range'])) {
    const [first, last] = (value['range'] as Json[]).map((end) => parseAddress(String(end)));
    if (first && last) return { addresses: { first, last }, ports: null };
  }
  if (isObject(value) && isObject(value['prefix'])) {
    const p = parsePrefix(`${String(value['prefix']['addr'])}/${String(value['prefix']['len'])}`);
    if (p) {
      const { first, last } = prefixInterval(p);
      return {
        addresses: { first: { family: p.family, bits: first }, last: { family: p.family, bits: last } },
        ports: null,
        prefix: p,
      };
    }
  }
  const at = typeof value === 'string' ? parseAddress(value) : null;
  if (at) return { addresses: { first: at, last: at }, ports: null };
  throw new Unmodelled(`the translation target ${JSON.stringify(value)}`);
}

export function portsOf(value: Json | undefined): TranslationTarget['ports'] {
  if (value === undefined || value === null) return null;
  const set = valuesFor({ of: 'dport', protocol: null }, value);
  const part = set.type === 'numbers' ? set.set[0] : undefined;
  if (!part || (set.type === 'numbers' && set.set.length !== 1))
    throw new Unmodelled(`the translated port ${JSON.stringify(value)}`);
  return { first: part.first, last: part.last, base: null };
}

export function redirect(port: Json | undefined, context: TableContext): Step {
  if (isObject(port) && isObject(port['map']))
    throw new Unmodelled(`a redirection by map in table family ${context.family}`);
  return { do: 'redirect', ports: portsOf(port) };
}
