import { parseAddress, parsePrefix, type Address, type Family } from '../../net/index.ts';
import type { RejectKind, Step, TranslationTarget } from '../../rules/index.ts';
import { TARGETS } from './extensions.ts';
import type { Option, RuleContext } from './options.ts';

const unmodelled = (what: string): Step => ({
  do: 'unmodelled-action',
  doubt: { doubt: 'not-modelled', part: 'target', text: what },
});

/** Words after `--reject-with` (iptables-extensions(8)). */
const REJECT: Readonly<Record<string, RejectKind>> = {
  'tcp-reset': 'tcp-reset',
  'icmp-port-unreachable': 'port-unreachable',
  'icmp6-port-unreachable': 'port-unreachable',
  'icmp-host-unreachable': 'host-unreachable',
  'icmp6-addr-unreachable': 'host-unreachable',
  'icmp-net-unreachable': 'net-unreachable',
  'icmp6-no-route': 'net-unreachable',
  'icmp-proto-unreachable': 'protocol-unreachable',
  'icmp-net-prohibited': 'admin-prohibited',
  'icmp-host-prohibited': 'admin-prohibited',
  'icmp-admin-prohibited': 'admin-prohibited',
  'icmp6-adm-prohibited': 'admin-prohibited',
  'icmp6-policy-fail': 'admin-prohibited',
  'icmp6-reject-route': 'admin-prohibited',
};

/** Compiles `-j TARGET` or `-g CHAIN` with the options behind it. */
export function compileTarget(target: Option, rest: readonly Option[], context: RuleContext): Step[] {
  const name = target.values[0] ?? '';
  const value = (option: string): string | undefined => rest.find((o) => o.name === option)?.values[0];
  const chain = context.chain(name);
  if (chain) return [{ do: 'verdict', verdict: { verdict: target.name === '-g' ? 'goto' : 'jump', chain } }];
  if (TARGETS[name]?.how === 'no-effect') return [{ do: 'note', what: name }];
  switch (name) {
    case 'ACCEPT':
      return [{ do: 'verdict', verdict: { verdict: 'accept' } }];
    case 'DROP':
      return [{ do: 'verdict', verdict: { verdict: 'drop' } }];
    case 'RETURN':
      return [{ do: 'verdict', verdict: { verdict: 'return' } }];
    case 'REJECT':
      return [
        {
          do: 'verdict',
          verdict: {
            verdict: 'reject',
            kind: REJECT[value('--reject-with') ?? 'icmp-port-unreachable'] ?? 'port-unreachable',
          },
        },
      ];
    case 'DNAT':
      return [translation('destination', value('--to-destination'), context.family)];
    case 'SNAT':
      return [translation('source', value('--to-source'), context.family)];
    case 'NETMAP':
      return [netmap(value('--to'), context)];
    case 'MASQUERADE':
      return [{ do: 'masquerade', ports: portRange(value('--to-ports')) }];
    case 'REDIRECT':
      return [{ do: 'redirect', ports: portRange(value('--to-ports')) }];
    case 'NOTRACK':
      return [{ do: 'notrack' }];
    case 'CT':
      if (rest.some((o) => o.name === '--notrack')) return [{ do: 'notrack' }];
      return rest.some((o) => o.name.startsWith('--zone'))
        ? [unmodelled('CT --zone')]
        : [{ do: 'note', what: 'CT' }];
    case 'MARK':
      return [setMark('mark', rest)];
    case 'CONNMARK':
      return [connmark(rest)];
    default:
      return [unmodelled(name)];
  }
}

function portRange(text: string | undefined): TranslationTarget['ports'] {
  const match = /^(\d+)(?:-(\d+))?(?:\/(\d+))?$/.exec(text ?? '');
  return match
    ? {
        first: Number(match[1]),
        last: Number(match[2] ?? match[1]),
        base: match[3] === undefined ? null : Number(match[3]),
      }
    : null;
}

