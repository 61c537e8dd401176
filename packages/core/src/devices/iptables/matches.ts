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
import {
  CT_STATE_NUMBER,
  CT_STATUS_NUMBER,
  ICMP_TYPE,
  ICMPV6_TYPE,
  PACKET_TYPE_NUMBER,
  ROUTE_TYPE_NUMBER,
  TCP_FLAG_NUMBER,
} from '../nft/names.ts';
import { numbers } from '../nft/values.ts';
import type { Option, RuleContext } from './options.ts';

const match = (field: Field, set: ValueSet, negate: boolean): Step => ({
  do: 'match',
  fields: [field],
  rows: [[set]],
  negate,
});
const unmodelled = (what: string): Step => ({
  do: 'unmodelled-match',
  doubt: { doubt: 'not-modelled', part: 'match', text: what },
});
const chance = (what: string): Step => ({ do: 'chance', doubt: { doubt: 'earlier-packets', what } });

/** Modules whose outcome time or earlier packets decide; all their options together are one chance. */
const CHANCE_MODULES = new Set([
  'limit',
  'hashlimit',
  'recent',
  'connlimit',
  'statistic',
  'quota',
  'connbytes',
  'time',
  'nfacct',
  'rateest',
  'u32',
  'string',
  'length',
]);
/** Modules that only select where options come from. */
const PLAIN_MODULES = new Set([
  'tcp',
  'udp',
  'udplite',
  'sctp',
  'icmp',
  'icmp6',
  'comment',
  'conntrack',
  'state',
  'multiport',
  'addrtype',
  'iprange',
  'mark',
  'connmark',
  'pkttype',
  'ttl',
  'hl',
  'rt',
  'frag',
  'mh',
]);

/** Compiles the match options of a rule; unknown ones become doubts in place. */
export function compileMatches(list: readonly Option[], context: RuleContext): Step[] {
  const steps: Step[] = [];
  let protocol: number | null = null;
  let module = '';
  for (const option of list) {
    if (option.name === '-p') protocol = protocolNumber(option.values[0] ?? '');
    if (option.name === '-m') {
      module = option.values[0] ?? '';
      if (CHANCE_MODULES.has(module)) steps.push(...chanceModule(module, list));
      else if (!PLAIN_MODULES.has(module)) steps.push(unmodelled(`-m ${module}`));
      continue;
    }
    if (CHANCE_MODULES.has(module) && !CORE_OPTIONS.has(option.name)) continue;
    if (
      module !== '' &&
      !PLAIN_MODULES.has(module) &&
      !CHANCE_MODULES.has(module) &&
      !CORE_OPTIONS.has(option.name)
    )
      continue;
    steps.push(...compileOption(option, protocol, context));
  }
  return steps;
}

const CORE_OPTIONS = new Set(['-s', '-d', '-p', '-i', '-o', '-f']);

/** `recent --set` always matches; everything else of these modules may or may not. */
function chanceModule(module: string, list: readonly Option[]): Step[] {
  if (module === 'recent' && list.some((o) => o.name === '--set' && !o.negate)) return [];
  return [chance(`-m ${module}`)];
}

function compileOption(option: Option, protocol: number | null, { family }: RuleContext): Step[] {
  const { name, negate, values } = option;
  const value = values[0] ?? '';
  const numbersOr = (field: Field, set: ValueSet | null): Step[] => [
    set ? match(field, set, negate) : unmodelled(`${name} ${values.join(' ')}`),
  ];
  switch (name) {
    case '-s':
      return addresses({ of: 'source', family }, value, option);
    case '-d':
      return addresses({ of: 'destination', family }, value, option);
    case '-i':
      return [match({ of: 'in' }, interfaceName(value), negate)];
    case '-o':
      return [match({ of: 'out' }, interfaceName(value), negate)];
    case '-p': {
      const n = protocolNumber(value);
      return n === 0 ? [] : numbersOr({ of: 'protocol' }, n === null ? null : numbers({ first: n, last: n }));
    }
    case '-f':
      return negate ? [] : [unmodelled('-f (fragments)')];
    case '--sport':
    case '--source-port':
      return numbersOr({ of: 'sport', protocol }, ports([value]));
    case '--dport':
    case '--destination-port':
      return numbersOr({ of: 'dport', protocol }, ports([value]));
    case '--sports':
    case '--source-ports':
      return numbersOr({ of: 'sport', protocol }, ports(value.split(',')));
    case '--dports':
    case '--destination-ports':
      return numbersOr({ of: 'dport', protocol }, ports(value.split(',')));
    case '--ports':
      return eitherPort(value, protocol, option);
    case '--ctstate':
    case '--state':
      return ctState(value, option);
    case '--ctstatus':
      return bits(
        { of: 'ct-status' },
        value,
        CT_STATUS_NUMBER,
        { EXPECTED: 'expected', SEEN_REPLY: 'seen-reply', ASSURED: 'assured', CONFIRMED: 'confirmed' },
        option,
      );
    case '--ctdir':
      return [
        match(
          { of: 'ct-direction' },
          numbers(value.toUpperCase() === 'REPLY' ? { first: 1, last: 1 } : { first: 0, last: 0 }),
          negate,
        ),
      ];
    case '--ctproto':
      return numbersOr({ of: 'ct-protocol' }, single(protocolNumber(value)));
    case '--ctorigsrc':
      return addresses({ of: 'ct-source', direction: 'original', family }, value, option);
    case '--ctorigdst':
      return addresses({ of: 'ct-destination', direction: 'original', family }, value, option);
    case '--ctreplsrc':
      return addresses({ of: 'ct-source', direction: 'reply', family }, value, option);
    case '--ctrepldst':
      return addresses({ of: 'ct-destination', direction: 'reply', family }, value, option);
    case '--ctorigsrcport':
      return numbersOr({ of: 'ct-sport', direction: 'original' }, ports([value]));
    case '--ctorigdstport':
      return numbersOr({ of: 'ct-dport', direction: 'original' }, ports([value]));
    case '--src-type':
      return addressType('source', value, option);
    case '--dst-type':
      return addressType('destination', value, option);
    case '--src-range':
      return addresses({ of: 'source', family }, value, option);
    case '--dst-range':
      return addresses({ of: 'destination', family }, value, option);
    case '--mark':
      return mark(value, option);
    case '--pkt-type':
      return numbersOr({ of: 'packet-type' }, single(PACKET_TYPE_NUMBER[value.toLowerCase()] ?? null));
    case '--tcp-flags':
      return tcpFlags(values, option);
    case '--syn':
      return [
        match({ of: 'and', field: { of: 'tcp-flags' }, mask: 0x17 }, numbers({ first: 2, last: 2 }), negate),
      ];
    case '--icmp-type':
      return icmpType(value, 1, ICMP_TYPE, option);
    case '--icmpv6-type':
      return icmpType(value, 58, ICMPV6_TYPE, option);
    case '--comment':
      return [];
    case '--ttl-eq':
    case '--hl-eq':
      return hopsLeft(family, Number(value), Number(value), negate);
    case '--ttl-lt':
    case '--hl-lt':
      return hopsLeft(family, 0, Number(value) - 1, negate);
    case '--ttl-gt':
    case '--hl-gt':
      return hopsLeft(family, Number(value) + 1, 255, negate);
    // A new connection carries no IPv6 extension headers: such a match never hits, negated it always does.
    case '--rt-type':
    case '--rt-segsleft':
    case '--rt-len':
    case '--fragid':
    case '--fragfirst':
    case '--mh-type':
      return negate ? [] : [{ do: 'match', fields: [{ of: 'protocol' }], rows: [], negate: false }];
    // `--limit-iface-in` narrows the address type lookup; handled as a doubt, it is rare.
    default:
      return [unmodelled(name)];
  }
}

