import type { Field, Step, ValueSet } from '../../rules/index.ts';
import { CT_STATUS_NUMBER, ICMP_TYPE, ICMPV6_TYPE, PACKET_TYPE_NUMBER } from '../nft/names.ts';
import { numbers } from '../nft/values.ts';
import { MATCHES } from './extensions.ts';
import type { Option, RuleContext } from './options.ts';
import {
  match,
  unmodelled,
  hopsLeft,
  protocolNumber,
  single,
  interfaceName,
  addresses,
  ports,
  eitherPort,
  ctState,
  bits,
  addressType,
  mark,
  tcpFlags,
  icmpType,
} from './conditions.ts';

const chance = (what: string): Step => ({ do: 'chance', doubt: { doubt: 'earlier-packets', what } });

/** Modules whose outcome time or earlier packets decide: all their options together are one chance. */
const isChance = (module: string): boolean => MATCHES[module]?.how === 'chance';
/** Modules that only select where options come from. */
const isPlain = (module: string): boolean => {
  const how = MATCHES[module]?.how;
  return how === 'modelled' || how === 'no-effect';
};

/** Compiles the match options of a rule; unknown ones become doubts in place. */
export function compileMatches(list: readonly Option[], context: RuleContext): Step[] {
  const steps: Step[] = [];
  let protocol: number | null = null;
  let module = '';
  for (const option of list) {
    if (option.name === '-p') protocol = protocolNumber(option.values[0] ?? '');
    if (option.name === '-m') {
      module = option.values[0] ?? '';
      if (isChance(module)) steps.push(...chanceModule(module, list));
      else if (!isPlain(module)) steps.push(unmodelled(`-m ${module}`));
      continue;
    }
    if (isChance(module) && !CORE_OPTIONS.has(option.name)) continue;
    if (module !== '' && !isPlain(module) && !isChance(module) && !CORE_OPTIONS.has(option.name)) continue;
    if (option.name === '--mark') steps.push(...mark(module === 'connmark' ? 'ct-mark' : 'mark', option));
    else steps.push(...compileOption(option, protocol, context));
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
    // A new connection carries no IPv6 extension headers: such a match never hits, negated or not (rt_mt6,
    // frag_mt6).
    case '--rt-type':
    case '--rt-segsleft':
    case '--rt-len':
    case '--fragid':
    case '--fragfirst':
    case '--mh-type':
      return [{ do: 'match', fields: [{ of: 'protocol' }], rows: [], negate: false }];
    // `--limit-iface-in` narrows the address type lookup; handled as a doubt, it is rare.
    default:
      return [unmodelled(name)];
  }
}
