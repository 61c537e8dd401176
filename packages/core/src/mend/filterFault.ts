import { visitsOf } from '../crossing/index.ts';
import type { FaultId } from '../faults/index.ts';
import { hasAddress, PROTOCOL } from '../net/index.ts';
import type { Program, Chain, Rule } from '../rules/index.ts';
import type { Role } from '../site/index.ts';
import { lastLeg, type MendContext } from './context.ts';
import { accepts, isOnPort, isSourceMatch, type Filtered } from './filterMatch.ts';

/** Which value of a perimeter's row is off: the one row for the service that nearly lets it in tells. */
export function edgeFault(c: MendContext, isAnswer: boolean): FaultId {
  if (isAnswer || c.run.direction === 'reply') return 'edge-return';
  const { transport, destination, source } = c.scene.packet;
  const leg = lastLeg(c);
  const accepting = leg ? [...visitsOf(leg)].map(({ visit }) => visit.rule).filter(accepts) : [];
  const isFrom = (r: Rule): boolean =>
    r.steps.every(
      (s) =>
        !isSourceMatch(s) ||
        s.rows.some(([v]) => v?.type === 'addresses' && hasAddress(v.set, source.address)),
    );
  const named = accepting.filter((r) =>
    r.steps.some((s) => s.do === 'match' && s.fields.some((f) => f.of === 'dport')),
  );
  const ports = (r: Rule): boolean => isOnPort(r, PROTOCOL[transport], destination.port);
  if (
    named.some(
      (r) =>
        ports(r) && r.steps.some((s) => s.do === 'unmodelled-match' && s.doubt.doubt === 'group-members'),
    )
  )
    return 'edge-group-only';
  const protocolOf = (r: Rule): boolean =>
    r.steps.every(
      (s) =>
        s.do !== 'match' ||
        s.fields[0]?.of !== 'protocol' ||
        s.rows.some(
          ([v]) =>
            v?.type === 'numbers' &&
            v.set.some((i) => i.first <= PROTOCOL[transport] && PROTOCOL[transport] <= i.last),
        ),
    );
  if (named.some((r) => ports(r) && isFrom(r) && !protocolOf(r))) return 'edge-protocol';
  return named.some((r) => !ports(r) && isFrom(r) && protocolOf(r)) ? 'edge-port' : 'edge-none';
}

export function shutFault(role: Role, ending: Filtered, isAnswer: boolean): FaultId {
  if (isAnswer) return 'host-output-deny';
  if (role === 'host')
    return ending.kind === 'rule' && refusesThePort(ending.rule) ? 'host-block-wins' : 'host-drop';
  if (ending.hook === 'forward') return ending.kind === 'rule' ? 'filter-order' : 'filter-missing';
  return role === 'edge' ? 'edge-none' : 'filter-missing';
}

/** A rule that names a port and ends its packets, unlike one at the end that drops the rest. */

export const refusesThePort = ({ steps }: Rule): boolean =>
  steps.some((s) => s.do === 'match' && s.fields.some((f) => f.of === 'dport')) &&
  steps.some((s) => s.do === 'verdict' && (s.verdict.verdict === 'drop' || s.verdict.verdict === 'reject'));
/** The deciding rule may stand in a chain that was jumped to; a new rule goes right above it. */
export function chainOf(ending: Filtered, program: Program | null, rule: Rule | null): Chain {
  const own = rule && program?.chains.find((chain) => chain.rules.some((r) => r.id === rule.id));
  return own ?? ending.chain;
}
