import type { Leg } from '../crossing/index.ts';
import {
  type Address,
  formatAddress,
  parseAddress,
  sameAddress,
  type Endpoint,
  addressSet,
  hasAddress,
  parsePrefix,
  parsePortRange,
} from '../net/index.ts';
import type { Machine } from '../site/index.ts';
import type { Rule } from '../rules/index.ts';
import type { Mend } from './mend.ts';
import type { ZoneRule, ZoneTranslation } from '../devices/index.ts';
import type { Served } from './served.ts';
import type { ListedZones } from '../model/index.ts';

export const turnedTo = (leg: Leg): Endpoint | null => {
  const turned = leg.events.find((e) => e.event === 'translated' && e.side === 'destination');
  return turned?.event === 'translated' ? turned.to : null;
};

export const isLive = ({ enabled }: { readonly enabled?: boolean }): boolean => enabled !== false;

export const addressText = (text: string): Address | null => parseAddress(text);

export const is = (text: string, address: Address): boolean => {
  const own = addressText(text);
  return own !== null && sameAddress(own, address);
};

/** What no rule names comes to the last one. */
export const isLast = ({ id }: Rule, machine: Machine | null): boolean =>
  machine?.program[4]?.chains.some((chain) => chain.rules[chain.rules.length - 1]?.id === id) ?? false;

export const sourceOf = ({ listing }: Zones, rule: number): Mend['evidence'] => {
  const source = listing?.sourceOf(rule);
  return source ? [source] : [];
};

export const targetText = (t: ZoneTranslation): string => (t.type === 'one-to-one' ? t.inside : t.to);

export const swapped = <T>(list: readonly T[], old: T, mended: T): T[] =>
  list.map((x) => (x === old ? mended : x));

/** Whether a rule's destination holds the address that the firewall sees; either, where that is open. */
export function holds(text: string, { settings }: Zones, turned: Address, dialled: Address): boolean {
  const prefixes = (settings.names?.[text] ?? [text]).flatMap((t) => parsePrefix(t) ?? []);
  const set = addressSet(...prefixes);
  const { destinationSeen } = settings;
  return (
    (destinationSeen !== 'before' && hasAddress(set, turned)) ||
    (destinationSeen !== 'after' && hasAddress(set, dialled))
  );
}

export const zoneHolding = (address: Address, { settings }: Zones): string | undefined => {
  const near = settings.interfaces.find((d) =>
    (d.addresses ?? []).some((a) => {
      const net = parsePrefix(a);
      return net !== null && hasAddress(addressSet(net), address);
    }),
  );
  return near && (near.zone ?? near.side);
};

export function zoneOf(device: string | null, { settings }: Zones): string | null {
  const line = settings.interfaces.find((d) => d.name === device);
  return line ? (line.zone ?? line.side) : null;
}

/** Whether a rule is for the service, on one of the ports that it may be seen with. */
export function isFor({ services }: ZoneRule, { transport }: Served, ports: readonly number[]): boolean {
  if (!services || services.length === 0 || services.includes('any')) return true;
  return services.some((text) => {
    const [protocol, list] = text.split('/');
    if (protocol !== transport && protocol !== 'both' && protocol !== 'any') return false;
    return (
      list === undefined ||
      list.split(',').some((p) => {
        const range = parsePortRange(p);
        return range !== null && ports.some((port) => port >= range.first && port <= range.last);
      })
    );
  });
}

export const leadingTo = (t: ZoneTranslation, server: Address): ZoneTranslation =>
  t.type === 'one-to-one' ? { ...t, inside: formatAddress(server) } : { ...t, to: formatAddress(server) };
export type Zones = ListedZones;
