import type { ZoneRule, ZoneTranslation } from '../devices/index.ts';
import { slipOf } from '../ledger/index.ts';
import { formatAddress, formatPrefix, isReachable, sameAddress, type Endpoint } from '../net/index.ts';
import { audience, endMachine, lastLeg, serverOf, targetOf, type MendContext } from './context.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';
import { withZones, zonesIn, type Scene } from './scene.ts';
import {
  addressText,
  holds,
  is,
  isFor,
  isLast,
  isLive,
  leadingTo,
  sourceOf,
  swapped,
  targetText,
  turnedTo,
  zoneHolding,
  zoneOf,
  type Zones,
} from './zoneRows.ts';

type Whole = Extract<ZoneTranslation, { type: 'one-to-one' }>;

/** What is wrong between the rules and the translations of a firewall with zones; null: nothing is seen. */
export function zoneMend(c: MendContext): Mend | null {
  const machine = endMachine(c);
  const { run } = c;
  const leg = lastLeg(c);
  if (!machine || machine.role !== 'gateway' || run.direction !== 'forward' || !leg) return null;
  const zones = zonesIn(c.facts, c.scene, machine);
  if (!zones) return null;
  const at: At = { c, zones, stop: machine.id, dialled: leg.before.destination, from: zoneOf(leg.in, zones) };
  const turned = turnedTo(leg);
  const isFiltered = turned !== null || (run.ending.kind === 'rule' && run.ending.hook === 'forward');
  const to = turned ?? at.dialled;
  return isFiltered ? (filtered(at, to) ?? missingRule(at, to)) : (exchangedSides(at) ?? untranslated(at));
}

interface At {
  readonly c: MendContext;
  readonly zones: Zones;
  readonly stop: string;
  readonly dialled: Endpoint;
  /** The zone that the packet came from. */
  readonly from: string | null;
}

/** A mapping whose inside address stands as its outside one, so that nothing is translated. */
function exchangedSides({ c, zones, stop, dialled }: At): Mend | null {
  const { translations } = zones.settings;
  const found = translations.find((t): t is Whole => {
    const outside = t.type === 'one-to-one' && isLive(t) ? addressText(t.outside) : null;
    return (
      t.type === 'one-to-one' && outside !== null && !isReachable(outside) && is(t.inside, dialled.address)
    );
  });
  const inside = found ? addressText(found.outside) : null;
  if (!found || !inside) return null;
  const mended: Whole = { ...found, outside: found.inside, inside: found.outside };
  return {
    fault: 'static-inside-out',
    stop,
    finding: {
      found: 'mapping-exchanged',
      name: found.name ?? null,
      inside,
      dialled: dialled.address,
      served: servedBy(c),
    },
    evidence: [],
    apply: applied(stop, zones, { translations: swapped(translations, found, mended) }),
  };
}

/** No translation takes the packet. Where a rule lets it pass all the same, half of the work is there. */
function untranslated({ c, zones, stop, dialled }: At): Mend | null {
  const machine = endMachine(c);
  const target = machine && targetOf(c, machine);
  const to = target && target.machine !== machine ? target.address : null;
  if (!zones.listing && zones.settings.rules.length === 0) return null;
  const served = servedBy(c);
  const rule = zones.settings.rules.find(
    (r) => isLive(r) && r.action === 'allow' && r.services !== undefined && isFor(r, served, [dialled.port]),
  );
  const added: ZoneTranslation | null = to && {
    type: 'port-forward',
    outside: formatAddress(dialled.address),
    protocol: served.transport,
    ports: dialled.port,
    to: formatAddress(to),
  };
  return {
    fault: rule ? 'translate-missing' : 'fwd-none',
    stop,
    finding: {
      found: 'untranslated',
      rule: rule ? (rule.name ?? '') : null,
      outside: dialled.address,
      to,
      served,
    },
    evidence: [],
    apply: added && applied(stop, zones, { translations: [...zones.settings.translations, added] }),
  };
}

/** The packet is translated, and the rules drop it: the one rule for the service that nearly lets it in. */
function filtered(at: At, turned: Endpoint): Mend | null {
  const { c, zones, dialled } = at;
  const served = servedBy(c);
  const ports = [dialled.port, turned.port];
  for (const [i, r] of zones.settings.rules.entries()) {
    const isFrom = r.fromZone === undefined || r.fromZone === 'any' || r.fromZone === at.from;
    if (!isLive(r) || r.action !== 'allow' || !r.services || !isFrom || !isFor(r, served, ports)) continue;
    const named = r.destinations ?? [];
    const isNamed = named.some((n) => zones.settings.translations.some((t) => t.name === n));
    if (named.length > 0 && !isNamed && !named.some((n) => holds(n, zones, turned.address, dialled.address)))
      return otherDestination(at, turned, r, i);
    const found = wrongZone(at, turned, r, i);
    if (found) return found;
  }
  return null;
}

