import { ADDRESS_LENGTH, addressSet, prefixOf, sameAddress, type AddressSet } from '../../net/index.ts';
import { CT_STATE, CT_STATUS } from '../../rules/index.ts';
import { everyTransport, type NetInterface } from '../../site/index.ts';
import {
  accept,
  addresses,
  addressOf,
  base,
  bits,
  doubt,
  match,
  names,
  portNumbers,
  portsOf,
  programOf,
  protocolMatch,
  rule,
  type RuleParts,
} from '../build.ts';
import { interfacesOf, linePolicy, ownSockets, routesOf, withFurther, type Device } from '../device.ts';
import { remember, sourceFilters } from '../lines.ts';
import { WHERE, type Context, type ZoneListing } from './context.ts';
import { filterChains, refusals } from './filter.ts';
import type { ZoneFirewallSettings } from './settings.ts';
import { claimedAddresses, inward, outward } from './translations.ts';

/**
 * A firewall with zones. The matching order is data: the filter names the destination before or after
 * translation, and so the zone; where it is not known both are tried, and the outcome is unknown unless they
 * agree.
 * @param listing what is open about it, where its own pages show it
 * @throws SettingsError for a value that cannot be read
 */
export function zoneFirewallDevice(
  settings: ZoneFirewallSettings,
  listing: ZoneListing | null = null,
): Device {
  const interfaces = interfacesOf(settings.interfaces, WHERE);
  const outside = settings.interfaces.find((d) => d.side === 'outside');
  const extra = (settings.extraAddresses ?? []).map((a) => addressOf(a, `${WHERE}: further address`));
  const claimed = claimedAddresses(settings, interfaces).filter((a) => !extra.some((e) => sameAddress(a, e)));
  const held = interfaces.map((i): NetInterface =>
    i.name !== outside?.name ? i : withFurther(i, [...extra, ...claimed]),
  );
  const zones = new Map<string, string[]>();
  for (const d of settings.interfaces)
    zones.set(d.zone ?? d.side, [...(zones.get(d.zone ?? d.side) ?? []), d.name]);
  const context: Context = { settings, interfaces: held, zones, listing };
  const live = settings.translations.flatMap((t, i) => (t.enabled === false ? [] : [{ t, at: i }]));
  const filters = filterChains(context);
  const established = rule(
    'answers',
    match({ of: 'ct-state' }, bits(CT_STATE.established | CT_STATE.related)),
    accept,
  );
  const lines = settings.interfaces.filter((d) => d.side === 'outside').map((d) => d.name);
  const inner = settings.interfaces.filter((d) => d.side !== 'outside').map((d) => d.name);
  const several = lines.length > 1;
  const byLine = several && settings.answersBy !== 'default-line' ? linePolicy(settings.interfaces) : null;
  return {
    interfaces: held,
    routes: [...routesOf(settings.interfaces, interfaces), ...(byLine?.routes ?? [])],
    ...(byLine ? { policy: byLine.policy } : {}),
    sockets: ownSockets(settings.ownPorts, `${WHERE}: own ports`),
    presumed: {
      forwarding: true,
      socketsComplete: everyTransport(settings.ownPorts !== undefined),
      kind: 'box',
    },
    program: programOf(
      [
        ...(several
          ? [
              base(
                'prerouting',
                'filter',
                'accept',
                'lines',
                remember(lines, inner, settings.answersBy),
                -150,
              ),
            ]
          : []),
        base('prerouting', 'nat', 'accept', 'translations inward', [
          ...live.flatMap(({ t, at }) => inward(t, at, context)),
          ...further(context, lines),
        ]),
        base('forward', 'filter', 'drop', 'filter rules', [established, ...filters.entry]),
        base('input', 'filter', 'drop', 'firewall itself', [
          established,
          ...ownAnswers(context, interfaces),
          ...refusals(context),
        ]),
        base('postrouting', 'nat', 'accept', 'translations outward', [
          ...live.flatMap(({ t, at }) => outward(t, at, context)),
          ...turnedRound(context, inner),
        ]),
        ...(several
          ? [
              base(
                'postrouting',
                'filter',
                'accept',
                'carriers',
                sourceFilters(settings.interfaces, WHERE),
                300,
              ),
            ]
          : []),
      ],
      filters.chains,
    ),
  };
}

/** What the firewall answers itself, on its own addresses. */
function ownAnswers({ settings, listing }: Context, interfaces: readonly NetInterface[]): RuleParts[] {
  const { ownPorts } = settings;
  if (ownPorts)
    return ownPorts.map((o) =>
      rule(
        `answers on ${o.protocol} ${o.ports} itself`,
        ...protocolMatch(o.protocol),
        match({ of: 'dport', protocol: null }, portNumbers(portsOf(o.ports, WHERE) ?? [])),
        accept,
      ),
    );
  if (listing && !listing.ownPortsOpen) return [];
  const own: AddressSet = addressSet(
    ...interfaces.flatMap((i) =>
      i.addresses.map((a) => prefixOf(a.address, ADDRESS_LENGTH[a.address.family])),
    ),
  );
  const where = listing ? [match({ of: 'destination', family: null }, addresses(own))] : [];
  return [rule('what the firewall itself answers', ...where, doubt({ doubt: 'firewall-answers' }), accept)];
}

/** Connections that are turned round get the firewall's address as their source: else answers pass it by. */
const turnedRound = ({ listing }: Context, inner: readonly string[]): RuleParts[] =>
  listing?.hairpin
    ? [
        rule(
          'turned-round connections',
          match({ of: 'in' }, names(inner)),
          match({ of: 'ct-status' }, bits(CT_STATUS.dnat)),
          { do: 'masquerade', ports: null },
        ),
      ]
    : [];

/** What no translation takes that a page shows may be taken by one that nobody has seen. */
const further = ({ listing }: Context, lines: readonly string[]): RuleParts[] =>
  listing?.furtherTranslations
    ? [
        rule('further translations', match({ of: 'in' }, names(lines)), {
          do: 'unmodelled-action',
          doubt: listing.furtherTranslations,
        }),
      ]
    : [];
