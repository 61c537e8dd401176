import {
  writeEdited,
  writeFirstRule,
  writeMoved,
  writeRule,
  type ForwardRow,
  type RuleWish,
} from '../devices/index.ts';
import type { FaultId } from '../faults/index.ts';
import { factsOf, slipOf } from '../ledger/index.ts';
import {
  formatAddress,
  parseAddress,
  PROTOCOL,
  sameAddress,
  type Address,
  type Family,
} from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { BaseChain, Chain, Program, Rule } from '../rules/index.ts';
import { chainOf, endMachine, targetOf, type MendContext } from './context.ts';
import type { Mend, Target } from './mend.ts';
import { rowMend, servedBy } from './rows.ts';
import { nearTranslation } from './translation.ts';
import { withOrder, withProgram, withRow, withRows, withRule, withSteps } from './scene.ts';
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
  if (near) return near;
  // Where it should lead nobody has told yet; that nothing takes it is known all the same.
  return target ? translationMend(c, machine.id, target.address) : rowMend(c, machine.id, rows ?? [], null);
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
const filterOf = ({ chains }: Program): 'nft' | 'iptables' =>
  chains.some((chain) => chain.origin.program === 'iptables') ? 'iptables' : 'nft';

function withNewBase(program: Program, rule: Rule, family: Family): Program {
  const chain: Chain = {
    id: 'mend/prerouting',
    name: 'prerouting',
    origin: { program: 'device' },
    source: null,
    rules: [rule],
  };
  const base: BaseChain = {
    hook: 'prerouting',
    priority: -100,
    type: 'nat',
    policy: 'accept',
    families: [family],
    chain,
  };
  return { baseChains: [...program.baseChains, base], chains: [...program.chains, chain] };
}

/** A forward that leads to a machine which is not the server. */
interface Stray {
  readonly now: Address;
  readonly target: Target;
  readonly holder: string | null;
  readonly fault: FaultId;
  readonly evidence: readonly SourceRef[];
}

/** The forward sends to a machine that is not the server. */
export function strayForward(c: MendContext): Mend | null {
  const { stop } = c.run;
  const stray = strayIn(c);
  if (!stray || stop === null) return null;
  const shadowed = shadowedBy(c, stop, stray);
  if (shadowed) return shadowed;
  const row = takingRow(c, stop, stray.now);
  return row ? strayRow(c, stop, stray, row) : strayRule(c, stop, stray);
}

function strayIn(c: MendContext): Stray | null {
  const { ending } = c.run;
  if (ending.kind !== 'astray' && ending.kind !== 'nobody-there') return null;
  const machine = endMachine(c);
  const target = machine ? targetOf(c, machine) : null;
  if (!target || target.machine === machine || sameAddress(target.address, ending.address)) return null;
  const lease = factsOf(c.facts, 'lease').find(({ fact }) => {
    const held = parseAddress(fact.address);
    return held !== null && sameAddress(held, ending.address);
  });
  const isSlip = slipOf(formatAddress(ending.address), formatAddress(target.address)) !== null;
  return {
    now: ending.address,
    target: {
      stop: target.machine.id,
      isGateway: target.machine.role === 'gateway',
      address: target.address,
    },
    holder: lease ? (lease.fact.name ?? lease.fact.mac ?? 'another machine') : null,
    fault: isSlip && !lease ? 'fwd-target-typo' : 'fwd-target-stale',
    evidence: lease ? [lease.source] : [],
  };
}

/** The live row that took the packet and sent it there. */
function takingRow(c: MendContext, stop: string, now: Address): ForwardRow | null {
  const { transport, port } = servedBy(c);
  return (
    c.scene.rows
      .get(stop)
      ?.find(
        (r) =>
          r.enabled &&
          r.applied !== false &&
          port >= r.outside.first &&
          port <= r.outside.last &&
          (r.protocol === 'both' || r.protocol === transport) &&
          r.insideAddress !== null &&
          sameAddress(r.insideAddress, now),
      ) ?? null
  );
}

