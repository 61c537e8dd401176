import type { ApplicationFirewall } from '../devices/index.ts';
import { factsOf, newestOf, type CaseFacts } from '../ledger/index.ts';
import type { Machine } from '../site/index.ts';

/**
 * Network devices are called `en0`, `en1` … on systems that have a firewall for programs beside the
 * packet filter.
 */
const MAC_DEVICE = /^(en\d+|awdl\d+|utun\d+)$/;

/**
 * The firewall for programs of a machine, where it is on, or the system has one and nothing is known of it;
 * null: it keeps nothing from anybody.
 */
export function applicationFirewall(facts: CaseFacts, machine: Machine): ApplicationFirewall | null {
  const stop = machine.id;
  const isOn = newestOf(facts, stop, 'application-firewall').at(-1)?.value;
  const said = newestOf(facts, stop, 'application-blocks-all').map((f) => f.value);
  const blocks = said.length === 0 ? 'perhaps' : said.includes(true);
  const rows = newestOf(facts, stop, 'application').map((f) => f.value);
  const isSeen = isOn !== undefined || said.length > 0 || rows.length > 0 || isMac(facts, stop);
  if (isOn === false || !isSeen) return null;
  // What is not known to be on blocks perhaps, and lets in surely none that it would block.
  const blocksAll = isOn === true || blocks === false ? blocks : 'perhaps';
  return { blocksAll, rows: isOn === true ? rows : rows.filter((r) => r.allow), sockets: machine.sockets };
}

function isMac(facts: CaseFacts, stop: string): boolean {
  const names = factsOf(facts, 'interface')
    .filter((i) => i.stop === stop)
    .map((i) => i.fact.name);
  return names.includes('lo0') && names.some((n) => MAC_DEVICE.test(n));
}
