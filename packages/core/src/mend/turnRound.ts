import { visitsOf, type Leg } from '../crossing/index.ts';
import { writeFirstRule, writeRule, type RuleWish, type Written } from '../devices/index.ts';
import {
  prefixContains,
  prefixOf,
  sameAddress,
  type Endpoint,
  type Family,
  type Prefix,
} from '../net/index.ts';
import type { BaseChain, Program, Rule, TranslationTarget } from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import { chainOf, endMachine, type MendContext } from './context.ts';
import { filterOf, withNewBase } from './forward.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';
import { withProgram, withRule, type Scene } from './scene.ts';
import { stepsOf } from './steps.ts';
import { onlyMismatch } from './translation.ts';

/** An inside caller at an outside address of a packet filter's gateway. */
export interface Turn {
  readonly machine: Machine;
  readonly dialled: Endpoint;
  /** Where the service is. */
  readonly to: Endpoint;
  /** The caller's own network. */
  readonly from: Prefix;
  /** Its rule translates the caller already, and the answer goes past it. */
  readonly isTranslated: boolean;
  /** The rule that leads callers from outside there. */
  readonly rule: Rule | null;
}

/**
 * A gateway's rules lead what is dialled to the server for callers from outside: for an inside one they are
 * bound to the line outward, or the answer goes straight back and is not what the caller asked (RFC 4787 §6).
 * null: it is none of that.
 */
export function turnOf(c: MendContext): Turn | null {
  const { ending } = c.run;
  for (const leg of c.run.legs) {
    const machine = c.scene.site.machines.find((m) => m.id === leg.stop);
    const from = machine && leg.lane === 'forward' ? networkOf(machine, leg) : null;
    if (machine?.role !== 'gateway' || !from) continue;
    const dialled = leg.before.destination;
    const own = machine.interfaces?.some((i) =>
      i.addresses.some((a) => sameAddress(a.address, dialled.address)),
    );
    if (!own) continue;
    const turned = leg.events.find((e) => e.event === 'translated' && e.side === 'destination');
    const common = { machine, dialled, from };
    if (turned?.event === 'translated')
      return ending.kind === 'not-expected'
        ? { ...common, to: turned.to, isTranslated: true, rule: turned.rule }
        : null;
    const bound = endMachine(c) === machine ? boundOutward(leg) : null;
    // The rows of a router's page say themselves where they lead.
    if (!bound || chainOf(c, machine.id, bound)?.origin.program === 'device') return null;
    const to = targetOf(bound, dialled);
    return to && { ...common, to, isTranslated: false, rule: bound };
  }
  return null;
}

/** The network of an inside interface that the caller is in; null: it came from elsewhere. */
function networkOf({ interfaces, routes }: Machine, leg: Leg): Prefix | null {
  const { address } = leg.before.source;
  const outward = routes[address.family]?.find((r) => r.destination.length === 0)?.hops[0]?.device;
  if (outward === undefined || outward === null || leg.in === null || leg.in === outward) return null;
  const nets = interfaces
    ?.find((i) => i.name === leg.in)
    ?.addresses.map((a) => prefixOf(a.address, a.prefixLength));
  return nets?.find((net) => prefixContains(net, address)) ?? null;
}

/** A translation that takes the packet but for the line that it is bound to. */
function boundOutward(leg: Leg): Rule | null {
  for (const { hook, visit } of visitsOf(leg))
    if (hook === 'prerouting' && !visit.hit && onlyMismatch(visit.rule, leg.before, leg.in) === 'line')
      return visit.rule;
  return null;
}

function targetOf({ steps }: Rule, dialled: Endpoint): Endpoint | null {
  const step = steps.find((s) => s.do === 'translate' && s.side === 'destination');
  const target = step?.do === 'translate' ? step.target : null;
  if (!target || !('addresses' in target) || !target.addresses) return null;
  return { address: target.addresses.first, port: portOf(target.ports, dialled.port) };
}

/** Ports of a range keep their distance from its base; without one, what is inside is kept. */
function portOf(ports: TranslationTarget['ports'], dialled: number): number {
  if (!ports) return dialled;
  const { first, last, base } = ports;
  if (base !== null) return first + dialled - base;
  return dialled >= first && dialled <= last ? dialled : first;
}

/** The rules that turn it round: the translation, and behind it the gateway's own address as the caller. */
export function turnMend(c: MendContext, turn: Turn): Mend | null {
  const { machine, dialled, to, from, isTranslated, rule } = turn;
  const { transport } = c.scene.packet;
  const { family } = dialled.address;
  const program = machine.program[family];
  if (!program) return null;
  const common = { family, transport, peers: [from], side: 'question' } as const;
  const wishes: readonly RuleWish[] = [
    ...(isTranslated
      ? []
      : [
          {
            ...common,
            destination: dialled.address,
            port: dialled.port,
            then: {
              do: 'translate',
              to: to.address,
              ...(to.port === dialled.port ? {} : { port: to.port }),
            },
          } as const,
        ]),
    // Where the server is in the caller's own network its answer would not come past the gateway.
    ...(prefixContains(from, to.address)
      ? [{ ...common, destination: to.address, port: to.port, then: { do: 'masquerade' } } as const]
      : []),
  ];
  const made = wishes.map((wish) => madeOf(program, family, wish));
  const written = made.flatMap((m) => m.written ?? []);
  if (written.length < made.length || made.length === 0) return null;
  return {
    fault: 'hairpin-missing',
    stop: machine.id,
    finding: {
      found: 'turn-round',
      served: servedBy(c),
      dialled: dialled.address,
      to,
      from,
      rules: written.map((w) => w.text),
      written: {
        commands: written.flatMap((w) => w.commands),
        undo: written.toReversed().flatMap((w) => w.undo),
      },
    },
    evidence: rule?.source ? [rule.source] : [],
    apply: (scene) => made.reduce((after: Scene, m) => m.apply(after, machine.id), scene),
  };
}

interface Made {
  readonly written: Written | null;
  readonly apply: (scene: Scene, stop: string) => Scene;
}

/** One rule at the head of the translations of its hook. */
function madeOf(program: Program, family: Family, wish: RuleWish): Made {
  const hook = wish.then.do === 'masquerade' ? 'postrouting' : 'prerouting';
  const isOwn = (b: BaseChain): boolean => b.hook === hook && b.type === 'nat' && b.families.includes(family);
  const chain = program.baseChains.find(isOwn)?.chain ?? null;
  const above = chain?.rules[0] ?? null;
  const written = chain ? writeRule(wish, { chain, above }) : writeFirstRule(wish, filterOf(program));
  const id = `mend/turn/${hook}/${wish.transport}/${wish.port}`;
  const rule: Rule = { id, text: written?.text ?? id, source: null, steps: stepsOf(wish) };
  return {
    written,
    apply: (scene, stop) =>
      withProgram(scene, stop, family, (p) =>
        chain ? withRule(p, chain.id, rule, above?.id ?? null) : withNewBase(p, rule, family, hook),
      ),
  };
}
