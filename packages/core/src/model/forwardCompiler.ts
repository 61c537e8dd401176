import { askedMappings } from './askedMappings.ts';
import { furtherForwards } from './forwards.ts';
import { pageManner } from './pages.ts';
import { knowsZones, listedZones } from './zones.ts';
import { besideRuleTable } from './programs.ts';
import { factsOf, type CaseFacts } from '../ledger/index.ts';
import {
  compileForwardTable,
  linesOf,
  zoneFirewallDevice,
  type DeviceInterface,
  type ForwardRow,
} from '../devices/index.ts';
import { formatAddress, isReachable } from '../net/index.ts';
import { settingsOfKind, type PathStop } from '../case/index.ts';
import type { Machine } from '../site/index.ts';
import type { Program } from '../rules/index.ts';

/**
 * Lines of a forward table where its settings name none: outward leads the default route, else the interface
 * with a public address.
 */
function presumedLines(machine: Machine): DeviceInterface[] {
  const list = (machine.interfaces ?? []).filter((i) => !i.loopback);
  const out =
    machine.routes[4]?.find((r) => r.destination.length === 0)?.hops[0]?.device ??
    list.find((i) => i.addresses.some((a) => a.address.family === 4 && isReachable(a.address)))?.name ??
    'wan';
  return list.map((i) => ({
    name: i.name,
    side: i.name === out ? 'outside' : 'inside',
    addresses: i.addresses.map((a) => formatAddress(a.address)),
  }));
}

/**
 * Recompiles a gateway with other rows, for rehearsals too: with the mappings that a listing shows beside
 * them, and with the doubt that a table of filter rules at the same stop brings.
 */
export function forwardCompiler(
  stop: PathStop,
  machine: Machine,
  facts: CaseFacts,
): (rows: readonly ForwardRow[]) => Program {
  const settings = settingsOfKind(stop, 'forward-table');
  const lines = settings?.interfaces ?? presumedLines(machine);
  const mappings = [...(settings?.mappings ?? []), ...askedMappings(facts, stop.id)];
  const further = furtherForwards(facts, stop.id);
  const filterRows = factsOf(facts, 'filter-row').filter((n) => n.stop === stop.id).length;
  return (rows) => {
    const zones = knowsZones(facts, stop.id) ? listedZones(facts, machine, rows) : null;
    if (zones) return zoneFirewallDevice(zones.settings, zones.listing).program;
    const program = compileForwardTable(rows, linesOf(lines), {
      ...(settings ?? {}),
      ...pageManner(facts, stop.id, settings),
      interfaces: lines,
      mappings,
      further,
    });
    return filterRows > 0 ? besideRuleTable(program, filterRows) : program;
  };
}