/** A later row or rule leads to the server: the earlier one only stands in its way. */
function shadowedBy(c: MendContext, stop: string, stray: Stray): Mend | null {
  const rows = c.scene.rows.get(stop) ?? [];
  const row = takingRow(c, stop, stray.now);
  const { transport, port } = servedBy(c);
  const later = rows.find(
    (r, i) =>
      row !== null &&
      i > rows.indexOf(row) &&
      r.enabled &&
      r.applied !== false &&
      port >= r.outside.first &&
      port <= r.outside.last &&
      (r.protocol === 'both' || r.protocol === transport) &&
      r.insideAddress !== null &&
      sameAddress(r.insideAddress, stray.target.address),
  );
  const common = { now: stray.now, mended: stray.target.address, served: servedBy(c) };
  if (row && later) {
    const named = (r: ForwardRow): string =>
      r.name === '' ? `row ${rows.indexOf(r) + 1}` : `row “${r.name}”`;
    const first = [later, ...rows.filter((r) => r !== later)];
    return {
      fault: 'fwd-shadowed',
      stop,
      finding: { found: 'shadowed', ...common, by: named(row), right: named(later), written: null },
      evidence: [row, later].flatMap((r) => r.source ?? []),
      apply: (scene) => withRows(scene, stop, first),
    };
  }
  return row ? null : shadowedRule(c, stop, common);
}

type Shadowed = Extract<Mend['finding'], { found: 'shadowed' }>;

function shadowedRule(
  c: MendContext,
  stop: string,
  common: Pick<Shadowed, 'now' | 'mended' | 'served'>,
): Mend | null {
  const rule = translatingRule(c);
  const { family } = common.mended;
  const chain = endMachine(c)?.program[family]?.chains.find((ch) => ch.rules.some((r) => r.id === rule?.id));
  const at = chain?.rules.findIndex((r) => r.id === rule?.id) ?? -1;
  const later = chain?.rules.slice(at + 1).find((r) => isMeant(r, common.mended, common.served));
  if (!rule || !chain || !later) return null;
  const rest = chain.rules.filter((r) => r.id !== later.id);
  const order = [...rest.slice(0, at), later, ...rest.slice(at)];
  return {
    fault: 'fwd-shadowed',
    stop,
    finding: {
      found: 'shadowed',
      ...common,
      by: `the rule “${rule.text}”`,
      right: `the rule “${later.text}”`,
      written: writeMoved(later, rule, chain, common.served),
    },
    evidence: [rule, later].flatMap((r) => r.source ?? []),
    apply: (scene) => withProgram(scene, stop, family, (p) => withOrder(p, chain.id, order)),
  };
}

/** Whether a rule would send the service where it belongs. */
const isMeant = ({ steps }: Rule, to: Address, { transport, port }: Shadowed['served']): boolean =>
  steps.some((s) => s.do === 'translate' && 'addresses' in s.target && isTo(s.target.addresses, to)) &&
  steps.some(
    (s) =>
      s.do === 'match' &&
      s.fields.length === 1 &&
      s.fields[0]?.of === 'dport' &&
      (s.fields[0].protocol === null || s.fields[0].protocol === PROTOCOL[transport]) &&
      s.rows.some(([v]) => v?.type === 'numbers' && v.set.some((i) => port >= i.first && port <= i.last)),
  );

const isTo = (target: { readonly first: Address } | null | undefined, to: Address): boolean =>
  target !== null && target !== undefined && sameAddress(target.first, to);

function strayRow(c: MendContext, stop: string, stray: Stray, row: ForwardRow): Mend {
  const { now, target, holder, fault } = stray;
  const rows = c.scene.rows.get(stop) ?? [];
  const number = rows.indexOf(row) + 1;
  return {
    fault,
    stop,
    finding: { found: 'row-target', row, number, served: servedBy(c), now, holder, target },
    evidence: [...(row.source ? [row.source] : []), ...stray.evidence],
    apply: (scene) => withRow(scene, stop, rows, row, { insideAddress: target.address }),
  };
}

function strayRule(c: MendContext, stop: string, stray: Stray): Mend | null {
  const rule = translatingRule(c);
  if (!rule) return null;
  const { now, target, holder, fault } = stray;
  const addresses = { first: target.address, last: target.address };
  const served = servedBy(c);
  const chain = chainOf(c, stop, rule);
  const written = chain && writeEdited(rule, chain, { edit: 'target', to: target.address }, served);
  return {
    fault,
    stop,
    finding: { found: 'translation-target', rule, served, now, holder, target, written },
    evidence: [...(rule.source ? [rule.source] : []), ...stray.evidence],
    apply: (scene) =>
      withSteps(scene, stop, target.address.family, rule, (steps) =>
        steps.map((s) => (s.do === 'translate' ? { ...s, target: { ...s.target, addresses } } : s)),
      ),
  };
}

function translatingRule({ run }: MendContext): Rule | null {
  const leg = run.legs.find((l) => l.stop === run.stop && l.lane === 'forward');
  for (const e of leg?.events ?? []) if (e.event === 'translated' && e.side === 'destination') return e.rule;
  return null;
}
