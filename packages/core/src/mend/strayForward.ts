import { writeMoved, type ForwardRow, writeEdited } from '../devices/index.ts';
import type { FaultId } from '../faults/index.ts';
import { slipOf, factsOf } from '../ledger/index.ts';
import { sameAddress, type Address, parseAddress, formatAddress, PROTOCOL } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Rule } from '../rules/index.ts';
import { chainOf, endMachine, type MendContext, targetOf } from './context.ts';
import { translatingRule } from './forward.ts';
import type { Mend } from './mend.ts';
import type { Served, Target } from './served.ts';
import { servedBy } from './rows.ts';
import { withProgram, withOrder, withRows, withRow, withSteps } from './scene.ts';

/** A forward that leads to a machine which is not the server. */
export interface Stray {
  readonly now: Address;
  readonly target: Target;
  readonly holder: string | null;
  readonly fault: FaultId;
  readonly evidence: readonly SourceRef[];
}

export type Shadowed = Extract<Mend['finding'], { found: 'shadowed' }>;

/** Whether a rule would send the service where it belongs. */
export const isMeant = ({ steps }: Rule, to: Address, { transport, port }: Shadowed['served']): boolean =>
  steps.some((s) => s.do === 'translate' && 'addresses' in s.target && isTo(s.target.addresses, to)) &&
  steps.some(
    (s) =>
      s.do === 'match' &&
      s.fields.length === 1 &&
      s.fields[0]?.of === 'dport' &&
      (s.fields[0].protocol === null || s.fields[0].protocol === PROTOCOL[transport]) &&
      s.rows.some(([v]) => v?.type === 'numbers' && v.set.some((i) => port >= i.first && port <= i.last)),
  );
export const isTo = (target: { readonly first: Address } | null | undefined, to: Address): boolean =>
  target !== null && target !== undefined && sameAddress(target.first, to);

/** A live row that takes the packet and sends it there. */
const leadsTo = (r: ForwardRow, { transport, port }: Served, to: Address): boolean =>
  r.enabled &&
  r.applied !== false &&
  port >= r.outside.first &&
  port <= r.outside.last &&
  (r.protocol === 'both' || r.protocol === transport) &&
  r.insideAddress !== null &&
  sameAddress(r.insideAddress, to);

/** The live row that took the packet and sent it there. */
export const takingRow = (c: MendContext, stop: string, now: Address): ForwardRow | null =>
  c.scene.rows.get(stop)?.find((r) => leadsTo(r, servedBy(c), now)) ?? null;

export function shadowedRule(
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

/** A later row or rule leads to the server: the earlier one only stands in its way. */
export function shadowedBy(c: MendContext, stop: string, stray: Stray): Mend | null {
  const rows = c.scene.rows.get(stop) ?? [];
  const row = takingRow(c, stop, stray.now);
  const served = servedBy(c);
  const later = rows.find(
    (r, i) => row !== null && i > rows.indexOf(row) && leadsTo(r, served, stray.target.address),
  );
  const common = { now: stray.now, mended: stray.target.address, served };
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

export function strayRow(c: MendContext, stop: string, stray: Stray, row: ForwardRow): Mend {
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

export function strayRule(c: MendContext, stop: string, stray: Stray): Mend | null {
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

export function strayIn(c: MendContext): Stray | null {
  const { ending } = c.run;
  if (ending.kind !== 'astray' && ending.kind !== 'nobody-there') return null;
  const machine = endMachine(c);
  // A relay's lease is no forward of the way inwards.
  const target = machine && machine.role !== 'relay' ? targetOf(c, machine) : null;
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
