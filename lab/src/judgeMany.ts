import { endingText, needLine } from '@bright-ferry/core/words';
import { judge, type Comparison, type Judged } from './judge.ts';
import { random } from './random.ts';
import { randomSite, type LabSite } from './sites.ts';

/** Sites that are judged at the same time; each waits most of its time. */
const AT_ONCE = 6;

export interface JudgedSite extends Judged {
  readonly site: LabSite;
  readonly index: number;
}

/** Sites `first` … `first + sites - 1` of a seed. */
export const randomSites = (sites: number, seed: number, first = 0): LabSite[] =>
  Array.from({ length: sites }, (_, i) => randomSite(random(seed + first + i), first + i));

/** Judges sites, a few at a time; `onSite` hears of each as it is done. */
export async function judgeMany(
  sites: readonly LabSite[],
  onSite: (s: JudgedSite) => void = () => undefined,
): Promise<JudgedSite[]> {
  const waiting = [...sites.entries()];
  const out: JudgedSite[] = [];
  await Promise.all(
    Array.from({ length: AT_ONCE }, async (_, lane) => {
      for (let next = waiting.shift(); next !== undefined; next = waiting.shift()) {
        const [index, site] = next;
        const judged = { ...(await judgeUntilSure(site, `n${lane}`)), site, index };
        out.push(judged);
        onSite(judged);
      }
    }),
  );
  return out;
}

/** A network is made anew so often at most. */
const TRIES = 3;

/**
 * Judges a site, and where the two differ again on a network made anew: the core says the same of a packet
 * each time, so one that does not differ every time met a computer that was too busy to deliver in time.
 */
async function judgeUntilSure(site: LabSite, label: string): Promise<Judged> {
  let judged = await judge(site, label);
  for (let n = 1; n < TRIES && judged.comparisons.some((c) => !c.agrees); n++) {
    const agreed = new Set(judged.comparisons.filter((c) => c.agrees).map((c) => c.packet));
    const before = new Map(judged.comparisons.map((c) => [c.packet, c]));
    const again = await judge(site, `${label}again${n}`);
    judged = {
      ...again,
      comparisons: again.comparisons.map((c) => (agreed.has(c.packet) ? (before.get(c.packet) ?? c) : c)),
    };
  }
  return judged;
}

/** One disagreement in one line. */
export const describeDifference = (title: string, c: Comparison): string =>
  `${title}: ${c.packet.from} → ${c.packet.to}: the kernel ` +
  `${c.truth.outcome}${c.truth.errno ? ` (${c.truth.errno})` : ''}` +
  `${c.truth.seen ? ` ${JSON.stringify(c.truth.seen)}` : ''}, ` +
  `the core ${c.trace.outcome} at ${c.trace.stop} ` +
  `(${endingText(c.trace.shown.ending, c.trace.stop, (id) => id ?? '')}; ` +
  `${c.trace.needs.map((q) => needLine(q.need, (id) => id ?? '')).join('; ')})`;