function hopsLeft(family: 4 | 6, first: number, last: number, negate: boolean): Step[] {
  return [match({ of: 'hops-left', family }, numbers({ first, last }), negate)];
}

function protocolNumber(text: string): number | null {
  if (/^\d+$/.test(text)) return Number(text);
  return PROTOCOL_NUMBER[text.toLowerCase()] ?? null;
}

const single = (n: number | null): ValueSet | null => (n === null ? null : numbers({ first: n, last: n }));

/** A trailing `+` is iptables' wildcard. */
const interfaceName = (text: string): ValueSet => ({
  type: 'names',
  names: [text.endsWith('+') ? `${text.slice(0, -1)}*` : text],
});

function addresses(field: Field, text: string, { negate, name }: Option): Step[] {
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

function ports(parts: readonly string[]): ValueSet | null {
  const intervals = parts.map((part) => {
    const [first, last] = part
      .split(':')
      .map((end) => (/^\d+$/.test(end) ? Number(end) : (SERVICE_PORT[end] ?? NaN)));
    if (part.endsWith(':')) return { first: first!, last: 65535 };
    if (part.startsWith(':')) return { first: 0, last: last! };
    return { first: first!, last: last ?? first! };
  });
  return intervals.every(({ first, last }) => Number.isInteger(first) && Number.isInteger(last))
    ? numbers(...intervals)
    : null;
}

/** `--ports`: the source or the destination port is listed; negated: neither is. */
function eitherPort(value: string, protocol: number | null, { negate }: Option): Step[] {
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
function ctState(value: string, { negate }: Option): Step[] {
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

function bits(
  field: Field,
  value: string,
  table: Readonly<Record<string, number>>,
  words: Readonly<Record<string, string>>,
  { negate, name }: Option,
): Step[] {
  let mask = 0;
  for (const word of value.split(',')) {
    const bit = table[words[word] ?? word.toLowerCase()];
    if (bit === undefined) return [unmodelled(`${name} ${value}`)];
    mask |= bit;
  }
  return [match(field, { type: 'bits', mask }, negate)];
}

function addressType(side: 'source' | 'destination', value: string, { negate, name }: Option): Step[] {
  const types = value.split(',').map((word) => ROUTE_TYPE_NUMBER[word.toLowerCase()]);
  if (types.some((t) => t === undefined)) return [unmodelled(`${name} ${value}`)];
  return [
    match(
      { of: 'address-type', side, only: null },
      numbers(...types.map((t) => ({ first: t!, last: t! }))),
      negate,
    ),
  ];
}

function mark(value: string, { negate }: Option): Step[] {
  const [wanted, mask] = value.split('/').map(Number);
  if (!Number.isInteger(wanted) || (mask !== undefined && !Number.isInteger(mask)))
    return [unmodelled(`--mark ${value}`)];
  const field: Field = mask === undefined ? { of: 'mark' } : { of: 'and', field: { of: 'mark' }, mask };
  return [match(field, numbers({ first: wanted!, last: wanted! }), negate)];
}

function tcpFlags([mask = '', set = '']: readonly string[], { negate }: Option): Step[] {
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

function icmpType(
  value: string,
  protocol: number,
  names: Readonly<Record<string, number>>,
  { negate }: Option,
): Step[] {
  if (value === 'any' || value === '255')
    return [match({ of: 'icmp-type', protocol }, numbers({ first: 0, last: 255 }), negate)];
  const [type, code] = value.split('/');
  const n = /^\d+$/.test(type!) ? Number(type) : names[type!];
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
