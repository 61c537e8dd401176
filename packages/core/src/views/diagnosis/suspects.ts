import type { AskKind } from '../../asks/index.ts';
import { FAULTS, type FaultId } from '../../faults/index.ts';
import { type CaseFacts } from '../../ledger/index.ts';
import type { Mend, MendStep } from '../../mend/index.ts';
import type { FoundFault } from './foundFault.ts';

/** How likely a fault is that is there if all that nobody told of is as it should be. */
export const SUSPECTED = 0.8;

/** The same where it hangs on an address that nobody has shown: more often that is what differs. */
export const BY_GUESS = 0.25;

/** How likely one is at a stop of which everything was listed. */
const FOUND = 0.97;

/**
 * A fault at a stop of which everything is known is there, whatever else may be wrong as well; where it rests
 * on an address that was only taken to be so, it is likely.
 */
export function likelyAt({ files, document }: CaseFacts, step: MendStep | undefined): number {
  const mend = step?.mend;
  if (!mend) return SUSPECTED;
  const role = document.path.find((s) => s.id === mend.stop)?.role;
  // Who is let in by a row does not hang on the address that it is reached by.
  if (role === 'edge' && mend.fault !== 'edge-no-address') return FOUND;
  const isOfTarget = /^fwd-(?:target|shadowed)/.test(mend.fault);
  // A target is right or wrong by the addresses of the machine that stands behind.
  const next = document.path.filter((s) => s.role === 'gateway' || s.role === 'host');
  const behind = next[next.findIndex((s) => s.id === mend.stop) + 1]?.id;
  const rests = restsOn(step, mend, role);
  const assumed = files.filter((f) => f.file.startsWith('assumed/'));
  const isGuess = assumed.some(
    (f) =>
      (role === 'client' || (isOfTarget && f.stop === behind)) && f.facts.some((x) => ADDRESSES.has(x.kind)),
  );
  if (isGuess) return role === 'client' ? SUSPECTED : BY_GUESS;
  const isAssumed = assumed.some(
    (f) =>
      f.stop === mend.stop &&
      f.facts.some((x) => x.kind !== 'setting' && (rests === null || rests.has(x.kind))),
  );
  return isAssumed ? SUSPECTED : FOUND;
}

/** What its fault rests on; null: all that is known of the stop. */
function restsOn({ trace }: MendStep, { fault }: Mend, role: string | undefined): ReadonlySet<string> | null {
  if (BY_OWN_ADDRESS.has(fault)) return null;
  const { ending } = trace.shown;
  // What a server passes on (to its containers) goes by its routes.
  const isPassedOn = (ending.kind === 'rule' || ending.kind === 'policy') && ending.hook === 'forward';
  if (role === 'host' && isPassedOn) return PASSED_ON;
  return RESTS_ON[FAULTS[fault].shownBy ?? 'dial'] ?? null;
}

const PASSED_ON: ReadonlySet<string> = new Set(['nft', 'route']);

/** Facts of the stop itself that a fault rests on, by what shows it; missing: all of them. */
const RESTS_ON: Readonly<Partial<Record<AskKind, ReadonlySet<string>>>> = {
  rules: new Set(['nft']),
  sockets: new Set(['socket']),
  routes: new Set(['route']),
  forwards: new Set(['forward']),
};

/** A listener that is bound to an address is wrong only if that is not the machine's. */
const BY_OWN_ADDRESS: ReadonlySet<FaultId> = new Set([
  'listen-address',
  'listen-family',
  'host-wrong-gateway',
]);

const ADDRESSES: ReadonlySet<string> = new Set(['labelled', 'name', 'address']);

/** No more suspects than these are named. */
export const MOST_SUSPECTS = 5;

/** Each fault once, in its order; together no likelier than certainty. */
export function weighed(list: readonly FoundFault[]): FoundFault[] {
  const once = list.filter((f, i) => list.findIndex((o) => o.id === f.id && o.stop === f.stop) === i);
  let rest = 1;
  return once.map((f) => {
    const probability = Math.min(f.probability, rest);
    rest -= probability;
    return { ...f, probability };
  });
}
