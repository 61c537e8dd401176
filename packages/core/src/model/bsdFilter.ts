import { bsdFilterProgram } from '../devices/index.ts';
import type { Machine } from '../site/index.ts';
import type { Program } from '../rules/index.ts';
import { applicationFirewall } from './applicationFirewall.ts';
import { factsOf, newestOf, newestWith, toldIn, type CaseFacts } from '../ledger/index.ts';

/**
 * A machine's own BSD packet filter from its listings; null where neither its rules nor that it is off are
 * known.
 */
export function listedBsdFilter(facts: CaseFacts, machine: Machine): Program | null {
  const stop = machine.id;
  const interfaces = machine.interfaces?.map((i) => i.name) ?? null;
  const applications = applicationFirewall(facts, machine);
  const translations = factsOf(facts, 'forward')
    .filter((f) => f.stop === stop)
    .map((f) => f.fact);
  const others = factsOf(facts, 'noted').some((n) => n.stop === stop && n.fact.topic === 'bsdTranslations');
  if (newestOf(facts, stop, 'bsd-enabled').some((f) => !f.value))
    return bsdFilterProgram([], { enabled: false, interfaces, applications });
  const listing = newestWith(facts, stop, 'bsd-rules-listed');
  if (!listing) return null;
  const { file } = listing;
  return bsdFilterProgram(
    toldIn(listing, 'bsd-rule').map((f) => ({ text: f.value, source: { file, ...f.at } })),
    {
      enabled: true,
      interfaces,
      translates: translations.length > 0 || others,
      applications,
    },
  );
}
