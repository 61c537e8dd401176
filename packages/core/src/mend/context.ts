import { withId } from '../place/index.ts';
import { wanAddress } from '../model/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import type { Leg, Run, Trace } from '../crossing/index.ts';
import {
  ADDRESS_LENGTH,
  isReachable,
  parsePrefix,
  prefixOf,
  type Address,
  type Prefix,
} from '../net/index.ts';
import type { Chain, Rule } from '../rules/index.ts';
import type { Machine, NetInterface } from '../site/index.ts';
import type { Scene } from './scene.ts';

/** What a mend is worked out from. */
export interface MendContext {
  readonly facts: CaseFacts;
  readonly scene: Scene;
  readonly trace: Trace;
  readonly run: Run;
}

/** The machine where the run ended. */
export const endMachine = ({ scene, run }: MendContext): Machine | null =>
  scene.site.machines.find((m) => m.id === run.stop) ?? null;

/** The last way of the packet through the machine where it ended; null: it is not on it. */
export const lastLeg = ({ run }: Pick<MendContext, 'run'>, lane: Leg['lane'] = 'forward'): Leg | null =>
  run.legs.findLast((l) => l.stop === run.stop && l.lane === lane) ?? null;

/** The interface of a router that its page calls so; undefined: there is none of that name. */
export const lineOf = (machine: Machine | null, name: string): NetInterface | undefined =>
  machine?.interfaces?.find((i) => i.name.toLowerCase() === name.toLowerCase());

/** The chain of a machine's packet filter that a rule stands in. */
export const chainOf = ({ scene }: MendContext, stop: string, rule: Rule): Chain | null =>
  scene.site.machines
    .find((m) => m.id === stop)
    ?.program[scene.packet.destination.address.family]?.chains.find(({ rules }) =>
      rules.some((r) => r.id === rule.id),
    ) ?? null;

/** The server: the innermost host of the path whose addresses are known. */
export function serverOf({
  scene,
  facts,
}: Pick<MendContext, 'scene' | 'facts'>): { machine: Machine; address: Address } | null {
  const hosts = facts.document.path
    .filter((s) => s.role === 'host')
    .map((s) => scene.site.machines.find((m) => m.id === s.id))
    .filter((m): m is Machine => m !== undefined && m.interfaces !== null);
  const { family } = scene.packet.destination.address;
  for (const machine of hosts) {
    const own = machine
      .interfaces!.filter((i) => !i.loopback && i.adminUp)
      .flatMap((i) =>
        i.addresses.filter((a) => a.address.family === family && a.scope !== 'link' && !a.unusable),
      );
    if (own[0]) return { machine, address: (own.find((a) => !isReachable(a.address)) ?? own[0]).address };
  }
  return null;
}

/**
 * Where a gateway has to send the service: to the next gateway inwards, where there is one, else to the
 * server.
 */
export function targetOf(
  c: Pick<MendContext, 'scene' | 'facts'>,
  gateway: Machine,
): { machine: Machine; address: Address } | null {
  const gateways = c.facts.document.path
    .filter((s) => s.role === 'gateway')
    .map((s) => withId(c.scene.site.machines, s.id));
  const inner = gateways[gateways.indexOf(gateway) + 1];
  if (!inner || c.scene.packet.destination.address.family === 6) return serverOf(c);
  const wan = inner.interfaces ? wanAddress(c.facts, inner) : null;
  return wan ? { machine: inner, address: wan.address } : null;
}

/** Whom the service is for: prefixes, or null for anyone. Without a word about it: the client alone. */
export function audience({ facts, scene }: Pick<MendContext, 'facts' | 'scene'>): readonly Prefix[] | null {
  const said = facts.document.service?.audience;
  const { address } = scene.packet.source;
  if (said === 'anyone') return null;
  if (Array.isArray(said)) {
    const prefixes = (said as readonly string[])
      .map(parsePrefix)
      .filter((p): p is Prefix => p !== null && p.family === address.family);
    if (prefixes.length > 0) return prefixes;
  }
  return [prefixOf(address, ADDRESS_LENGTH[address.family])];
}
