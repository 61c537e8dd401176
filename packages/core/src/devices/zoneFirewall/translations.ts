import {
  ADDRESS_LENGTH,
  addressSet,
  formatAddress,
  parseAddress,
  prefixContains,
  prefixOf,
  sameAddress,
  type Address,
  type AddressSet,
} from '../../net/index.ts';
import type { Step } from '../../rules/index.ts';
import type { NetInterface } from '../../site/index.ts';
import {
  addresses,
  addressesOf,
  addressMatch,
  addressOf,
  doubt,
  match,
  names,
  portNumbers,
  portsOf,
  prefixOfText,
  protocolMatch,
  rule,
  SettingsError,
  single,
  type RuleParts,
} from '../build.ts';
import { namedAddresses, WHERE, zoneInterfaces, type Context } from './context.ts';
import type { ZoneFirewallSettings, ZoneTranslation } from './settings.ts';

/**
 * Addresses of one-to-one translations and forwards that lie in the prefix of one of its own outside
 * lines.
 */
export function claimedAddresses(
  settings: ZoneFirewallSettings,
  interfaces: readonly NetInterface[],
): Address[] {
  const own = interfaces
    .filter((i) => settings.interfaces.some((d) => d.name === i.name && d.side === 'outside'))
    .flatMap((i) => i.addresses);
  const near = (a: Address): boolean =>
    own.some((x) => prefixContains(prefixOf(x.address, x.prefixLength), a)) &&
    !own.some((x) => sameAddress(x.address, a));
  const outsides = settings.translations.flatMap((t) =>
    t.type === 'source' || t.enabled === false ? [] : (parseAddress(t.outside) ?? []),
  );
  return outsides.filter(near).filter((a, i, all) => all.findIndex((x) => sameAddress(x, a)) === i);
}

const translated = (
  side: 'source' | 'destination',
  to: Address,
  ports: { first: number; last: number; base: number | null } | null,
): Step => ({ do: 'translate', side, family: to.family, target: { addresses: single(to), ports } });

/** The outside of a translation: one address, or whatever an interface holds. */
function outsideSet(text: string, context: Context, where: string): AddressSet {
  const device = context.interfaces.find((i) => i.name === text);
  if (device)
    return addressSet(
      ...device.addresses
        .filter((a) => !a.secondary)
        .map((a) => prefixOf(a.address, ADDRESS_LENGTH[a.address.family])),
    );
  return addressSet(prefixOfText(text, where));
}

export function inward(t: ZoneTranslation, at: number, context: Context): RuleParts[] {
  const number = at + 1;
  const where = `${WHERE}: translation ${number}${t.name ? ` (${t.name})` : ''}`;
  if (t.type === 'source') return [];
  const text = `translation ${number}${t.name ? ` (${t.name})` : ''}`;
  const destination = match(
    { of: 'destination', family: null },
    addresses(outsideSet(t.outside, context, where)),
  );
  const doubts = (context.listing?.ofTranslation.get(at) ?? []).map(doubt);
  if (t.type === 'one-to-one')
    return sides(undefined, context, where).map((side) =>
      rule(
        `${text}: ${t.outside} is ${t.inside}`,
        destination,
        ...side,
        ...doubts,
        translated('destination', addressOf(t.inside, where), null),
      ),
    );
  const to = addressOf(t.to, where);
  const parts = portsOf(t.ports, where) ?? [{ first: 0, last: 65535 }];
  return parts.flatMap((p) => {
    const first = t.toPort === undefined ? p.first : t.toPort + (p.first - (parts[0]?.first ?? 0));
    return sides(t.fromZone, context, where).map((side) =>
      rule(
        `${text}: ${t.protocol} ${t.ports} to ${formatAddress(to)}`,
        destination,
        ...side,
        ...protocolMatch(t.protocol),
        match({ of: 'dport', protocol: null }, portNumbers([p])),
        ...addressMatch('source', addressesOf(t.sources, where)),
        ...doubts,
        translated('destination', to, { first, last: first + p.last - p.first, base: p.first }),
      ),
    );
  });
}

/**
 * By which interfaces a translation takes packets: those of its zone, or any. A page seldom says whether what
 * comes from inside is turned round as well.
 */
function sides(fromZone: string | undefined, context: Context, where: string): Step[][] {
  if (fromZone && fromZone !== 'any')
    return [[match({ of: 'in' }, names(zoneInterfaces(fromZone, context, where)))]];
  const { listing } = context;
  if (!listing || listing.hairpin) return [[]];
  const { interfaces } = context.settings;
  const lines = (side: 'outside' | 'inside'): string[] =>
    interfaces.filter((d) => d.side === side).map((d) => d.name);
  return [
    [match({ of: 'in' }, names(lines('outside')))],
    ...(listing.hairpin === false
      ? []
      : [[match({ of: 'in' }, names(lines('inside'))), doubt({ doubt: 'hairpin' })]]),
  ];
}

export function outward(t: ZoneTranslation, at: number, context: Context): RuleParts[] {
  const number = at + 1;
  const where = `${WHERE}: translation ${number}${t.name ? ` (${t.name})` : ''}`;
  const text = `translation ${number}${t.name ? ` (${t.name})` : ''}`;
  if (t.type === 'one-to-one' && t.twoWay) {
    const outs = context.settings.interfaces.filter((d) => d.side === 'outside').map((d) => d.name);
    return [
      rule(
        `${text}: ${t.inside} leaves as ${t.outside}`,
        match({ of: 'source', family: null }, addresses(addressSet(prefixOfText(t.inside, where)))),
        match({ of: 'out' }, names(outs)),
        translated('source', addressOf(t.outside, where), null),
      ),
    ];
  }
  if (t.type !== 'source') return [];
  const conditions = [
    match({ of: 'in' }, names(zoneInterfaces(t.fromZone, context, where))),
    match({ of: 'out' }, names(zoneInterfaces(t.toZone, context, where))),
    ...addressMatch('source', namedAddresses(t.sources, context, where)),
  ];
  const to = parseAddress(t.to);
  if (!to && !context.interfaces.some((i) => i.name === t.to))
    throw new SettingsError(`${where}: “${t.to}” is neither an address nor an interface`);
  return [
    rule(
      `${text}: leaves as ${t.to}`,
      ...conditions,
      to ? translated('source', to, null) : { do: 'masquerade', ports: null },
    ),
  ];
}
