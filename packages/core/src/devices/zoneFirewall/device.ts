import {
  addressDifference,
  addressSet,
  addressUnion,
  ADDRESS_LENGTH,
  ALL_ADDRESSES,
  formatAddress,
  parseAddress,
  prefixContains,
  prefixOf,
  sameAddress,
  type Address,
  type AddressSet,
} from '../../net/index.ts';
import { CT_STATE, type Chain, type Field, type Step } from '../../rules/index.ts';
import { everyTransport, type NetInterface } from '../../site/index.ts';
import {
  accept,
  addresses,
  addressesOf,
  addressMatch,
  addressOf,
  base,
  bits,
  chain,
  doubt,
  drop,
  match,
  names,
  portNumbers,
  portsOf,
  prefixOfText,
  programOf,
  rule,
  SettingsError,
  single,
  verdict,
  protocolMatch,
  type RuleParts,
} from '../build.ts';
import { interfacesOf, linePolicy, ownSockets, routesOf, withFurther, type Device } from '../device.ts';
import { remember, sourceFilters } from '../lines.ts';
import type { ServicePorts, ZoneFirewallSettings, ZoneRule, ZoneTranslation } from './settings.ts';

const WHERE = 'zone firewall';
type Seen = 'before' | 'after';

interface Context {
  readonly settings: ZoneFirewallSettings;
  readonly interfaces: readonly NetInterface[];
  readonly zones: ReadonlyMap<string, readonly string[]>;
}

/**
 * A firewall with zones. The matching order is data: the filter names the destination before or after
 * translation, and so the zone; where it is not known both are tried, and the outcome is unknown unless they
 * agree.
 * @throws SettingsError for a value that cannot be read
 */