/** `ADDR[-ADDR][:PORT[-PORT[/BASE]]]`, IPv6 addresses in brackets where a port follows. */
function translation(side: 'source' | 'destination', text: string | undefined, family: Family): Step {
  const match =
    /^(?:\[([^\]]+)\]|([^:]*)|([0-9a-fA-F:]+(?:-[0-9a-fA-F:]+)?))(?::(\d+(?:-\d+)?(?:\/\d+)?))?$/.exec(
      text ?? '',
    );
  const host = match ? (match[1] ?? match[2] ?? match[3] ?? '') : null;
  const ends = host === null || host === '' ? [] : host.replace(/[[\]]/g, '').split('-').map(parseAddress);
  if (host === null || ends.some((a) => a === null) || ends.length > 2)
    return unmodelled(`${side === 'source' ? 'SNAT' : 'DNAT'} ${text ?? ''}`);
  const [first, last] = ends as Address[];
  return {
    do: 'translate',
    side,
    family,
    target: { addresses: first ? { first, last: last ?? first } : null, ports: portRange(match![4]) },
  };
}

const pair = (text: string, mask: number): [number, number] => {
  const [value, given] = text.split('/').map(Number);
  return [value! >>> 0, given === undefined ? mask : given >>> 0];
};

/**
 * `--set-xmark v/m`: `(mark & ~m) ^ v`; `--set-mark v/m`: `(mark & ~(v|m)) | v`; and, or, xor as they say.
 */
function setMark(on: 'mark' | 'ct-mark', rest: readonly Option[]): Step {
  for (const { name, values } of rest) {
    const text = values[0] ?? '';
    const [v, m] = pair(text, 0xffff_ffff);
    switch (name) {
      case '--set-xmark':
        return { do: 'set-mark', on, from: on, keep: ~m >>> 0, flip: v };
      case '--set-mark':
        return { do: 'set-mark', on, from: on, keep: ~(m | v) >>> 0, flip: v };
      case '--and-mark':
        return { do: 'set-mark', on, from: on, keep: v, flip: 0 };
      case '--or-mark':
        return { do: 'set-mark', on, from: on, keep: ~v >>> 0, flip: v };
      case '--xor-mark':
        return { do: 'set-mark', on, from: on, keep: 0xffff_ffff, flip: v };
    }
  }
  return unmodelled(on === 'mark' ? 'MARK' : 'CONNMARK');
}

function connmark(rest: readonly Option[]): Step {
  const mask = (name: string): number =>
    Number(rest.find((o) => o.name === name)?.values[0] ?? 0xffff_ffff) >>> 0;
  const full = (mask('--nfmask') & mask('--ctmask') & mask('--mask')) >>> 0 === 0xffff_ffff;
  if (rest.some((o) => o.name === '--save-mark'))
    return full
      ? { do: 'set-mark', on: 'ct-mark', from: 'mark', keep: 0xffff_ffff, flip: 0 }
      : unmodelled('CONNMARK --save-mark with a mask');
  if (rest.some((o) => o.name === '--restore-mark'))
    return full
      ? { do: 'set-mark', on: 'mark', from: 'ct-mark', keep: 0xffff_ffff, flip: 0 }
      : unmodelled('CONNMARK --restore-mark with a mask');
  return setMark('ct-mark', rest);
}

/**
 * One-to-one onto a network of the same size (iptables-extensions(8)), of the side that the chain's hook
 * translates.
 */
function netmap(text: string | undefined, { family, side }: RuleContext): Step {
  const prefix = parsePrefix(text ?? '');
  if (!prefix || prefix.family !== family || side === null) return unmodelled(`NETMAP ${text ?? ''}`);
  const first: Address = { family: prefix.family, bits: prefix.bits };
  return {
    do: 'translate',
    side,
    family,
    target: { addresses: { first, last: first }, ports: null, prefix },
  };
}
