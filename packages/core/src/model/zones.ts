import type {
  DeviceInterface,
  ForwardRow,
  ZoneFirewallSettings,
  ZoneListing,
  ZoneRule,
} from '../devices/index.ts';
import {
  type ServiceRecord,
  type ToldFactOf,
  type ToldKind,
  type ZoneRuleRecord,
  openFields,
  saidOr,
} from '../facts/index.ts';
import { settingsOfKind } from '../case/index.ts';
import { type CaseFacts } from '../ledger/index.ts';
import type { PortSet } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Doubt } from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import { furtherForwards, knowsForwards } from './forwards.ts';
import { pageManner } from './pages.ts';
import { exchanged, type Known, membersOf, translationsOf } from './zoneTranslations.ts';
import { toldAt } from './toldAt.ts';
import { INSIDE, linesAt, OUTSIDE, soleZone, ZONES } from './zoneLines.ts';

/** A firewall with zones as its pages show it: its settings, and what is open about them. */
export interface ListedZones {
  readonly settings: ZoneFirewallSettings;
  /** null: a person has filled it in, and nothing about it is open */
  readonly listing: ZoneListing | null;
}

/** Whether anything at a stop shows that it is a firewall with zones, or maps whole addresses. */
export const knowsZones = (facts: CaseFacts, stop: string): boolean =>
  (['zone-rule', 'address-mapping'] as const).some((kind) => toldAt(facts, stop, kind).length > 0) ||
  shown(facts, stop, 'zone-rules').length > 0;

const shown = (
  facts: CaseFacts,
  stop: string,
  what: 'zone-rules' | 'zone-lines' | 'translations',
): CaseFacts['files'] => facts.files.filter((f) => f.stop === stop && f.shows.includes(what));

/** Some of its lines are listed, and which others it has is not known: neither is which way anything goes. */
export const hasPartOfLines = (facts: CaseFacts, stop: string): boolean =>
  shown(facts, stop, 'zone-lines').some((f) => !f.covers.includes('zone-lines'));

/** The firewall with zones at a stop: of its settings where it has any, else of its pages; null: none. */
export function zonesAt(facts: CaseFacts, machine: Machine, rows: readonly ForwardRow[]): ListedZones | null {
  const stop = facts.document.path.find((s) => s.id === machine.id);
  const settings = settingsOfKind(stop, 'zone-firewall');
  if (settings) return { settings, listing: null };
  return stop?.settings ? null : listedZones(facts, machine, rows);
}

/**
 * The firewall that the pages of a stop show; null where they show none.
 * @param machine the stop with the interfaces that are known otherwise
 * @param rows its forwards of single ports
 */
export function listedZones(
  facts: CaseFacts,
  machine: Machine,
  rows: readonly ForwardRow[],
): ListedZones | null {
  const stop = machine.id;
  if (!knowsZones(facts, stop) || hasPartOfLines(facts, stop)) return null;
  const interfaces = linesAt(facts, stop, machine);
  const mappings = newest(facts, stop, 'translations', 'address-mapping');
  const rules = newest(facts, stop, 'zone-rules', 'zone-rule');
  const own = translationsOf(
    mappings.list.map((m) => m.fact.value),
    rows,
    interfaces,
  );
  const names = new Map(
    toldAt(facts, stop, 'named-address').map(({ fact }) => [
      fact.value.name.toLowerCase(),
      fact.value.members,
    ]),
  );
  const known: Known = { interfaces, translations: own.translations, names, sole: soleZone(rules.list) };
  const read = rules.list.map((r) => ruleOf(r.fact.value, known));
  const manner = pageManner(facts, stop, null);
  const order = toldAt(facts, stop, 'filter-order');
  const seen = (of: 'address' | 'zone'): 'before' | 'after' | undefined =>
    order.filter((o) => o.fact.value.of === of).pop()?.fact.value.seen;
  const end = read[read.length - 1]?.rule;
  const isEnded = end !== undefined && isEverything(end) && end.enabled !== false;
  return {
    settings: {
      kind: 'zone-firewall',
      interfaces,
      extraAddresses: exchanged(
        mappings.list.map((m) => m.fact.value),
        interfaces,
      ),
      translations: own.translations,
      rules: read.map((r) => r.rule),
      otherwise: 'drop',
      ...(seen('address') ? { destinationSeen: seen('address') } : {}),
      ...(seen('zone') ? { zoneSeen: seen('zone') } : {}),
    },
    listing: {
      ofRule: new Map(read.flatMap((r, i) => (r.doubts.length > 0 ? [[i, r.doubts] as const] : []))),
      ofAction: new Map(read.flatMap((r, i) => (r.action ? [[i, r.action] as const] : []))),
      ofTranslation: own.doubts,
      furtherTranslations: mappings.open ?? furtherOf(facts, stop) ?? own.open,
      furtherRules: rules.open ?? (rules.isKnown ? null : { doubt: 'filter-of-forwarded' }),
      ownPortsOpen: manner.ownPortsOpen === true || (manner.perhapsOwn?.length ?? 0) > 0,
      endPresumed: !isEnded,
      ...(manner.hairpin === undefined ? {} : { hairpin: manner.hairpin }),
      sourceOf: (rule) => rules.list[rule]?.source ?? null,
    },
  };
}

