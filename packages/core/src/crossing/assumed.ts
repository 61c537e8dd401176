import { sameAddress, type Address, type Header } from '../net/index.ts';
import { PRESUMED_OPEN, type Program, type Rule } from '../rules/index.ts';
import type { Machine, Site } from '../site/index.ts';
import type { Leg, Run } from './types.ts';

/** What a verdict takes for granted because nobody ever measures it; an observation may speak against it. */
export type Assumption =
  /** The client's own machine lets its call out and the answer in. */
  | { readonly assumed: 'client-machine'; readonly stop: string }
  /** The carrier and the routers beyond it pass the port. */
  | { readonly assumed: 'carriers'; readonly stop: string; readonly packet: Header }
  /** What the front end of a packet filter does not show filters nothing. */
  | { readonly assumed: 'only-front-end'; readonly stop: string; readonly program: 'ufw' | 'firewalld' }
  /** A firewall with zones drops what no rule of its page names. */
  | { readonly assumed: 'rest-is-dropped'; readonly stop: string }
  /** A next hop that is no stop of the case is somebody else's working router. */
  | { readonly assumed: 'next-hop'; readonly stop: string; readonly address: Address };

/** The front end whose listing is all that is known of a machine's packet filter. */
const frontEndOf = (machine: Machine, family: 4 | 6): 'ufw' | 'firewalld' | null => {
  const origin = machine.program[family]?.baseChains[0]?.chain.origin.program;
  return origin === 'ufw' || origin === 'firewalld' ? origin : null;
};

/** The assumptions that a run rests on, in the order of its way. */
export function assumptionsOf(site: Site, run: Run, packet: Header): Assumption[] {
  const { family } = packet.destination.address;
  const machines = new Map(site.machines.map((m) => [m.id, m]));
  const out: Assumption[] = [];
  const seen = new Set<string>();
  const add = (key: string, assumption: Assumption): void => {
    if (!seen.has(key)) out.push(assumption);
    seen.add(key);
  };
  for (const leg of run.legs) {
    const machine = machines.get(leg.stop);
    if (!machine) continue;
    const program = machine.program[family];
    const isOpen = machine.presumed.kind === 'bare' || program === null || program === PRESUMED_OPEN;
    if (machine.role === 'client' && isOpen)
      add('client-machine', { assumed: 'client-machine', stop: leg.stop });
    if (leg.stop === site.internet && isOpen)
      add('carriers', { assumed: 'carriers', stop: leg.stop, packet });
    const frontEnd = frontEndOf(machine, family);
    if (frontEnd)
      add(`front-end ${leg.stop}`, { assumed: 'only-front-end', stop: leg.stop, program: frontEnd });
    for (const address of strangersOf(site, machine, leg))
      add(`next-hop ${address.bits}`, { assumed: 'next-hop', stop: leg.stop, address });
  }
  const { ending, stop } = run;
  if (
    ending.kind === 'rule' &&
    stop !== null &&
    isPresumedEnd(machines.get(stop)?.program[family], ending.rule)
  )
    add('rest', { assumed: 'rest-is-dropped', stop });
  return out;
}

const isPresumedEnd = (program: Program | null | undefined, { id }: Rule): boolean =>
  program?.chains.some(
    ({ origin, rules }) =>
      origin.program === 'device' && origin.end === 'presumed' && rules[rules.length - 1]?.id === id,
  ) ?? false;

/** Next hops that no machine of the case holds. */
const strangersOf = (site: Site, machine: Machine, leg: Leg): Address[] =>
  machine.presumed.kind === 'bare' || leg.out === null
    ? []
    : leg.events.flatMap((e) =>
        e.event === 'routed' && e.via !== null && !isHeld(site, e.via) ? [e.via] : [],
      );

const isHeld = (site: Site, address: Address): boolean =>
  site.machines.some((m) =>
    m.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, address))),
  );
