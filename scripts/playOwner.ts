/**
 * Plays the owner who answers over a folder of cases whose faults are known: how many questions it takes,
 * what is named in the end, and whether what is called likely is right as often as it is called so; beside it
 * what a fixed list of checks takes, and the fewest answers that would have been enough.
 *
 * `npm run bench:diagnosis -- FOLDER [--only c001,c002] [--all] [--lie 0.1] [--alone]`: the folder holds
 * `cases/NAME/case.json` with its evidence, `answers/NAME/answers.json` (`{ answers: [ { stop, yields,
 * vantage?, files | observations | cannot } ] }`) and `truth/NAME.json` (`{ healthy, worksNow, faults: [ {
 * id, stop, acceptIds, acceptStops } ] }`). `--lie 0.1` tells one try or symptom in ten wrongly; `--alone`
 * leaves the list and the bound out. `--made 200 [--from 1]` plays networks that the generator breaks instead
 * (`packages/core/src/testing/broken/`): also zone firewalls, host firewalls of other systems, clouds' lists.
 */
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { Calibration } from './playing/calibration.ts';
import { generatedCase, recordedCase, type KnownCase } from './playing/known.ts';
import {
  CERTAIN,
  enough,
  fits,
  minutesFor,
  Play,
  type Answer,
  type Diagnosis,
  type Lots,
  type Truth,
} from './playing/play.ts';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    only: { type: 'string' },
    all: { type: 'boolean', default: false },
    lie: { type: 'string', default: '0' },
    alone: { type: 'boolean', default: false },
    made: { type: 'string' },
    from: { type: 'string', default: '1' },
  },
});
const only = values.only?.split(',');
const cases = values.made === undefined ? recorded() : made(Number(values.made), Number(values.from));

/** Networks that the generator breaks: also of devices that no kernel can play. */
function made(count: number, from: number): KnownCase[] {
  return Array.from({ length: count }, (_, i) => generatedCase(from + i));
}

function recorded(): KnownCase[] {
  const folder = positionals[0] ?? '../shared/diagnosis-sample';
  if (!existsSync(join(folder, 'truth'))) {
    console.error(`${folder}: there are no cases with known faults (cases/, answers/, truth/)`);
    process.exit(2);
  }
  return readdirSync(join(folder, 'truth'))
    .map((f) => f.replace(/\.json$/, ''))
    .sort()
    .map((name) => recordedCase(folder, name));
}

const share = Number(values.lie);

/** The same lots for the same case, whatever else is played (mulberry32). */
function lotsOf(name: string): Lots {
  let state = [...name].reduce((n, c) => (Math.imul(n, 31) + c.charCodeAt(0)) >>> 0, 7);
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const median = (list: readonly number[]): number => {
  const sorted = [...list].sort((a, b) => a - b);
  const [low, high] = [sorted[(sorted.length - 1) >> 1] ?? NaN, sorted[sorted.length >> 1] ?? NaN];
  return (low + high) / 2;
};

const tally = new Calibration();
const figures = {
  right: 0,
  singles: 0,
  singlesRight: 0,
  pairs: 0,
  both: 0,
  sureWrong: 0,
  healthy: 0,
  calm: 0,
};
const product = { checks: [] as number[], minutes: [] as number[] };
const listed = { checks: [] as number[], minutes: [] as number[] };
/** The fewest answers, and the shortest ones, for one who knows the fault. */
const bound = { checks: [] as number[], minutes: [] as number[] };
const minutesOf = new Map<string, number>();

function played(known: KnownCase): { readonly play: Play; readonly last: Diagnosis } {
  const { name, truth } = known;
  const play = new Play(known, share > 0 ? { share, lots: lotsOf(name) } : null);
  const step = (d: Diagnosis): void => {
    const [top] = d.faults;
    for (const c of d.nextChecks) minutesOf.set(c.yields, c.minutes);
    if (top)
      tally.add(
        top.probability,
        truth.faults.some((t) => fits(top, t)),
      );
  };
  if (!values.all) return { play, last: play.ask(step) };
  play.takeAll();
  const last = play.work();
  step(last);
  return { play, last };
}

function judge(
  name: string,
  truth: Truth,
  { verdict, faults, alsoBroken }: Diagnosis,
  asked: readonly string[],
): void {
  const [top] = faults;
  const isRight = top !== undefined && truth.faults.some((t) => fits(top, t));
  const named = [...faults.slice(0, 3), ...alsoBroken];
  const isWhole = truth.faults.every((t) => named.some((f) => fits(f, t)));
  const isNamed = truth.faults.some((t) => verdict.fault !== null && t.acceptIds.includes(verdict.fault));
  if (verdict.sure && !isNamed && (verdict.fault !== null || !truth.worksNow)) figures.sureWrong++;
  if (isRight) figures.right++;
  if (truth.faults.length === 1) {
    figures.singles++;
    if (isRight) figures.singlesRight++;
  } else {
    figures.pairs++;
    if (isWhole) figures.both++;
  }
  if (!isRight || !isWhole)
    console.log(
      `${name}: ${truth.faults.map((f) => `${f.id}@${f.stop}`).join(' and ')}, named ` +
        `${faults.map((f) => f.id).join(', ') || 'nothing'} after ${asked.join(', ')}`,
    );
}

for (const known of cases.filter((k) => only === undefined || only.includes(k.name))) {
  const { name, truth } = known;
  const { play, last } = played(known);
  if (truth.healthy) {
    figures.healthy++;
    const isBlamed = last.verdict.sure && last.verdict.fault !== null;
    if (!isBlamed && (last.faults[0]?.probability ?? 0) < CERTAIN) figures.calm++;
    if (isBlamed) figures.sureWrong++;
    continue;
  }
  product.checks.push(play.checks);
  product.minutes.push(play.minutes);
  judge(name, truth, last, play.asked);
  if (values.alone || values.all || share > 0) continue;
  const minutes = (a: Answer): number => minutesFor(a, minutesOf);
  bound.checks.push(enough(known, play.answered).length);
  const longestFirst = [...play.answered].sort((a, b) => minutes(b) - minutes(a));
  bound.minutes.push(enough(known, longestFirst).reduce((sum, a) => sum + minutes(a), 0));
  const fixed = new Play(known);
  fixed.checklist(minutesOf);
  listed.checks.push(fixed.checks);
  listed.minutes.push(fixed.minutes);
}
const f = figures;
console.log(
  `right first ${f.right} of ${product.checks.length}; single ${f.singlesRight} of ${f.singles}\n` +
    `both of a pair ${f.both} of ${f.pairs}; healthy left in peace ${f.calm} of ${f.healthy}\n` +
    `sure and wrong ${f.sureWrong}; checks: median ${median(product.checks)}; minutes: median ` +
    `${median(product.minutes)}`,
);
if (bound.checks.length > 0)
  console.log(
    `a fixed list of checks: median ${median(listed.checks)}; minutes: median ${median(listed.minutes)}\n` +
      `enough for one who knows the fault: median ${median(bound.checks)}; minutes: median ` +
      `${median(bound.minutes)}`,
  );
console.log(
  ['how likely the first fault was called, and how often that was right:', ...tally.lines()].join('\n'),
);
process.exitCode = figures.sureWrong > 0 ? 1 : 0;