/** Port forwards beside whole addresses; where neither was listed, there may be translations of any kind. */
function furtherOf(facts: CaseFacts, stop: string): Doubt | null {
  if (knowsForwards(facts, stop)) return furtherForwards(facts, stop);
  return shown(facts, stop, 'translations').length > 0 ? null : { doubt: 'forwards-perhaps-not-whole' };
}

interface Newest<K extends ToldKind> {
  readonly list: { fact: ToldFactOf<K>; source: SourceRef }[];
  /** Why there may be more than is in the list; null: it is all. */
  readonly open: Doubt | null;
  readonly isKnown: boolean;
}

/** The newest whole table of a kind. Tables of one age that differ, and parts alone, leave it open. */
function newest<K extends 'zone-rule' | 'address-mapping'>(
  facts: CaseFacts,
  stop: string,
  what: 'zone-rules' | 'translations',
  kind: K,
): Newest<K> {
  const files = shown(facts, stop, what);
  const whole = files.filter((f) => f.covers.includes(what));
  const last = whole[whole.length - 1];
  const all = toldAt(facts, stop, kind);
  const of = (file: string): typeof all => all.filter((x) => x.source.file === file);
  const isOpen =
    files.some((f) => !whole.includes(f) && (f.at ?? '') >= (last?.at ?? '')) ||
    whole.some((f) => f.at === last?.at && textOf(of(f.file)) !== textOf(of(last?.file ?? '')));
  const list = last && !isOpen ? of(last.file) : all;
  return { list, open: isOpen ? { doubt: 'rows-perhaps-not-whole' } : null, isKnown: files.length > 0 };
}

const textOf = (list: readonly { fact: { readonly text: string } }[]): string =>
  list.map((x) => x.fact.text).join('\n');

interface ReadRule {
  readonly rule: ZoneRule;
  readonly doubts: readonly Doubt[];
  /** Why it is open what it does; null: it is known. */
  readonly action: Doubt | null;
}

function ruleOf(r: ZoneRuleRecord, known: Known): ReadRule {
  const from = zoneOf(saidOr(r.fromZone, null), known);
  const to = zoneOf(saidOr(r.toZone, null), known);
  const sources = membersOf(saidOr(r.sources, null), known, 'source');
  const destinations = membersOf(saidOr(r.destinations, null), known, 'addresses');
  const services = saidOr(r.services, null);
  const { action, ...rest } = r;
  return {
    rule: {
      ...(r.name === null ? {} : { name: r.name }),
      action: saidOr(action, 'allow'),
      ...(from.zone === undefined ? {} : { fromZone: from.zone }),
      ...(to.zone === undefined ? {} : { toZone: to.zone }),
      ...(sources.list ? { sources: sources.list } : {}),
      ...(destinations.list ? { destinations: destinations.list } : {}),
      ...(services && services.length > 0 ? { services: services.map(serviceText) } : {}),
      // A rule about other protocols says nothing of TCP and UDP.
      enabled: services?.length === 0 ? false : saidOr(r.enabled, true),
    },
    doubts: [...openFields(rest), ...from.doubts, ...to.doubts, ...sources.doubts, ...destinations.doubts],
    action: 'open' in action ? action.open : null,
  };
}

const portText = ({ first, last }: PortSet[number]): string =>
  first === last ? `${first}` : `${first}-${last}`;

const serviceText = ({ protocol, ports }: ServiceRecord): string =>
  ports === null ? protocol : `${protocol}/${ports.map(portText).join(',')}`;

/** A rule for everything is the table's own word about what no other rule names. */
const isEverything = (r: ZoneRule): boolean =>
  !r.fromZone && !r.toZone && !r.sources && !r.destinations && !r.services;

/** The zone of the firewall's own lines that a rule means; one that none of them is in is open. */
function zoneOf(
  text: string | null,
  { interfaces, sole }: Known,
): { zone?: string | undefined; doubts: readonly Doubt[] } {
  if (text === null) return { doubts: [] };
  const same = (other: string | undefined): boolean => other?.toLowerCase() === text.toLowerCase();
  const exact = interfaces.find((d) => same(d.zone)) ?? interfaces.find((d) => same(d.name));
  if (exact) return { zone: exact.zone, doubts: [] };
  const isListed = interfaces.some((d) => d.zone !== undefined && !Object.values(ZONES).includes(d.zone));
  const of = (side: DeviceInterface['side']): DeviceInterface | undefined =>
    interfaces.find((d) => d.side === side);
  if (!isListed && OUTSIDE.test(text) && of('outside')) return { zone: of('outside')?.zone, doubts: [] };
  const isInner = INSIDE.test(text) || sole === text.toLowerCase();
  if (!isListed && isInner && of('inside')) return { zone: of('inside')?.zone, doubts: [] };
  return { doubts: [{ doubt: 'word', field: 'interface', text }] };
}
