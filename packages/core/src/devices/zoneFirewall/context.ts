import {
  addressDifference,
  addressSet,
  addressUnion,
  ALL_ADDRESSES,
  prefixOf,
  type AddressSet,
} from '../../net/index.ts';
import type { SourceRef } from '../../place/index.ts';
import type { Doubt } from '../../rules/index.ts';
import type { NetInterface } from '../../site/index.ts';
import { portsOf, prefixOfText, SettingsError } from '../build.ts';
import { isPrefixText } from '../device.ts';
import type { ServicePorts, ZoneFirewallSettings } from './settings.ts';

export const WHERE = 'zone firewall';
export type Seen = 'before' | 'after';

/** What is open about a firewall that its own pages show; one that a person filled in has nothing of it. */
export interface ZoneListing {
  /** What is open about rules and translations, by their places from 0. */
  readonly ofRule: ReadonlyMap<number, readonly Doubt[]>;
  readonly ofTranslation: ReadonlyMap<number, readonly Doubt[]>;
  /** Rules of which it is open what they do. */
  readonly ofAction: ReadonlyMap<number, Doubt>;
  /** Where a rule stands in its listing. */
  readonly sourceOf: (rule: number) => SourceRef | null;
  /** Why there may be translations or rules that no page shows; null: all of them are known. */
  readonly furtherTranslations: Doubt | null;
  readonly furtherRules: Doubt | null;
  /** What no rule names is dropped because such firewalls do that; no page says it. */
  readonly endPresumed: boolean;
  /** Whether it turns round what inside machines send to its outside addresses; missing: not known. */
  readonly hairpin?: boolean;
  /** Whether it is open on which ports the firewall answers itself. */
  readonly ownPortsOpen: boolean;
}

export interface Context {
  readonly settings: ZoneFirewallSettings;
  readonly interfaces: readonly NetInterface[];
  readonly zones: ReadonlyMap<string, readonly string[]>;
  /** null: filled in by a person */
  readonly listing: ZoneListing | null;
}

/**
 * The addresses whose route leads to a zone: its subnets, and for the zone of the default route all that is
 * nobody else's.
 */
export function zoneAddresses(devices: readonly string[], { interfaces, settings }: Context): AddressSet {
  const subnets = (list: readonly NetInterface[]): AddressSet =>
    addressSet(...list.flatMap((i) => i.addresses.map((a) => prefixOf(a.address, a.prefixLength))));
  const own = subnets(interfaces.filter((i) => devices.includes(i.name)));
  const out = settings.interfaces.find((d) => d.side === 'outside' && d.up !== false);
  if (!out || !devices.includes(out.name)) return own;
  return addressUnion(
    own,
    addressDifference(ALL_ADDRESSES, subnets(interfaces.filter((i) => !devices.includes(i.name)))),
  );
}

export function zoneInterfaces(name: string, { zones }: Context, where: string): readonly string[] {
  const found = zones.get(name);
  if (!found)
    throw new SettingsError(
      `${where}: there is no zone “${name}”; the interfaces are in ${[...zones.keys()].join(', ')}`,
    );
  return found;
}

export function namedAddresses(
  list: readonly string[] | undefined,
  { settings }: Context,
  where: string,
): AddressSet | null {
  if (!list || list.length === 0 || list.includes('any')) return null;
  return addressUnion(
    ...list.map((item) =>
      addressSet(
        ...(settings.names?.[item] ?? translationNamed(item, settings) ?? [item]).map((p) =>
          prefixOfText(p, where),
        ),
      ),
    ),
  );
}

export function services(
  list: readonly string[] | undefined,
  { settings }: Context,
  where: string,
): { protocol: ServicePorts['protocol']; ports: ReturnType<typeof portsOf> }[] {
  if (!list || list.length === 0 || list.includes('any')) return [{ protocol: 'any', ports: null }];
  return list.flatMap((item) => {
    const named = settings.services?.[item];
    if (named) return named.map((s) => ({ protocol: s.protocol, ports: portsOf(s.ports, where) }));
    const plain = /^(tcp|udp|both|any)(?:\/(.+))?$/.exec(item);
    if (!plain) throw new SettingsError(`${where}: “${item}” is neither a named service nor like tcp/8214`);
    return [{ protocol: plain[1] as ServicePorts['protocol'], ports: portsOf(plain[2], where) }];
  });
}

/** Both addresses of a translation that a rule names: the rule is for what it translates. */
function translationNamed(name: string, { translations }: ZoneFirewallSettings): readonly string[] | null {
  const named = translations.find((t) => t.name === name && t.type !== 'source');
  if (!named || named.type === 'source') return null;
  return [named.outside, named.type === 'one-to-one' ? named.inside : named.to].filter(isPrefixText);
}
