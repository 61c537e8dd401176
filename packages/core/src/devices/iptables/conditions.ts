import {
  addressRange,
  addressSet,
  parseAddress,
  parsePrefix,
  type AddressSet,
  PROTOCOL_NUMBER,
  SERVICE_PORT,
} from '../../net/index.ts';
import type { Field, Step, ValueSet } from '../../rules/index.ts';
import { CT_STATE_NUMBER, CT_STATUS_NUMBER, ROUTE_TYPE_NUMBER, TCP_FLAG_NUMBER } from '../nft/names.ts';
import { numbers } from '../nft/values.ts';
import type { Option } from './options.ts';

export const match = (field: Field, set: ValueSet, negate: boolean): Step => ({
  do: 'match',
  fields: [field],
  rows: [[set]],
  negate,
});

export const unmodelled = (what: string): Step => ({
  do: 'unmodelled-match',
  doubt: { doubt: 'not-modelled', part: 'match', text: what },
});

export function hopsLeft(family: 4 | 6, first: number, last: number, negate: boolean): Step[] {
  return [match({ of: 'hops-left', family }, numbers({ first, last }), negate)];
}

export function protocolNumber(text: string): number | null {
  if (/^\d+$/.test(text)) return Number(text);
  return PROTOCOL_NUMBER[text.toLowerCase()] ?? null;
}

export const single = (n: number | null): ValueSet | null =>
  n === null ? null : numbers({ first: n, last: n });

/** A trailing `+` is iptables' wildcard. */
export const interfaceName = (text: string): ValueSet => ({
  type: 'names',
  names: [text.endsWith('+') ? `${text.slice(0, -1)}*` : text],
});

export function addresses(field: Field, text: string, { negate, name }: Option): Step[] {
  const sets: AddressSet[] = [];
  for (const part of text.split(',')) {
    const dash = part.indexOf('-');
    const first = dash > 0 ? parseAddress(part.slice(0, dash)) : null;
    const last = dash > 0 ? parseAddress(part.slice(dash + 1)) : null;
    const p = parsePrefix(part);
    if (first && last) sets.push(addressRange(first, last));
    else if (p) sets.push(addressSet(p));
    else return [unmodelled(`${name} ${text}`)];
  }
  return [{ do: 'match', fields: [field], rows: sets.map((set) => [{ type: 'addresses', set }]), negate }];
}

export function ports(parts: readonly string[]): ValueSet | null {
  const intervals = parts.map((part) => {
    const [first = NaN, last = first] = part
      .split(':')
      .map((end) => (/^\d+$/.test(end) ? Number(end) : (SERVICE_PORT[end] ?? NaN)));
    if (part.endsWith(':')) return { first, last: 65535 };
    if (part.startsWith(':')) return { first: 0, last };
    return { first, last };
  });
  return intervals.every(({ first, last }) => Number.isInteger(first) && Number.isInteger(last))
    ? numbers(...intervals)
    : null;
}

/** `--ports`: the source or the destination port is listed; negated: neither is. */
export function eitherPort(value: string, protocol: number | null, { negate }: Option): Step[] {
  const set = ports(value.split(','));
  if (!set) return [unmodelled(`--ports ${value}`)];
  const any = numbers({ first: 0, last: 65535 });
  return [
    {
      do: 'match',
      fields: [
        { of: 'sport', protocol },
        { of: 'dport', protocol },
      ],
      rows: [
        [set, any],
        [any, set],
      ],
      negate,
    },
  ];
}