/** No rule is for it at all, and what none names is dropped. */
function missingRule({ c, zones, stop, dialled, from }: At, turned: Endpoint): Mend | null {
  const { ending } = c.run;
  if (ending.kind !== 'rule' || !isLast(ending.rule, endMachine(c))) return null;
  const served = servedBy(c);
  const { destinationSeen, zoneSeen, interfaces } = zones.settings;
  const seen = destinationSeen === 'before' ? dialled : turned;
  const outer = interfaces.find((d) => d.side === 'outside')?.zone;
  const to = zoneSeen === 'before' ? outer : zoneHolding(turned.address, zones);
  const peers = audience(c);
  const rule: ZoneRule = {
    action: 'allow',
    ...(from === null ? {} : { fromZone: from }),
    ...(to === undefined ? {} : { toZone: to }),
    ...(peers ? { sources: peers.map(formatPrefix) } : {}),
    destinations: [formatAddress(seen.address)],
    services: [`${served.transport}/${seen.port}`],
  };
  return {
    fault: 'filter-missing',
    stop,
    finding: {
      found: 'zone-rule-missing',
      served,
      from,
      to: to ?? null,
      destination: seen,
      peers,
    },
    evidence: [],
    apply: applied(stop, zones, { rules: [rule, ...zones.settings.rules] }),
  };
}

/** The rule is for the address of the other side, or of another machine; or the mapping leads elsewhere. */
function otherDestination(at: At, turned: Endpoint, r: ZoneRule, index: number): Mend | null {
  const { c, zones, stop, dialled } = at;
  const { translations, rules } = zones.settings;
  const [now] = r.destinations ?? [];
  const named = now === undefined ? null : addressText(now);
  const server = serverOf(c)?.address ?? null;
  const mapping = translations.find((t) => t.type !== 'source' && is(targetText(t), turned.address));
  const served = servedBy(c);
  if (now === undefined) return null;
  if (mapping && named && server && sameAddress(named, server) && !sameAddress(server, turned.address))
    return {
      fault: 'fwd-target-typo',
      stop,
      finding: {
        found: 'mapping-target',
        name: mapping.name ?? null,
        now: turned.address,
        server,
        slip: slipOf(formatAddress(turned.address), formatAddress(server)),
        served,
      },
      evidence: [],
      apply: applied(stop, zones, {
        translations: swapped(translations, mapping, leadingTo(mapping, server)),
      }),
    };
  const isOtherSide = named !== null && (is(now, turned.address) || is(now, dialled.address));
  const seen = zones.settings.destinationSeen === 'before' ? dialled.address : turned.address;
  const mended: ZoneRule = { ...r, destinations: [formatAddress(seen)] };
  return {
    fault: 'filter-side',
    stop,
    finding: {
      found: 'zone-rule',
      what: 'destination',
      rule: { name: r.name ?? null, number: index + 1 },
      now,
      mended: formatAddress(seen),
      isOtherSide,
      mapping: mapping && { name: mapping.name ?? null, to: turned.address },
      slip: isOtherSide ? null : slipOf(now, formatAddress(turned.address)),
      served,
    },
    evidence: sourceOf(zones, index),
    apply: applied(stop, zones, { rules: swapped(rules, r, mended) }),
  };
}

/** The rule names a zone that the packet is not in where the firewall looks. */
function wrongZone(at: At, turned: Endpoint, r: ZoneRule, index: number): Mend | null {
  const { c, zones, stop, dialled } = at;
  const { zoneSeen, interfaces } = zones.settings;
  if (!r.toZone || !zoneSeen) return null;
  const inner = zoneHolding(turned.address, zones) ?? 'inside';
  const outer = interfaces.find((d) => d.side === 'outside')?.zone ?? 'outside';
  const mended = zoneSeen === 'before' ? (zoneHolding(dialled.address, zones) ?? outer) : inner;
  if (r.toZone === mended) return null;
  return {
    fault: 'filter-zone',
    stop,
    finding: {
      found: 'zone-rule',
      what: 'zone',
      rule: { name: r.name ?? null, number: index + 1 },
      now: r.toZone,
      mended,
      isOtherSide: true,
      mapping: undefined,
      slip: null,
      served: servedBy(c),
    },
    evidence: sourceOf(zones, index),
    apply: applied(stop, zones, { rules: swapped(zones.settings.rules, r, { ...r, toZone: mended }) }),
  };
}

/** The firewall with other rows. */
function applied(stop: string, zones: Zones, change: Partial<Zones['settings']>): Mend['apply'] {
  return (scene: Scene): Scene =>
    withZones(scene, stop, { ...zones, settings: { ...zones.settings, ...change } });
}
