import { nth } from '../place/index.ts';
import { carrierDoubts } from './notices.ts';
import { listedAllowList } from './allowList.ts';
import { listedBsdFilter } from './bsdFilter.ts';
import { frontEndFrom } from './frontEnd.ts';
import { hostFirewallFrom } from './hostFirewall.ts';
import { factsOf, type CaseFacts } from '../ledger/index.ts';
import {
  allowListDevice,
  carrierProgram,
  hostProfilesProgram,
  relayDevice,
  rowsOf,
  SettingsError,
  translationLinesDevice,
  withDevice,
  zoneFirewallDevice,
  type AllowListSettings,
  type ForwardRow,
  type ProtectedNet,
  type StopSettings,
} from '../devices/index.ts';
import { formatAddress, isReachable, parseAddress, type Address } from '../net/index.ts';
import { settingsOfKind } from '../case/index.ts';
import type { Machine, Site } from '../site/index.ts';
import type { Program } from '../rules/index.ts';
import { forwardTable, protectedNets, surroundings } from './forwardSettings.ts';

/** What is wrong with the settings of a stop. */
export interface SettingsProblem {
  readonly stop: string;
  readonly text: string;
}

/**
 * Lays the settings of all stops over the machines that the evidence gave. Wrong settings leave their stop
 * open, with the reason.
 */
export function withSettings(
  facts: CaseFacts,
  machines: readonly Machine[],
  rowsOfStop: (stop: string) => readonly ForwardRow[],
): { machines: Machine[]; fronts: NonNullable<Site['fronts']>; problems: SettingsProblem[] } {
  const { document } = facts;
  const problems: SettingsProblem[] = [];
  const fronts: { address: Address; machine: string; interface: string | null }[] = [];
  const own = machines.map((machine): Machine => {
    const stop = document.path.find((s) => s.id === machine.id);
    const settings = stop?.settings ?? null;
    try {
      if (machine.role === 'carrier' && !machine.interfaces) return carrierMachine(machine, settings, facts);
      if (!settings) return withListedFirewall(machine, facts);
      return applied(settings, machine, facts, rowsOfStop(machine.id));
    } catch (error) {
      if (!(error instanceof SettingsError)) throw error;
      problems.push({ stop: machine.id, text: error.message });
      return { ...machine, program: { 4: null, 6: null } };
    }
  });
  const all = own.map((machine): Machine => {
    const stop = document.path.find((s) => s.id === machine.id);
    if (machine.role !== 'edge' || machine.interfaces) return machine;
    const nets = protectedNets(own);
    if (nets.length === 0) return machine;
    const settings = settingsOfKind(stop, 'allow-list');
    try {
      const listed = settings ? null : listedAllowList(facts, machine.id);
      const device = allowListDevice(
        turned(settings ?? listed?.settings ?? { kind: 'allow-list', lists: [] }, facts, nets),
        nets,
        listed ? { ...(listed.perhaps ? { perhaps: listed.perhaps } : {}), ofRow: listed.ofRow } : {},
      );
      for (const text of device.fronts ?? []) {
        const address = parseAddress(text);
        if (address && isReachable(address))
          fronts.push({ address, machine: machine.id, interface: 'outside' });
      }
      const laid = withDevice(machine, device);
      // Without a list it is not known what the perimeter lets in; that it stands in the way is.
      return (settings ?? listed) ? laid : { ...laid, program: { 4: null, 6: null } };
    } catch (error) {
      if (!(error instanceof SettingsError)) throw error;
      problems.push({ stop: machine.id, text: error.message });
      return machine;
    }
  });
  return { machines: all, fronts, problems };
}

/**
 * A perimeter before a machine with private addresses only turns the address that the internet sees, where
 * nothing else is said.
 */
function turned(
  settings: AllowListSettings,
  facts: CaseFacts,
  nets: readonly ProtectedNet[],
): AllowListSettings {
  const own = nets.flatMap((n) => n.machine).filter((a) => a.family === 4);
  const edges = new Set(facts.document.path.filter((p) => p.role === 'edge').map((p) => p.id));
  const seen = factsOf(facts, 'labelled')
    .filter((l) => l.fact.what === 'seen-address' || (l.fact.what === 'wan-address' && edges.has(l.stop)))
    .map((l) => parseAddress(l.fact.value))
    .filter((a): a is Address => a !== null && a.family === 4 && isReachable(a))
    .pop();
  if (settings.publicAddress !== undefined || !seen || own.length !== 1 || isReachable(nth(own, 0)))
    return settings;
  return { ...settings, publicAddress: formatAddress(seen), insideAddress: formatAddress(nth(own, 0)) };
}

function applied(
  settings: StopSettings,
  machine: Machine,
  facts: CaseFacts,
  rows: readonly ForwardRow[],
): Machine {
  switch (settings.kind) {
    case 'forward-table':
      // Rows that cannot be are refused here, where the stop is known.
      rowsOf(settings.rows);
      return forwardTable(settings, machine, facts, rows);
    case 'zone-firewall':
      return withDevice(machine, zoneFirewallDevice(settings));
    case 'translation-lines':
      return withDevice(machine, translationLinesDevice(settings));
    case 'relay':
      return withDevice(machine, relayDevice(settings));
    case 'host-profiles':
      return hostFirewalled(machine, hostProfilesProgram(settings, surroundings(machine)));
    case 'carrier':
    case 'allow-list':
      return machine;
    default:
      throw new SettingsError(
        `settings of ${machine.id}: the kind “${(settings as { kind: string }).kind}” is not known`,
      );
  }
}

/** A carrier of which nothing is known but what it keeps from its customers, or may keep from them. */
function carrierMachine(machine: Machine, settings: StopSettings | null, facts: CaseFacts): Machine {
  const doubts = carrierDoubts(facts);
  if (settings?.kind !== 'carrier' && doubts.length === 0) return machine;
  const program = carrierProgram(settings?.kind === 'carrier' ? settings : { kind: 'carrier' }, doubts);
  return { ...machine, program: { 4: program, 6: program } };
}

/** A server whose host firewall was listed, and that shows no packet filter of another kind. */
function withListedFirewall(machine: Machine, facts: CaseFacts): Machine {
  if (machine.role !== 'host' || machine.program[4] || machine.program[6]) return machine;
  const bsd = listedBsdFilter(facts, machine);
  if (bsd) return hostFirewalled(machine, bsd);
  const frontEnd = frontEndFrom(facts, machine);
  if (frontEnd) return hostFirewalled(machine, frontEnd);
  const found = hostFirewallFrom(facts, machine.id);
  return found
    ? hostFirewalled(
        machine,
        hostProfilesProgram(found.settings, { ...surroundings(machine), ...found.doubts }),
      )
    : machine;
}

const hostFirewalled = (machine: Machine, program: Program): Machine => ({
  ...machine,
  program: { 4: program, 6: program },
});
