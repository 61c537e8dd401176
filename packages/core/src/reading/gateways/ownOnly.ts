import { isReachable, parseAddress, prefixContains, prefixOf } from '../../net/index.ts';
import type { LabelledFact } from '../../facts/index.ts';

/**
 * Address, mask and default gateway together are how a machine's own settings look: none of them is the
 * router's. A page that names its outside line is a router's.
 */
export function ownOnly(facts: readonly LabelledFact[]): readonly LabelledFact[] {
  const gateway = facts.find((f) => f.what === 'default-gateway');
  const via = gateway ? parseAddress(gateway.value) : null;
  const isPlain = (f: LabelledFact): boolean =>
    /^(ipv?4?|ipv?6?)?[ -]?(ip )?(address|adresse|direcci[óo]n|addr)?$/i.test(f.label);
  const own = facts.filter(
    (f) => (f.what === 'lan-address' || f.what === 'wan-address' || f.what === 'own-address') && isPlain(f),
  );
  const isRouter = facts.some((f) => (f.what === 'wan-address' || f.what === 'lan-address') && !isPlain(f));
  if (!via || isRouter || own.length === 0) return facts;
  const near = own.some((f) => {
    const address = parseAddress(f.value);
    return (
      address !== null &&
      !isReachable(address) &&
      prefixContains(prefixOf(via, address.family === 4 ? 16 : 48), address)
    );
  });
  return near ? facts.map((f) => (own.includes(f) ? { ...f, what: 'own-address' as const } : f)) : facts;
}
