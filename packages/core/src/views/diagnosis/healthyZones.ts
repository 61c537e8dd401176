import { GROUPS, known, saidOr, type Fact } from '../../facts/index.ts';
import { factsOf, type CaseFacts, type ReadFile } from '../../ledger/index.ts';
import { formatAddress, parseAddress, type Address } from '../../net/index.ts';
import { AT, insideOf } from './standIns.ts';

/**
 * The sides of a firewall that maps the whole address which is dialled, where nobody has shown them: its own
 * outside address is another one of the same network, and the mapped machine is on its network inside. null:
 * it maps no such address.
 */
export function sidesOf(facts: CaseFacts, stop: string, outside: Address): Fact[] | null {
  const mapping = factsOf(facts, 'address-mapping').find(
    (m) => m.stop === stop && saidOr(m.fact.value.outside, '') === formatAddress(outside),
  );
  const inside = mapping && parseAddress(saidOr(mapping.fact.value.inside, ''));
  if (!inside) return null;
  const own = formatAddress({ ...outside, bits: outside.bits ^ 1n });
  const lan = insideOf(facts, stop);
  const stands = { ...inside, bits: (inside.bits & ~0xffn) | 1n };
  const said = { kind: 'labelled', label: 'assumed', at: AT } as const;
  return [
    { ...said, what: 'wan-address', value: own, prefix: 29 },
    ...(lan ? [] : [{ ...said, what: 'lan-address', value: formatAddress(stands) } as const]),
  ];
}

/** A mapping of that very address as a whole, switched off. */
export const isMappingOff = (fact: Fact, outside: Address): boolean =>
  fact.kind === 'address-mapping' &&
  !saidOr(fact.value.enabled, true) &&
  saidOr(fact.value.outside, '') === formatAddress(outside);

/** A mapping of the address that is dialled, as it would be if it were on. */
export const withMappingOn = (file: ReadFile, dialled: Address | null): ReadFile =>
  dialled === null || !file.facts.some((f) => isMappingOff(f, dialled))
    ? file
    : { ...file, facts: file.facts.map((f) => (isMappingOff(f, dialled) ? switchedOn(f) : f)) };

const switchedOn = (fact: Fact): Fact =>
  fact.kind === 'address-mapping' ? { ...fact, value: { ...fact.value, enabled: known(true) } } : fact;

/** A rule that lets all of it in, where a firewall with zones has shown no rule yet. */
export function zoneRulesOf(facts: CaseFacts, stop: string): Fact[] {
  const isZoned = factsOf(facts, 'address-mapping').some((m) => m.stop === stop);
  const isShown = facts.files.some((f) => f.stop === stop && f.shows.includes('zone-rules'));
  if (!isZoned || isShown) return [];
  const value = {
    name: null,
    action: known('allow' as const),
    fromZone: known(null),
    toZone: known(null),
    sources: known(null),
    destinations: known(null),
    services: known(null),
    enabled: known(true),
    further: known(null),
  };
  return [{ kind: 'zone-rule', at: AT, group: GROUPS['zone-rule'].group, value, text: 'assumed' }];
}
