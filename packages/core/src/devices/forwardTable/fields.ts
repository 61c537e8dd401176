import {
  parsePrefix,
  prefixOf,
  type Prefix,
  type AddressSet,
  addressSet,
  type Address,
  ADDRESS_LENGTH,
  PROTOCOL,
} from '../../net/index.ts';
import { CT_STATUS, type Field, type Step, type ValueSet } from '../../rules/index.ts';
import { match, bits, one, portNumbers, addresses, addressOf, addressMatch, single } from '../build.ts';
import type { Rival } from './clashes.ts';
import { nth } from '../../place/index.ts';
import type { ForwardManner } from './manner.ts';
import type { ForwardRow } from './row.ts';

export const FORWARDED = match({ of: 'ct-status' }, bits(CT_STATUS.dnat));

export const LOCAL = match({ of: 'address-type', side: 'destination', only: null }, one(2));

export const only = (a: Address): AddressSet => addressSet(prefixOf(a, ADDRESS_LENGTH[a.family]));

export const fieldsOf = ({ protocol, sources }: Rival): Field[] => [
  ...(protocol === 'both' ? [] : [{ of: 'protocol' } as const]),
  { of: 'dport', protocol: null },
  ...(sources === null ? [] : [{ of: 'source', family: null } as const]),
];

export const valuesOf = ({ protocol, ports, sources }: Rival): ValueSet[] => [
  ...(protocol === 'both' ? [] : [one(PROTOCOL[protocol])]),
  portNumbers([ports]),
  ...(sources === null ? [] : [addresses(addressSet(...sources))]),
];

/** What two rows claim both, as one condition or its opposite. */
export const claimed = (r: Rival): Step[] => [
  { do: 'match', fields: fieldsOf(r), rows: [valuesOf(r)], negate: false },
];

export const unclaimed = (r: Rival): Step => ({
  do: 'match',
  fields: fieldsOf(r),
  rows: [valuesOf(r)],
  negate: true,
});

/** Rows hold for the outside addresses of their lines, also where an inside machine dials them. */
export function outsideOnly(wan: readonly string[], interfaces: ForwardManner['interfaces']): Step[] {
  const texts = (interfaces ?? []).filter((d) => wan.includes(d.name)).flatMap((d) => d.addresses ?? []);
  if (texts.length === 0) return [];
  const set = addressSet(
    ...texts
      .map((t) => addressOf(nth(t.split('/'), 0), WHERE))
      .map((a) => prefixOf(a, ADDRESS_LENGTH[a.family])),
  );
  return addressMatch('destination', set);
}

/** Where it is open what a row sends to, nobody knows what becomes of the packet. */
export function targetOf({ insideAddress, insideFirst, outside, unsure }: ForwardRow): Step {
  if (unsure || !insideAddress)
    return {
      do: 'unmodelled-action',
      doubt: unsure ?? { doubt: 'not-shown', fields: ['addresses'] },
    };
  return {
    do: 'translate',
    side: 'destination',
    family: insideAddress.family,
    target: {
      addresses: single(insideAddress),
      ports: { first: insideFirst, last: insideFirst + outside.last - outside.first, base: outside.first },
    },
  };
}

/** Prefixes of a row's allowed sources; null where one of them cannot be read. */

export function sourcePrefixes(texts: readonly string[]): Prefix[] | null {
  const parsed = texts.map(parsePrefix);
  return parsed.every((p) => p !== null) ? (parsed as Prefix[]) : null;
}

export const WHERE = 'forward table';
