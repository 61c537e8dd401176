import type { Shell } from '../asks/index.ts';
import { factsOf, type CaseFacts } from '../ledger/index.ts';

/** Formats that only the programs of one kind of system print. */
const FORMATS: readonly (readonly [RegExp, Shell])[] = [
  [/^(?:ipconfig|route-print|netsh-|cmdlet-|excluded-ports)/, 'windows'],
  [/^(?:bsd-filter|application-firewall|sockstat)/, 'macos'],
  [/^(?:ss|ip|nft|iptables|ufw|firewalld|conntrack|proc-net|sysctl)(?:-|$)/, 'linux'],
];

/** What a system calls its interfaces (systemd.net-naming-scheme(7), ifconfig(8) of the BSDs). */
const DEVICES: readonly (readonly [RegExp, Shell])[] = [
  [/^(?:lo|eth\d+|en[osxp]\d\w*|wlan\d+|wl[osxp]\d\w*)$/, 'linux'],
  [/^(?:lo0|en\d+|em\d+|igb\d+|re\d+|vtnet\d+)$/, 'macos'],
];

/**
 * The system of a machine, as the formats of its listings and its interfaces tell; null where nothing does,
 * or where they differ.
 */
export function systemAt(facts: CaseFacts, stop: string): Shell | null {
  const systems = new Set(toldBy(facts, stop));
  const [system] = systems;
  return system !== undefined && systems.size === 1 ? system : null;
}

/** The system that the last of its listings was made on, whatever the others say. */
export const lastSystem = (facts: CaseFacts, stop: string): Shell | null =>
  toldBy(facts, stop).at(-1) ?? null;

/** By its interfaces, and by each of its listings. */
function toldBy(facts: CaseFacts, stop: string): Shell[] {
  const devices = [
    ...factsOf(facts, 'interface').map((i) => ({ stop: i.stop, names: [i.fact.name] })),
    ...factsOf(facts, 'route').map((r) => ({ stop: r.stop, names: r.fact.hops.map((h) => h.dev ?? '') })),
  ].filter((d) => d.stop === stop);
  return [
    ...devices.flatMap((d) => d.names.map((name) => first(DEVICES, name))),
    ...facts.files.filter((f) => f.stop === stop).map((f) => first(FORMATS, f.format ?? '')),
  ].filter((system) => system !== null);
}

const first = (table: typeof FORMATS, text: string): Shell | null =>
  table.find(([form]) => form.test(text))?.[1] ?? null;
