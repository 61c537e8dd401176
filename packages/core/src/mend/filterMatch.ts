import type { Ending } from '../crossing/index.ts';
import type { RuleWish } from '../devices/index.ts';
import { portDifference, portSet, type Prefix } from '../net/index.ts';
import type { Rule, Step } from '../rules/index.ts';
import type { MendContext } from './context.ts';

export type Filtered = Extract<Ending, { kind: 'rule' | 'policy' }>;

export type Match = Extract<Step, { do: 'match' }>;

/** An accepting rule of the hook that agrees in everything but the source. */

export interface NearMiss {
  readonly rule: Rule;
  readonly allowed: readonly Prefix[];
}

export const holdsPort = (step: Match, port: number): boolean =>
  step.rows.some((row) =>
    row.some((set) => set.type === 'numbers' && set.set.some((i) => port >= i.first && port <= i.last)),
  ) !== step.negate;

export const accepts = ({ steps }: Rule): boolean =>
  steps.some((s) => s.do === 'verdict' && s.verdict.verdict === 'accept');

export const isSourceMatch = (step: Step): step is Match =>
  step.do === 'match' && !step.negate && step.fields.length === 1 && step.fields[0]?.of === 'source';

export const isDestinationMatch = (step: Step): step is Match =>
  step.do === 'match' && !step.negate && step.fields.length === 1 && step.fields[0]?.of === 'destination';

export const isOnPort = (rule: Rule, protocol: number, port: number): boolean =>
  rule.steps.some(
    (s) =>
      s.do === 'match' &&
      s.fields.some((f) => f.of === 'dport' && (f.protocol === null || f.protocol === protocol)) &&
      holdsPort(s, port),
  );

/** The service as it was dialled, for those who are to be let in. */

export const wishOf = ({ scene }: MendContext, peers: readonly Prefix[] | null): RuleWish => ({
  family: scene.packet.source.address.family,
  transport: scene.packet.transport,
  peers,
  destination: null,
  port: scene.packet.destination.port,
  side: 'question',
  then: { do: 'accept' },
});

/** Whether a rule takes ports that the service does not have. */
export function servesMore(rule: Rule, { facts, scene }: MendContext): boolean {
  const { transport, destination } = scene.packet;
  const endpoints = facts.document.service?.endpoints ?? [{ protocol: transport, port: destination.port }];
  const own = portSet(...endpoints.map((e) => ({ first: e.port, last: e.portEnd ?? e.port })));
  return rule.steps.some(
    (s) =>
      s.do === 'match' &&
      s.fields.some((f) => f.of === 'dport') &&
      // All ports but some, or several conditions in one: more than the service has.
      (s.negate ||
        s.fields.length > 1 ||
        s.rows.some(([v]) => v?.type === 'numbers' && portDifference(portSet(...v.set), own).length > 0)),
  );
}
