import { bsdFilterProgram } from '../devices/index.ts';
import type { Program } from '../rules/index.ts';
import { factsOf, newestOf, newestWith, toldIn, type CaseFacts } from '../ledger/index.ts';

/**
 * A machine's own BSD packet filter from its listings; null where neither its rules nor that it is off are
 * known.
 */
export function listedBsdFilter(
  facts: CaseFacts,
  stop: string,
  interfaces: readonly string[] | null,
): Program | null {
  const translations = factsOf(facts, 'forward')
    .filter((f) => f.stop === stop)
    .map((f) => f.fact);
  const others = factsOf(facts, 'noted').some((n) => n.stop === stop && n.fact.topic === 'bsdTranslations');
  if (newestOf(facts, stop, 'bsd-enabled').some((f) => !f.value))
    return bsdFilterProgram([], {
      enabled: false,
      interfaces,
      application: applicationFirewall(facts, stop),
    });
  const listing = newestWith(facts, stop, 'bsd-rules-listed');
  if (!listing) return null;
  const { file } = listing;
  return bsdFilterProgram(
    toldIn(listing, 'bsd-rule').map((f) => ({ text: f.value, source: { file, ...f.at } })),
    {
      enabled: true,
      interfaces,
      translates: translations.length > 0 || others,
      application: applicationFirewall(facts, stop),
    },
  );
}

/**
 * Network devices are called `en0`, `en1` … on systems that have a firewall for programs beside the
 * packet filter.
 */
const MAC_DEVICE = /^(en\d+|awdl\d+|utun\d+)$/;

/**
 * Whether a firewall for programs may keep a packet from one of them: it is on, or the system has one and
 * nothing is known of it.
 */
export function applicationFirewall(facts: CaseFacts, stop: string): boolean {
  const said = newestOf(facts, stop, 'application-firewall');
  const newest = said[said.length - 1];
  if (newest) return newest.value;
  const names = factsOf(facts, 'interface')
    .filter((i) => i.stop === stop)
    .map((i) => i.fact.name);
  return names.includes('lo0') && names.some((n) => MAC_DEVICE.test(n));
}
