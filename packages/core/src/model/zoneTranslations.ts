import type { DeviceInterface, ForwardRow, ZoneTranslation } from '../devices/index.ts';
import {
  formatPrefix,
  parsePrefix,
  prefixContains,
  toPrefixes,
  addressRange,
  formatAddress,
  parseAddress,
  isReachable,
} from '../net/index.ts';
import type { Doubt, FieldName } from '../rules/index.ts';
import { openFields, saidOr, type AddressMappingRecord } from '../facts/index.ts';

export interface ReadTranslations {
  readonly translations: ZoneTranslation[];
  readonly doubts: ReadonlyMap<number, readonly Doubt[]>;
  /** Of rows that cannot be written down: what they take is open. */
  readonly open: Doubt | null;
}

export function rangeOf(text: string): string[] | null {
  const [first, last, more] = text.split(/[-–]/).map((t) => parseAddress(t.trim()));
  return first && last && more === undefined && first.family === last.family && first.bits <= last.bits
    ? toPrefixes(addressRange(first, last)).map(formatPrefix)
    : null;
}

/** Addresses of a rule as prefixes; the name of a translation stays, and one that names nothing is open. */
export function membersOf(
  list: readonly string[] | null,
  { names, translations }: Known,
  field: FieldName,
): { list?: readonly string[]; doubts: readonly Doubt[] } {
  if (list === null) return { doubts: [] };
  const read = list.map((text): readonly string[] | null => {
    if (parsePrefix(text)) return [text];
    const range = rangeOf(text);
    if (range) return range;
    const name = text.toLowerCase();
    const mapping = translations.find((t) => t.name?.toLowerCase() === name)?.name;
    if (field === 'addresses' && mapping !== undefined) return [mapping];
    return names.get(name) ?? null;
  });
  const odd = list.filter((_, i) => read[i] === null);
  return odd.length > 0
    ? { doubts: [{ doubt: 'word', field, text: odd.join(', ') }] }
    : { list: read.flatMap((r) => r ?? []), doubts: [] };
}

export const forwardOf = (r: ForwardRow, outside: string, to: string): ZoneTranslation => ({
  type: 'port-forward',
  ...(r.name === '' ? {} : { name: r.name }),
  outside,
  protocol: r.protocol,
  ports: r.outside.first === r.outside.last ? r.outside.first : `${r.outside.first}-${r.outside.last}`,
  to,
  ...(r.insideFirst === r.outside.first ? {} : { toPort: r.insideFirst }),
  ...(r.sources === null ? {} : { sources: r.sources.map(formatPrefix) }),
  enabled: r.enabled && r.applied !== false,
});

/**
 * Outside addresses that stand as inside ones in a mapping whose two sides were exchanged: the firewall
 * answers for what lies in its own network outside, whichever side of its table it stands on.
 */
export function exchanged(
  mappings: readonly AddressMappingRecord[],
  interfaces: readonly DeviceInterface[],
): string[] {
  const nets = interfaces
    .filter((d) => d.side === 'outside')
    .flatMap((d) => d.addresses ?? [])
    .flatMap((a) => parsePrefix(a) ?? []);
  return mappings.flatMap((m) => {
    const [outside, inside] = [m.outside, m.inside].map((s) => parseAddress(saidOr(s, '')));
    return outside && inside && !isReachable(outside) && nets.some((n) => prefixContains(n, inside))
      ? [formatAddress(inside)]
      : [];
  });
}

export function translationsOf(
  mappings: readonly AddressMappingRecord[],
  rows: readonly ForwardRow[],
  interfaces: readonly DeviceInterface[],
): ReadTranslations {
  const translations: ZoneTranslation[] = [];
  const doubts = new Map<number, readonly Doubt[]>();
  let open: Doubt | null = null;
  const add = (t: ZoneTranslation, why: readonly Doubt[]): void => {
    if (why.length > 0) doubts.set(translations.length, why);
    translations.push(t);
  };
  const lines = interfaces.filter((d) => d.side === 'outside').map((d) => d.name);
  // What is forwarded by port stands above what an address carries as a whole.
  for (const r of rows) {
    if (!r.insideAddress || r.unsure) {
      open = r.unsure ?? { doubt: 'not-shown', fields: ['addresses'] };
      continue;
    }
    for (const outside of r.outsideAddress ? [formatAddress(r.outsideAddress)] : lines)
      add(forwardOf(r, outside, formatAddress(r.insideAddress)), r.doubts);
  }
  for (const m of mappings) {
    const [outside, inside] = [saidOr(m.outside, null), saidOr(m.inside, null)];
    if (outside === null || inside === null) {
      open = openFields(m)[0] ?? null;
      continue;
    }
    add(
      {
        type: 'one-to-one',
        ...(m.name === null ? {} : { name: m.name }),
        outside,
        inside,
        twoWay: m.twoWay,
        enabled: saidOr(m.enabled, true),
      },
      openFields(m),
    );
  }
  return { translations, doubts, open };
}

export interface Known {
  readonly interfaces: readonly DeviceInterface[];
  readonly translations: readonly ZoneTranslation[];
  readonly names: ReadonlyMap<string, readonly string[]>;
  /** The only inner zone that rules name; null: several. */
  readonly sole: string | null;
}