export function zoneFirewallDevice(settings: ZoneFirewallSettings): Device {
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
  const context: Context = { settings, interfaces: held, zones };
  const live = settings.translations.filter((t) => t.enabled !== false);
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
        base(
          'prerouting',
          'nat',
          'accept',
          'translations inward',
          live.flatMap((t, i) => inward(t, i + 1, context)),
        ),
        base('forward', 'filter', 'drop', 'filter rules', [established, ...filters.entry]),
        base('input', 'filter', 'drop', 'firewall itself', [
          established,
          ...(settings.ownPorts ?? []).map((o) =>
            rule(
              `answers on ${o.protocol} ${o.ports} itself`,
              ...protocolMatch(o.protocol),
              match({ of: 'dport', protocol: null }, portNumbers(portsOf(o.ports, WHERE) ?? [])),
              accept,
            ),
          ),
          ...(settings.ownPorts
            ? []
            : [rule('what the firewall itself answers', doubt({ doubt: 'firewall-answers' }), accept)]),
          ...refusals(context),
        ]),
        base(
          'postrouting',
          'nat',
          'accept',
          'translations outward',
          live.flatMap((t, i) => outward(t, i + 1, context)),
        ),
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

/**
 * Addresses of one-to-one translations and forwards that lie in the prefix of one of its own outside
 * lines.
 */
function claimedAddresses(settings: ZoneFirewallSettings, interfaces: readonly NetInterface[]): Address[] {
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

/**
 * What the filter says to packets for the firewall itself: rules that name no destination hold for them
 * too.
 */
function refusals(context: Context): RuleParts[] {
  const { settings } = context;
  const rules = settings.rules.flatMap((r, i) =>
    r.enabled === false || r.action === 'allow' || r.toZone || r.destinations
      ? []
      : filterRules(r, i + 1, context, 'after', 'after'),
  );
  const last = settings.otherwise === 'reject' ? [rule('no rule names it: reject', PROHIBITED)] : [];
  return [...rules, ...last];
}

const PROHIBITED: Step = verdict({ verdict: 'reject', kind: 'admin-prohibited' });

/** The filter, once for every matching order that is possible; the entry rules choose between them. */
function filterChains(context: Context): { entry: RuleParts[]; chains: Chain[] } {
  const { settings } = context;
  const build = (destination: Seen, zone: Seen): Chain => {
    const rules = settings.rules.flatMap((r, i) =>
      r.enabled === false ? [] : filterRules(r, i + 1, context, destination, zone),
    );
    let last;
    if (settings.otherwise === 'allow') last = accept;
    else if (settings.otherwise === 'reject') last = verdict({ verdict: 'reject', kind: 'admin-prohibited' });
    else last = drop;
    return chain(`filter rules (address ${destination}, zone ${zone})`, [
      ...rules,
      rule(`no rule names it: ${settings.otherwise}`, last),
    ]);
  };
  const destinations: readonly Seen[] = settings.destinationSeen
    ? [settings.destinationSeen]
    : ['before', 'after'];
  const zones: readonly Seen[] = settings.zoneSeen ? [settings.zoneSeen] : ['before', 'after'];
  const variants = destinations.flatMap((d) => zones.map((z) => ({ d, z, chain: build(d, z) })));
  const entry = variants.map(({ d, z, chain: to }, i) => {
    const asked =
      i < variants.length - 1
        ? [doubt({ doubt: 'filter-sees', what: variants.some((v) => v.d !== d) ? 'address' : 'zone' })]
        : [];
    return rule(
      `filter rules see the address ${d} and the zone ${z} translation`,
      ...asked,
      verdict({ verdict: 'goto', chain: to }),
    );
  });
  return { entry, chains: variants.map((v) => v.chain) };
}

function filterRules(
  r: ZoneRule,
  number: number,
  context: Context,
  destination: Seen,
  zone: Seen,
): RuleParts[] {
  const where = `${WHERE}: rule ${number}${r.name ? ` (${r.name})` : ''}`;
  const field: Field =
    destination === 'after'
      ? { of: 'destination', family: null }
      : { of: 'ct-destination', direction: 'original', family: null };
  const to = namedAddresses(r.destinations, context, where);
  const steps: Step[] = [
    ...(r.fromZone && r.fromZone !== 'any'
      ? [match({ of: 'in' }, names(zoneInterfaces(r.fromZone, context, where)))]
      : []),
    ...toZone(r.toZone, context, zone, where),
    ...addressMatch('source', namedAddresses(r.sources, context, where)),
    ...(to ? [match(field, addresses(to))] : []),
  ];
  let end;
  if (r.action === 'allow') end = accept;
  else if (r.action === 'drop') end = drop;
  else end = verdict({ verdict: 'reject', kind: 'admin-prohibited' });
  const text = `rule ${number}${r.name ? ` (${r.name})` : ''}: ${r.action} ${[r.fromZone ?? 'any zone', '→', r.toZone ?? 'any zone', (r.services ?? []).join(', ')].join(' ').trim()}`;
  const portField: Field =
    destination === 'after' ? { of: 'dport', protocol: null } : { of: 'ct-dport', direction: 'original' };
  return services(r.services, context, where).map((s) =>
    rule(
      text,
      ...steps,
      ...protocolMatch(s.protocol),
      ...(s.ports ? [match(portField, portNumbers(s.ports))] : []),
      end,
    ),
  );
}

function toZone(name: string | undefined, context: Context, seen: Seen, where: string): Step[] {
  if (!name || name === 'any') return [];
  const devices = zoneInterfaces(name, context, where);
  if (seen === 'after') return [match({ of: 'out' }, names(devices))];
  return [
    match(
      { of: 'ct-destination', direction: 'original', family: null },
      addresses(zoneAddresses(devices, context)),
    ),
  ];
}

/**
 * The addresses whose route leads to a zone: its subnets, and for the zone of the default route all that is
 * nobody else's.
 */
function zoneAddresses(devices: readonly string[], { interfaces, settings }: Context): AddressSet {
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

function zoneInterfaces(name: string, { zones }: Context, where: string): readonly string[] {
  const found = zones.get(name);
  if (!found)
    throw new SettingsError(
      `${where}: there is no zone “${name}”; the interfaces are in ${[...zones.keys()].join(', ')}`,
    );
  return found;
}

function namedAddresses(
  list: readonly string[] | undefined,
  { settings }: Context,
  where: string,
): AddressSet | null {
  if (!list || list.length === 0 || list.includes('any')) return null;
  return addressUnion(
    ...list.map((item) =>
      addressSet(...(settings.names?.[item] ?? [item]).map((p) => prefixOfText(p, where))),
    ),
  );
}

function services(
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

function inward(t: ZoneTranslation, number: number, context: Context): RuleParts[] {
  const where = `${WHERE}: translation ${number}${t.name ? ` (${t.name})` : ''}`;
  if (t.type === 'source') return [];
  const text = `translation ${number}${t.name ? ` (${t.name})` : ''}`;
  const destination = match(
    { of: 'destination', family: null },
    addresses(outsideSet(t.outside, context, where)),
  );
  if (t.type === 'one-to-one')
    return [
      rule(
        `${text}: ${t.outside} is ${t.inside}`,
        destination,
        translated('destination', addressOf(t.inside, where), null),
      ),
    ];
  const to = addressOf(t.to, where);
  const parts = portsOf(t.ports, where) ?? [{ first: 0, last: 65535 }];
  return parts.map((p) => {
    const first = t.toPort === undefined ? p.first : t.toPort + (p.first - parts[0]!.first);
    return rule(
      `${text}: ${t.protocol} ${t.ports} to ${formatAddress(to)}`,
      destination,
      ...(t.fromZone && t.fromZone !== 'any'
        ? [match({ of: 'in' }, names(zoneInterfaces(t.fromZone, context, where)))]
        : []),
      ...protocolMatch(t.protocol),
      match({ of: 'dport', protocol: null }, portNumbers([p])),
      ...addressMatch('source', addressesOf(t.sources, where)),
      translated('destination', to, { first, last: first + p.last - p.first, base: p.first }),
    );
  });
}

function outward(t: ZoneTranslation, number: number, context: Context): RuleParts[] {
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
