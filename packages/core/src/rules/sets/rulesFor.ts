import { chainIndex } from '../chainIndex.ts';
import type { Chain, Rule } from '../program.ts';
import type { PacketSet } from './packetSet.ts';

/** The rules of a chain that a set can meet, in order. */
export function rulesFor(chain: Chain, set: PacketSet): readonly Rule[] {
  const { dport } = set.now;
  const index = 'value' in dport ? chainIndex(chain) : null;
  if (!index || !('value' in dport)) return chain.rules;
  return index.forPort(Number(dport.value)).map((n) => chain.rules[n] as Rule);
}
