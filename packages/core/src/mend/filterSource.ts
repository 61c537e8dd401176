import type { FaultId } from '../faults/index.ts';
import {
  type Prefix,
  formatPrefix,
  type Address,
  formatAddress,
  addressSet,
  toPrefixes,
} from '../net/index.ts';
import { slipOf } from '../ledger/index.ts';
import type { Role } from '../site/index.ts';
import { writeSources } from '../devices/index.ts';
import type { Step } from '../rules/index.ts';
import { type MendContext, endMachine, audience } from './context.ts';
import { wishOf } from './filterMatch.ts';
import { type NearMiss } from './filterMatch.ts';
import { type Filtered } from './filterMatch.ts';
import { chainOf } from './filterFault.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';
import { withSteps } from './scene.ts';

export const SOURCE_FAULT: Readonly<Partial<Record<Role, FaultId>>> = {
  edge: 'edge-source',
  host: 'host-scope',
};

/** The prefix that a slip of the pen made of the client's address; null where none looks like one. */
export function slippedFrom(allowed: readonly Prefix[], client: Address): Prefix | null {
  return allowed.find((p) => slipOf(formatPrefix(p), formatAddress(client)) !== null) ?? null;
}

export function sourceMend(c: MendContext, ending: Filtered, { rule, allowed }: NearMiss): Mend | null {
  const { stop } = c.run;
  const machine = endMachine(c);
  if (stop === null || !machine) return null;
  const client = c.scene.packet.source.address;
  const { family } = client;
  const slipped = slippedFrom(allowed, client);
  const wanted = audience(c) ?? [];
  const added: readonly Prefix[] = slipped ? [{ ...client, length: slipped.length }] : wanted;
  // A slip is put right; who was let in on purpose stays so.
  const to = slipped ? [...added, ...allowed.filter((p) => p !== slipped)] : wanted;
  const set = to.length > 0 ? addressSet(...to, ...(slipped ? [] : allowed)) : null;
  const chain = chainOf(ending, machine.program[family], rule);
  const change = { now: allowed, mended: to.length > 0 ? to : null, replaces: slipped !== null };
  const written = writeSources(rule, chain, change, wishOf(c, added.length > 0 ? added : null));
  return {
    fault: SOURCE_FAULT[machine.role] ?? 'fwd-source',
    stop,
    finding: {
      found: 'sources-too-narrow',
      chain: ending.chain,
      rule,
      served: servedBy(c),
      allowed,
      client,
      sources: set && toPrefixes(set),
      added,
      slip: slipped && slipOf(formatPrefix(slipped), formatAddress(client)),
      written,
    },
    evidence: rule.source ? [rule.source] : [],
    apply: (scene) =>
      withSteps(scene, stop, family, rule, (steps) =>
        steps.flatMap((s): Step[] => {
          if (s.do !== 'match' || s.fields.length !== 1 || s.fields[0]?.of !== 'source') return [s];
          return set ? [{ ...s, rows: [[{ type: 'addresses', set }]] }] : [];
        }),
      ),
  };
}
