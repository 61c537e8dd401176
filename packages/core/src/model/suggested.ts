import type { ForwardRow, ForwardRowSettings, StopSettings } from '../devices/index.ts';
import { factsOf, type CaseFacts } from '../ledger/index.ts';
import { formatAddress, formatPrefix } from '../net/index.ts';
import { listedAllowList } from './allowList.ts';
import { forwardRows, knowsForwards } from './forwards.ts';
import { hostFirewallFrom } from './hostFirewall.ts';
import { buildSite } from './site.ts';
import { knowsZones, listedZones, type ListedZones } from './zones.ts';

/** Settings of a device as its evidence shows them, and the pieces that they come from. */
export interface Suggested {
  readonly settings: StopSettings;
  readonly files: readonly string[];
}

/**
 * What a technician need not type: the rows of a device that the evidence holds already; null where it holds
 * none. What is open about a row stays open in it: it has no value there.
 */
export function suggestedSettings(facts: CaseFacts, stop: string): Suggested | null {
  const own = facts.document.path.find((s) => s.id === stop);
  switch (own?.role) {
    case 'gateway':
      return zonesOf(facts, stop) ?? forwardsAt(facts, stop);
    case 'edge': {
      const list = listedAllowList(facts, stop);
      return list ? { settings: list.settings, files: filesWith(facts, stop, 'allow-row') } : null;
    }
    case 'host': {
      const firewall = hostFirewallFrom(facts, stop);
      return firewall ? { settings: firewall.settings, files: filesWith(facts, stop, 'host-row') } : null;
    }
    default:
      return null;
  }
}

/** Longer tables are looked up in their listing, not in a form. */
const MOST_ROWS = 200;

const filesWith = (facts: CaseFacts, stop: string, kind: string): string[] =>
  facts.files.filter((f) => f.stop === stop && f.facts.some((x) => x.kind === kind)).map((f) => f.file);

/** The rules and translations of a firewall with zones; null where its pages show none. */
function zonesOf(facts: CaseFacts, stop: string): Suggested | null {
  if (!knowsZones(facts, stop)) return null;
  const machine = buildSite(facts).machines.find((m) => m.id === stop);
  const zones = machine && listedZones(facts, machine, forwardRows(facts, stop));
  // What is open about a row would be filled in with a value that nobody said.
  if (!zones || zones.settings.rules.length > MOST_ROWS || hasOpen(zones)) return null;
  const kinds = ['zone-rule', 'address-mapping', 'zone-line', 'forward'];
  return {
    settings: zones.settings,
    files: [...new Set(kinds.flatMap((kind) => filesWith(facts, stop, kind)))],
  };
}

const hasOpen = ({ listing }: ListedZones): boolean =>
  listing !== null &&
  (listing.ofRule.size + listing.ofAction.size + listing.ofTranslation.size > 0 ||
    listing.furtherRules !== null ||
    listing.furtherTranslations !== null);

function forwardsAt(facts: CaseFacts, stop: string): Suggested | null {
  if (!knowsForwards(facts, stop)) return null;
  const rows = forwardRows(facts, stop).filter((r) => r.insideAddress !== null);
  if (rows.length === 0 || rows.length > MOST_ROWS) return null;
  const exposed = factsOf(facts, 'labelled').find((l) => l.stop === stop && l.fact.what === 'exposed-host');
  return {
    settings: {
      kind: 'forward-table',
      rows: rows.map(rowSettings),
      ...(exposed ? { exposedHost: exposed.fact.value } : {}),
    },
    files: filesWith(facts, stop, 'forward'),
  };
}

function rowSettings(r: ForwardRow): ForwardRowSettings {
  const { first, last } = r.outside;
  return {
    ...(r.name === '' ? {} : { name: r.name }),
    protocol: r.protocol,
    ports: first === last ? first : `${first}-${last}`,
    to: r.insideAddress ? formatAddress(r.insideAddress) : '',
    ...(r.insideFirst === first ? {} : { toPort: r.insideFirst }),
    ...(r.sources === null ? {} : { sources: r.sources.map(formatPrefix) }),
    ...(r.line === undefined ? {} : { line: r.line }),
    enabled: r.enabled,
    ...(r.applied === false ? { state: r.waitsFor ? ('needs-restart' as const) : ('staged' as const) } : {}),
  };
}