/** `--ctstate`: real states, and the two that are statuses (SNAT, DNAT) with them. */
export function ctState(value: string, { negate }: Option): Step[] {
  const words = value.split(',');
  const states = words
    .filter((w) => w !== 'SNAT' && w !== 'DNAT')
    .reduce((mask, w) => mask | (CT_STATE_NUMBER[w.toLowerCase()] ?? 0), 0);
  const statuses = words.reduce(
    (mask, w) => mask | (w === 'SNAT' || w === 'DNAT' ? CT_STATUS_NUMBER[w.toLowerCase()]! : 0),
    0,
  );
  if (statuses === 0) return [match({ of: 'ct-state' }, { type: 'bits', mask: states }, negate)];
  if (states === 0) {
    // An untracked or invalid packet has no status: xt_conntrack then sees no flag set.
    const hit = match({ of: 'ct-status' }, { type: 'bits', mask: statuses }, false);
    return negate ? [{ ...hit, negate: true } as Step] : [hit];
  }
  const any = numbers({ first: 0, last: 0xffff_ffff });
  return [
    {
      do: 'match',
      fields: [{ of: 'ct-state' }, { of: 'ct-status' }],
      rows: [
        [{ type: 'bits', mask: states }, any],
        [any, { type: 'bits', mask: statuses }],
      ],
      negate,
    },
  ];
}

export function bits(
  field: Field,
  value: string,
  table: Readonly<Record<string, number>>,
  words: Readonly<Record<string, string>>,
  { negate, name }: Option,
): Step[] {
  let mask = 0;
  // `NONE` has no bit: such a match never hits (xt_conntrack).
  for (const word of value === 'NONE' ? [] : value.split(',')) {
    const bit = table[words[word] ?? word.toLowerCase()];
    if (bit === undefined) return [unmodelled(`${name} ${value}`)];
    mask |= bit;
  }
  return [match(field, { type: 'bits', mask }, negate)];
}

export function addressType(side: 'source' | 'destination', value: string, { negate, name }: Option): Step[] {
  const words = value.split(',');
  const types = words.flatMap((word) => ROUTE_TYPE_NUMBER[word.toLowerCase()] ?? []);
  if (types.length < words.length) return [unmodelled(`${name} ${value}`)];
  return [
    match(
      { of: 'address-type', side, only: null },
      numbers(...types.map((t) => ({ first: t, last: t }))),
      negate,
    ),
  ];
}

export function mark(of: 'mark' | 'ct-mark', { negate, values: [value = ''] }: Option): Step[] {
  const [wanted = NaN, mask] = value.split('/').map(Number);
  if (!Number.isInteger(wanted) || (mask !== undefined && !Number.isInteger(mask)))
    return [unmodelled(`--mark ${value}`)];
  const field: Field = mask === undefined ? { of } : { of: 'and', field: { of }, mask };
  return [match(field, numbers({ first: wanted, last: wanted }), negate)];
}

export function tcpFlags([mask = '', set = '']: readonly string[], { negate }: Option): Step[] {
  const sum = (list: string): number => {
    if (list === 'NONE') return 0;
    return list === 'ALL'
      ? 0x3f
      : list.split(',').reduce((n, f) => n | (TCP_FLAG_NUMBER[f.toLowerCase()] ?? 0), 0);
  };
  return [
    match(
      { of: 'and', field: { of: 'tcp-flags' }, mask: sum(mask) },
      numbers({ first: sum(set), last: sum(set) }),
      negate,
    ),
  ];
}

export function icmpType(
  value: string,
  protocol: number,
  names: Readonly<Record<string, number>>,
  { negate }: Option,
): Step[] {
  if (value === 'any' || value === '255')
    return [match({ of: 'icmp-type', protocol }, numbers({ first: 0, last: 255 }), negate)];
  const [type = '', code] = value.split('/');
  const n = /^\d+$/.test(type) ? Number(type) : names[type];
  if (n === undefined) return [unmodelled(`the ICMP type ${value}`)];
  if (code === undefined)
    return [match({ of: 'icmp-type', protocol }, numbers({ first: n, last: n }), negate)];
  return [
    {
      do: 'match',
      fields: [
        { of: 'icmp-type', protocol },
        { of: 'icmp-code', protocol },
      ],
      rows: [[numbers({ first: n, last: n }), numbers({ first: Number(code), last: Number(code) })]],
      negate,
    },
  ];
}
