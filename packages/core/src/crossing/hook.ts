import {
  hookPlan,
  TRACKING_PRIORITY,
  TRANSLATION_PRIORITY,
  type BaseChain,
  type Hook,
} from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import type { Mover, TranslationSide } from './mover.ts';

type TranslatingHook = Exclude<Hook, 'forward'>;

const SIDE: Readonly<Record<TranslatingHook, TranslationSide>> = {
  prerouting: 'destination',
  output: 'destination',
  postrouting: 'source',
  input: 'source',
};

const FILTERING: ReadonlySet<Hook> = new Set<Hook>(['input', 'forward', 'output']);
const TRACKING: ReadonlySet<Hook> = new Set<Hook>(['prerouting', 'output']);

/** All chains of a hook, with tracking and translation at their places. What comes back has passed. */
export function throughHook<P>(hook: Hook, machine: Machine, p: P, mover: Mover<P>): readonly P[] {
  const program = machine.program[mover.familyOf(p)];
  if (!program) return withoutRules(hook, machine, p, mover);
  const plan = hookPlan(program, hook, mover.familyOf(p));
  let current: readonly P[] = [p];
  let tracked = !TRACKING.has(hook);
  let due = hook === 'forward' ? null : hook;
  const catchUp = (priority: number): void => {
    if (!tracked && priority >= TRACKING_PRIORITY) {
      tracked = true;
      current = current.map((part) => mover.track(machine, part));
    }
    if (due !== null && priority >= TRANSLATION_PRIORITY[due]) {
      const at = due;
      due = null;
      current = current.flatMap((part) => throughTranslations(at, plan.translations, machine, part, mover));
    }
  };
  for (const base of plan.filters) {
    catchUp(base.priority);
    current = current.flatMap((part) => mover.chain(hook, machine, base, part));
    if (current.length === 0) return current;
  }
  catchUp(Infinity);
  return current;
}

function withoutRules<P>(hook: Hook, machine: Machine, p: P, mover: Mover<P>): readonly P[] {
  const tracked = TRACKING.has(hook) ? mover.track(machine, p) : p;
  const seen = hook === 'forward' ? tracked : mover.rewrite(machine, tracked, SIDE[hook]);
  return FILTERING.has(hook) ? mover.unknownRules(hook, machine, seen) : [seen];
}

/**
 * Translation chains see only the first packet of a session, and only until one of them has translated; then
 * the packet is rewritten from its session. An ICMP error is rewritten with the packet that it quotes.
 */
function throughTranslations<P>(
  hook: TranslatingHook,
  chains: readonly BaseChain[],
  machine: Machine,
  p: P,
  mover: Mover<P>,
): readonly P[] {
  const side = SIDE[hook];
  if (!mover.isTranslated(p, side)) return [mover.rewrite(machine, p, side)];
  const done: P[] = [];
  let open: readonly P[] = [p];
  for (const base of chains) {
    const after = open.flatMap((part) => mover.chain(hook, machine, base, part));
    for (const part of after) if (!mover.isTranslated(part, side)) done.push(part);
    open = after.filter((part) => mover.isTranslated(part, side));
    if (open.length === 0) break;
  }
  const closed = open.map((part) => mover.closeTranslation(part, side));
  return [...done, ...closed].map((part) => mover.rewrite(machine, part, side));
}
