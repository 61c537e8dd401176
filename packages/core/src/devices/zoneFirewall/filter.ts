import type { Chain, Field, Step } from '../../rules/index.ts';
import {
  accept,
  addresses,
  addressMatch,
  chain,
  doubt,
  drop,
  match,
  names,
  portNumbers,
  protocolMatch,
  rule,
  verdict,
  type RuleParts,
} from '../build.ts';
import {
  namedAddresses,
  services,
  WHERE,
  zoneAddresses,
  zoneInterfaces,
  type Context,
  type Seen,
} from './context.ts';
import type { ZoneRule } from './settings.ts';

const PROHIBITED: Step = verdict({ verdict: 'reject', kind: 'admin-prohibited' });

/**
 * What the filter says to packets for the firewall itself: rules that name no destination hold for them
 * too.
 */
export function refusals(context: Context): RuleParts[] {
  const { settings } = context;
  const rules = settings.rules.flatMap((r, i) =>
    r.enabled === false || r.action === 'allow' || r.toZone || r.destinations
      ? []
      : filterRules(r, i, context, 'after', 'after'),
  );
  const last = settings.otherwise === 'reject' ? [rule('no rule names it: reject', PROHIBITED)] : [];
  return [...rules, ...last];
}

/** The filter, once for every matching order that is possible; the entry rules choose between them. */
export function filterChains(context: Context): { entry: RuleParts[]; chains: Chain[] } {
  const { settings } = context;
  const build = (destination: Seen, zone: Seen): Chain => {
    const rules = settings.rules.flatMap((r, i) =>
      r.enabled === false ? [] : filterRules(r, i, context, destination, zone),
    );
    let last;
    if (settings.otherwise === 'allow') last = accept;
    else if (settings.otherwise === 'reject') last = verdict({ verdict: 'reject', kind: 'admin-prohibited' });
    else last = drop;
    const steps = [...furtherRules(context), ...rules, rule(`no rule names it: ${settings.otherwise}`, last)];
    const name = `filter rules (address ${destination}, zone ${zone})`;
    return chain(
      name,
      steps,
      context.listing?.endPresumed ? { program: 'device', end: 'presumed' } : undefined,
    );
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

function filterRules(r: ZoneRule, at: number, context: Context, destination: Seen, zone: Seen): RuleParts[] {
  const number = at + 1;
  const where = `${WHERE}: rule ${number}${r.name ? ` (${r.name})` : ''}`;
  const field: Field =
    destination === 'after'
      ? { of: 'destination', family: null }
      : { of: 'ct-destination', direction: 'original', family: null };
  const to = namedAddresses(r.destinations, context, where);
  // A rule that names a translation is for what that translates: its zone is that of either side.
  const zones: readonly Seen[] = namesTranslation(r, context) ? ['before', 'after'] : [zone];
  const steps = (seen: Seen): Step[] => [
    ...(r.fromZone && r.fromZone !== 'any'
      ? [match({ of: 'in' }, names(zoneInterfaces(r.fromZone, context, where)))]
      : []),
    ...toZone(r.toZone, context, seen, where),
    ...addressMatch('source', namedAddresses(r.sources, context, where)),
    ...(to ? [match(field, addresses(to))] : []),
  ];
  const text =
    `rule ${number}${r.name ? ` (${r.name})` : ''}: ${r.action} ` +
    `${r.fromZone ?? 'any zone'} → ${r.toZone ?? 'any zone'} ${(r.services ?? []).join(', ')}`.trim();
  const portField: Field =
    destination === 'after' ? { of: 'dport', protocol: null } : { of: 'ct-dport', direction: 'original' };
  const doubts = (context.listing?.ofRule.get(at) ?? []).map(doubt);
  return services(r.services, context, where).flatMap((s) =>
    zones.map((seen) => ({
      ...rule(
        text,
        ...steps(seen),
        ...protocolMatch(s.protocol),
        ...(s.ports ? [match(portField, portNumbers(s.ports))] : []),
        ...doubts,
        endOf(r, at, context),
      ),
      source: context.listing?.sourceOf(at) ?? null,
    })),
  );
}

function endOf({ action }: ZoneRule, at: number, { listing }: Context): Step {
  const open = listing?.ofAction.get(at);
  if (open) return { do: 'unmodelled-action', doubt: open };
  if (action === 'allow') return accept;
  return action === 'drop' ? drop : PROHIBITED;
}

const namesTranslation = ({ destinations }: ZoneRule, { settings }: Context): boolean =>
  destinations?.some((d) => settings.translations.some((t) => t.name === d)) ?? false;

/** Rules that no page shows may allow and refuse anything. */
const furtherRules = ({ listing }: Context): RuleParts[] =>
  listing?.furtherRules
    ? [rule('further rules', { do: 'unmodelled-action', doubt: listing.furtherRules })]
    : [];

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
