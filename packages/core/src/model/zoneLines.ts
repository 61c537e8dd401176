import { formatAddress, isReachable, parseAddress } from '../net/index.ts';
import type { DeviceInterface } from '../devices/index.ts';
import { type ToldFactOf, saidOr } from '../facts/index.ts';
import { type CaseFacts } from '../ledger/index.ts';
import { toldAt } from './toldAt.ts';
import type { Machine } from '../site/index.ts';

export const OUTSIDE =
  /^(?:out(?:side|er)?|wan\s?\d*|internet|external|extern|public|untrust(?:ed)?|world|uplink)$/i;
export const INSIDE = /^(?:in(?:side|ner)?|lan\s?\d*|internal|intern|private|trust(?:ed)?|local|home)$/i;

/** The firewall's lines: of a table of its interfaces, else of what else is known of it. */
export function linesAt(facts: CaseFacts, stop: string, machine: Machine): DeviceInterface[] {
  const listed = toldAt(facts, stop, 'zone-line').map(({ fact }) => fact.value);
  if (listed.length > 0)
    return listed.map(({ name, zone, addresses, up }): DeviceInterface => ({
      name,
      zone,
      side: isOutward(name, zone, addresses) ? 'outside' : 'inside',
      addresses,
      ...(up === false ? { up } : {}),
    }));
  return (machine.interfaces ?? [])
    .filter((i) => !i.loopback)
    .map((i): DeviceInterface => ({
      name: i.name,
      side: i.name === 'wan' ? 'outside' : 'inside',
      zone: ZONES[i.name] ?? i.name,
      addresses: i.addresses.map((a) => `${formatAddress(a.address)}/${a.prefixLength}`),
      ...(i.carrier === false ? { up: false } : {}),
    }));
}

/** What the zones of a plain router's two sides are called here. */
export const ZONES: Readonly<Record<string, string>> = { wan: 'outside', lan: 'inside' };

function isOutward(name: string, zone: string, addresses: readonly string[]): boolean {
  if (OUTSIDE.test(zone) || OUTSIDE.test(name)) return true;
  const first = parseAddress(addresses[0]?.split('/')[0] ?? '');
  return first !== null && isReachable(first) && !INSIDE.test(zone);
}

/** Zones that stand beside the inside one by their very names. */
const BESIDE = /^(?:dmz|guests?|iot|vpn|voice|voip|mgmt|management)[\s\d-]*$/i;

export function soleZone(rules: readonly { fact: ToldFactOf<'zone-rule'> }[]): string | null {
  const named = rules.flatMap(({ fact: { value } }) =>
    [saidOr(value.fromZone, null), saidOr(value.toZone, null)].filter((z): z is string => z !== null),
  );
  const inner = new Set(named.map((z) => z.toLowerCase()).filter((z) => !OUTSIDE.test(z)));
  const [only] = inner;
  return inner.size === 1 && only !== undefined && !BESIDE.test(only) ? only : null;
}
