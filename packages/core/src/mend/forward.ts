import { writeFirstRule, writeRule, type RuleWish } from '../devices/index.ts';
import type { Address, Family } from '../net/index.ts';
import type { BaseChain, Chain, Program, Rule } from '../rules/index.ts';
import { endMachine, lastLeg, targetOf, type MendContext } from './context.ts';
import { servesMore } from './filterMatch.ts';
import type { Mend } from './mend.ts';
import { rowMend } from './rows.ts';
import { nearTranslation } from './translation.ts';
import { withProgram, withRule } from './scene.ts';
import { stepsOf } from './steps.ts';

/** The packet reached the gateway's own address and no live forward took it: what is wrong with the table. */
export function missingForward(c: MendContext): Mend | null {
  const machine = endMachine(c);
  if (!machine) return null;
  const target = targetOf(c, machine);
  if (target?.machine === machine) return null;
  const rows = c.scene.rows.get(machine.id);
  if (rows && (machine.presumed.kind === 'box' || !usesOwnFilter(c, machine.id)))
    return rowMend(c, machine.id, rows, target?.address ?? null);
  const near = nearTranslation(c, target?.address ?? null);
  if (near) return (target && ofItsOwn(c, near, machine.id, target.address)) ?? near;
  // Where it should lead nobody has told yet; that nothing takes it is known all the same.
  return target ? translationMend(c, machine.id, target.address) : rowMend(c, machine.id, rows ?? [], null);
}

/** A translation for others that leads other ports too is not opened to more of them: a new one is made. */
function ofItsOwn(c: MendContext, { fault, finding }: Mend, stop: string, to: Address): Mend | null {
  const isWide =
    finding.found === 'translation-near' && finding.part === 'source' && servesMore(finding.rule, c);
  const own = isWide ? translationMend(c, stop, to) : null;
  return own && { ...own, fault };
}

const usesOwnFilter = (c: MendContext, stop: string): boolean =>
  c.facts.files.some((f) => f.stop === stop && (f.covers.includes('rules4') || f.covers.includes('rules6')));

/** A packet filter without a translation for this port. */
function translationMend(c: MendContext, stop: string, to: Address): Mend | null {
  const { transport, destination } = c.scene.packet;
  const { family } = destination.address;
  const program = c.scene.site.machines.find((m) => m.id === stop)?.program[family];
  if (!program) return null;
  const base = program.baseChains.find(
    (b) => b.hook === 'prerouting' && b.type === 'nat' && b.families.includes(family),
  );
  const wish: RuleWish = {
    family,
    transport,
    peers: null,
    destination: destination.address,
    port: destination.port,
    side: 'question',
    then: { do: 'translate', to },
  };
  const chain = base?.chain ?? null;
  const first = chain?.rules[0] ?? null;
  const written = chain ? writeRule(wish, { chain, above: first }) : writeFirstRule(wish, filterOf(program));
  const id = `mend/dnat/${transport}/${destination.port}`;
  const rule: Rule = { id, text: written?.text ?? id, source: null, steps: stepsOf(wish) };
  return {
    fault: 'fwd-none',
    stop,
    finding: { found: 'translation-missing', wish, chain, to, written },
    evidence: chain?.source ? [chain.source] : [],
    apply: (scene) =>
      withProgram(scene, stop, family, (p) =>
        chain ? withRule(p, chain.id, rule, first?.id ?? null) : withNewBase(p, rule, family),
      ),
  };
}

/** The packet filter with which a machine's rules are kept. */
export const filterOf = ({ chains }: Program): 'nft' | 'iptables' =>
  chains.some((chain) => chain.origin.program === 'iptables') ? 'iptables' : 'nft';

/** The program with a translation where there was no chain for it; priorities of nft(8). */
export function withNewBase(
  program: Program,
  rule: Rule,
  family: Family,
  hook: 'prerouting' | 'postrouting' = 'prerouting',
): Program {
  const chain: Chain = {
    id: `mend/${hook}`,
    name: hook,
    origin: { program: 'device' },
    source: null,
    rules: [rule],
  };
  const base: BaseChain = {
    hook,
    priority: hook === 'prerouting' ? -100 : 100,
    type: 'nat',
    policy: 'accept',
    families: [family],
    chain,
  };
  return { baseChains: [...program.baseChains, base], chains: [...program.chains, chain] };
}

export function translatingRule(c: MendContext): Rule | null {
  for (const e of lastLeg(c)?.events ?? [])
    if (e.event === 'translated' && e.side === 'destination') return e.rule;
  return null;
}
