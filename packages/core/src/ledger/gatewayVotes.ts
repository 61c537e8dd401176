import { factsOf, type CaseFacts } from './caseFacts.ts';
import type { Whose, Vote } from './whose.ts';
import { parseAddress, isReachable, prefixOf, prefixContains } from '../net/index.ts';
import { labelledAddress } from './labelled.ts';
import type { Fact } from '../facts/index.ts';
import { last } from '../place/index.ts';

export const gatewaysOf = (facts: CaseFacts): string[] =>
  facts.document.path.filter((s) => s.role === 'gateway').map((s) => s.id);

/** Of several gateways the one on whose inside network an address lies; where that is not known, ask. */
export function gatewayVotes(
  inside: string,
  facts: CaseFacts,
  gateway: string,
  weight: number,
  why: Whose,
): Vote[] {
  const gateways = gatewaysOf(facts);
  if (gateways.length < 2) return [{ stop: gateway, weight, why }];
  const near = gateways.find((id) => holdsNetwork(facts, id, inside));
  return near
    ? [{ stop: near, weight, why: { by: 'inside-network', address: inside } }]
    : gateways.map((stop) => ({ stop, weight: 2, why }));
}

/** Whether an address lies on the inside network that a gateway has named. */

export function holdsNetwork(facts: CaseFacts, gateway: string, text: string): boolean {
  const address = parseAddress(text);
  const lan = labelledAddress(facts, gateway, 'lan-address');
  if (!address) return false;
  const nets = [
    ...(lan ? [prefixOf(lan.address, lan.prefix ?? 24)] : []),
    ...factsOf(facts, 'address')
      .filter((a) => a.stop === gateway && a.fact.prefix < 31)
      .map((a) => prefixOf(parseAddress(a.fact.address)!, a.fact.prefix)),
  ];
  return nets.some((net) => !isReachable(address) && prefixContains(net, address));
}

/** A line of a status page, where several gateways may have printed it. */
export function labelVotes(
  fact: Extract<Fact, { kind: 'labelled' }>,
  facts: CaseFacts,
  gateway: string,
): Vote[] {
  const gateways = gatewaysOf(facts);
  const address = parseAddress(fact.value);
  const owner = gateways.find((id) =>
    (['wan-address', 'lan-address'] as const).some(
      (what) => labelledAddress(facts, id, what)?.address.bits === address?.bits,
    ),
  );
  if (owner && (fact.what === 'wan-address' || fact.what === 'lan-address'))
    return [{ stop: owner, weight: 6, why: { by: 'holds', address: fact.value } }];
  if (fact.what === 'wan-address' && address)
    return isReachable(address)
      ? [{ stop: gateway, weight: 4, why: { by: 'outside-kind', address: fact.value, reachable: true } }]
      : [
          {
            stop: last(gateways),
            weight: 4,
            why: { by: 'outside-kind', address: fact.value, reachable: false },
          },
        ];
  return gateways.map((stop) => ({ stop, weight: 1, why: { by: 'page', label: fact.label } }));
}
