import { type Ending, type Trace, trace } from '../crossing/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import { dialMend, sharedMend } from './dial.ts';
import { filterMend } from './filter.ts';
import { missingForward } from './forward.ts';
import { strayForward } from './strayForward.ts';
import { hairpinMend } from './hairpin.ts';
import { leaseMend } from './lease.ts';
import { insidePortMend } from './insidePort.ts';
import { linkMend, linkTo } from './link.ts';
import { listenerMend } from './listener.ts';
import { gatewayMend, settingMend } from './setting.ts';
import type { Mend } from './mend.ts';
import { endMachine, type MendContext } from './context.ts';
import { zoneMend } from './zones.ts';
import type { Scene } from './scene.ts';

/** The change that would let the packet past the place where it ends; null where none is known. */
export function proposeMend(facts: CaseFacts, scene: Scene, result: Trace): Mend | null {
  const c: MendContext = { facts, scene, trace: result, run: result.shown };
  const { ending } = c.run;
  const machine = endMachine(c);
  switch (ending.kind) {
    case 'left-by-tunnel':
      return leaseMend(c);
    case 'elsewhere':
    case 'not-routed':
      return dialMend(c, ending.address) ?? linkTo(c, ending.address);
    case 'shared-address':
      return sharedMend(c, ending.address, ending.gateway);
    case 'astray':
      return leaseMend(c) ?? linkTo(c, ending.address) ?? strayForward(c);
    case 'nobody-there':
      if (ending.unlinked) return linkMend(c, ending.unlinked);
      return c.run.direction === 'forward' ? strayForward(c) : null;
    case 'rule':
    case 'policy':
      return (
        leaseMend(c) ??
        insidePortMend(c) ??
        hairpinMend(c) ??
        zoneMend(c) ??
        silencedMend(c) ??
        filteredMend(c, ending)
      );
    case 'closed-port':
      return machine?.role === 'gateway'
        ? (hairpinMend(c) ?? missingForward(c) ?? listenerMend(c, ending))
        : (leaseMend(c) ?? insidePortMend(c) ?? listenerMend(c, ending));
    case 'forwarding-off':
    case 'reverse-path':
      return settingMend(c, ending);
    case 'link-down':
      return c.run.stop === null ? null : linkMend(c, { stop: c.run.stop, interface: ending.interface });
    case 'no-route':
      return linkTo(c, ending.destination) ?? (c.run.direction === 'reply' ? gatewayMend(c) : null);
    case 'not-expected':
      return hairpinMend(c);
    case 'listener':
    case 'translation-impossible':
    case 'special-route':
    case 'martian':
    case 'loop':
    case 'not-known':
      return null;
  }
}

type Filtered = Extract<Ending, { kind: 'rule' | 'policy' }>;

/** A filter that holds back a closed port’s reset makes it silent: nothing listens there, that is wrong. */
function silencedMend(c: MendContext): Mend | null {
  const closed = c.run.legs
    .filter((l) => l.stop === c.run.stop)
    .flatMap((l) => l.events.flatMap((e) => (e.event === 'ended' ? [e.ending] : [])))
    .find((e) => e.kind === 'closed-port');
  return c.run.direction === 'reply' && closed?.kind === 'closed-port'
    ? (insidePortMend(c, 'reply') ?? listenerMend(c, closed))
    : null;
}

const filteredMend = (c: MendContext, ending: Filtered): Mend | null =>
  ending.hook === 'input' && endMachine(c)?.role === 'gateway'
    ? (missingForward(c) ?? filterMend(c, ending))
    : filterMend(c, ending);

/** One step on the way to a working crossing: how it ends now, and what mends that. */
export interface MendStep {
  readonly scene: Scene;
  readonly trace: Trace;
  readonly mend: Mend | null;
}

/** More faults in a row than this are not followed. */
const MOST_FAULTS = 6;

/** The steps by another way of the first mend. */
export function otherSteps(facts: CaseFacts, [first]: readonly MendStep[], or: Mend): MendStep[] {
  if (!first) return [];
  return [{ ...first, mend: or }, ...(or.apply ? mendChain(facts, or.apply(first.scene)) : [])];
}

/**
 * Mends fault after fault on copies until the packet is answered, or nothing more is known to mend. The first
 * step is the case as it is; every further one starts from the copy that the mend before left.
 */
export function mendChain(facts: CaseFacts, scene: Scene): MendStep[] {
  const steps: MendStep[] = [];
  for (let current = scene; steps.length < MOST_FAULTS;) {
    const result = trace(current.site, current.packet);
    const mend = result.outcome === 'answered' ? null : proposeMend(facts, current, result);
    const repeated =
      mend !== null && steps.some((s) => s.mend?.fault === mend.fault && s.mend.stop === mend.stop);
    steps.push({ scene: current, trace: result, mend: repeated ? null : mend });
    if (!mend?.apply || repeated) break;
    current = mend.apply(current);
  }
  return steps;
}
