import { factsOf, type CaseFacts } from '../ledger/index.ts';
import type { ForwardManner, ForwardTableSettings } from '../devices/index.ts';
import { parseAddress, parsePort, type PortSet } from '../net/index.ts';

/**
 * What the pages of a router say about it beside its table: the machine that takes all the rest, and
 * where the router answers itself. What its settings say stands.
 */
export function pageManner(
  facts: CaseFacts,
  stop: string,
  settings: ForwardTableSettings | null,
): Pick<ForwardManner, 'exposedHost' | 'ownPortsOpen' | 'perhapsOwn' | 'perhapsExposed' | 'hairpin'> {
  const said = (what: 'exposed-host' | 'own-port' | 'hairpin'): string[] =>
    factsOf(facts, 'labelled')
      .filter((l) => l.stop === stop && l.fact.what === what)
      .map((l) => l.fact.value);
  const exposed = said('exposed-host');
  const host = exposed.filter((value) => parseAddress(value) !== null).pop();
  const ports = said('own-port').flatMap((value): PortSet => {
    const port = parsePort(value);
    return port === null ? [] : [{ first: port, last: port }];
  });
  const isOpen = settings?.ownPorts === undefined && (settings !== null || said('own-port').includes('on'));
  const hairpin = said('hairpin').pop();
  return {
    ...(settings?.hairpin === undefined && hairpin !== undefined ? { hairpin: hairpin === 'on' } : {}),
    ...(settings?.exposedHost === undefined && host !== undefined ? { exposedHost: host } : {}),
    perhapsExposed: settings?.exposedHost === undefined && exposed.length > 0 && host === undefined,
    ...(settings?.ownPorts === undefined ? { perhapsOwn: ports } : {}),
    ownPortsOpen: isOpen && ports.length === 0,
  };
}
