/**
 * Plays the owner who answers over a folder of cases whose faults are known: how many questions it takes,
 * what is named in the end, and whether what is called likely is right as often as it is called so.
 *
 * `npm run bench:diagnosis -- FOLDER [--only c001,c002] [--all]`; the folder holds `cases/NAME/case.json`
 * with its evidence, `answers/NAME/answers.json` (`{ answers: [ { stop, yields, vantage?, files |
 * observations | cannot } ] }`) and `truth/NAME.json` (`{ healthy, worksNow, faults: [ { id, stop, acceptIds,
 * acceptStops } ] }`).
 */
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { basename, join, relative } from 'node:path';
import { checkCaseDocument } from '../packages/core/src/case/index.ts';
import { readCase } from '../packages/core/src/ledger/index.ts';
import { diagnosis } from '../packages/core/src/views/index.ts';

interface Answer {
  readonly stop: string;
  readonly yields: string;
  readonly vantage?: string;
  readonly files?: readonly string[];
  readonly observations?: readonly object[];
  readonly observation?: object;
  readonly cannot?: boolean;
}
interface KnownFault {
  readonly id: string;
  readonly stop: string;
  readonly acceptIds: readonly string[];
  readonly acceptStops: readonly string[] | null;
}
interface Truth {
  readonly healthy: boolean;
  readonly worksNow?: boolean;
  readonly faults: readonly KnownFault[];
}
interface Draft {
  evidence: { stop: string; file: string; asked?: string }[];
  observations: object[];
  declined: string[];
  [key: string]: unknown;
}
type Diagnosis = ReturnType<typeof diagnosis>;
type Named = Pick<Diagnosis['faults'][number], 'id' | 'stop'>;

interface Played {
  readonly name: string;
  readonly checks: number;
  readonly minutes: number;
  readonly asked: readonly string[];
  readonly last: Diagnosis;
}

/** From here on a fault counts as found, and nothing more is asked. */
const CERTAIN = 0.95;
const MOST_CHECKS = 12;

const read = <T>(path: string): T => JSON.parse(readFileSync(path, 'utf8')) as T;
const filesIn = (dir: string): string[] =>
  existsSync(dir)
    ? readdirSync(dir).flatMap((f) =>
        statSync(join(dir, f)).isDirectory() ? filesIn(join(dir, f)) : [join(dir, f)],
      )
    : [];
const fits = (found: Named, fault: KnownFault): boolean =>
  fault.acceptIds.includes(found.id) &&
  (fault.acceptStops === null || fault.acceptStops.includes(found.stop));

/** How often a fault that was called so likely was right, by tenths. */
class Calibration {
  readonly #said = new Map<number, { right: number; all: number }>();

  add(probability: number, isRight: boolean): void {
    const tenth = Math.min(9, Math.floor(probability * 10));
    const row = this.#said.get(tenth) ?? { right: 0, all: 0 };
    this.#said.set(tenth, { right: row.right + (isRight ? 1 : 0), all: row.all + 1 });
  }

  lines(): string[] {
    return [...this.#said]
      .sort(([a], [b]) => b - a)
      .map(
        ([t, r]) =>
          `${t * 10}–${t * 10 + 10} %  said ${String(r.all).padStart(4)}  right ` +
          `${((100 * r.right) / r.all).toFixed(0).padStart(3)} %`,
      );
  }
}

/** One case, from its first paste to the end of the questions. */
class Play {
  readonly #folder: string;
  readonly #name: string;
  readonly #draft: Draft;
  readonly #files: Map<string, Uint8Array>;
  readonly #answers: readonly Answer[];
  readonly #given = new Set<string>();
  readonly asked: string[] = [];
  checks = 0;
  minutes = 0;

  constructor(folder: string, name: string) {
    this.#folder = folder;
    this.#name = name;
    const own = join(folder, 'cases', name);
    this.#draft = { ...read<Draft>(join(own, 'case.json')) };
    this.#draft.evidence = [...(this.#draft.evidence ?? [])];
    this.#draft.observations = [...(this.#draft.observations ?? [])];
    this.#draft.declined = [...(this.#draft.declined ?? [])];
    this.#files = new Map(
      filesIn(join(own, 'evidence')).map((f) => [relative(own, f), new Uint8Array(readFileSync(f))]),
    );
    this.#answers = read<{ answers: Answer[] }>(join(folder, 'answers', name, 'answers.json')).answers;
  }

  work(): Diagnosis {
    const document = checkCaseDocument(JSON.parse(JSON.stringify(this.#draft)));
    return diagnosis(readCase({ document, files: this.#files }));
  }

  takeAll(): void {
    for (const a of this.#answers) if (!a.cannot) this.#put(a, `${a.stop}/${a.yields}`);
  }

  /** Asks the first of the checks that was not declined; false: there is none. */
  ask(checks: Diagnosis['nextChecks']): boolean {
    const check = checks.find((c) => !this.#draft.declined.includes(c.id));
    if (!check) return false;
    const answer = this.#answers.find((a) =>
      check.yields === 'dial'
        ? a.yields === 'dial' && a.vantage === check.vantage
        : a.yields === check.yields && (a.stop === check.stop || check.yields === 'name'),
    );
    const key = answer && `${answer.stop} ${answer.yields} ${answer.vantage ?? ''}`;
    const isNew = answer !== undefined && key !== undefined && !answer.cannot && !this.#given.has(key);
    this.asked.push(`${check.id}${isNew ? '' : ' (cannot)'}`);
    this.checks += isNew ? 1 : 0.5;
    if (!isNew) this.#draft.declined.push(check.id);
    else {
      this.#given.add(key);
      this.minutes += check.minutes;
      this.#put(answer, check.id);
    }
    return true;
  }

  #put(answer: Answer, asked: string): void {
    for (const f of answer.files ?? []) {
      const bytes = new Uint8Array(readFileSync(join(this.#folder, 'answers', this.#name, f)));
      let file = `evidence/${answer.stop}/${basename(f)}`;
      const had = this.#files.get(file);
      if (had && Buffer.compare(had, bytes) === 0) continue;
      if (had) file = `evidence/${answer.stop}/${answer.yields}-${basename(f)}`;
      this.#files.set(file, bytes);
      this.#draft.evidence.push({ stop: answer.stop, file, asked });
    }
    this.#draft.observations.push(
      ...(answer.observations ?? []),
      ...(answer.observation ? [answer.observation] : []),
    );
  }
}

function played(folder: string, name: string, isAll: boolean, truth: Truth, tally: Calibration): Played {
  const play = new Play(folder, name);
  if (isAll) play.takeAll();
  for (;;) {
    const last = play.work();
    const [top] = last.faults;
    if (top)
      tally.add(
        top.probability,
        truth.faults.some((t) => fits(top, t)),
      );
    const isDone = isAll || last.verdict.sure || (top?.probability ?? 0) >= CERTAIN;
    if (isDone || play.checks >= MOST_CHECKS || !play.ask(last.nextChecks))
      return { name, checks: play.checks, minutes: play.minutes, asked: play.asked, last };
  }
}

const median = (list: readonly number[]): number => {
  const sorted = [...list].sort((a, b) => a - b);
  const [low, high] = [sorted[(sorted.length - 1) >> 1] ?? NaN, sorted[sorted.length >> 1] ?? NaN];
  return (low + high) / 2;
};

const args = process.argv.slice(2);
const folder =
  args.find((a, i) => !a.startsWith('--') && args[i - 1] !== '--only') ?? '../shared/diagnosis-sample';
const only = args[args.indexOf('--only') + 1]?.split(',');
if (!existsSync(join(folder, 'truth'))) {
  console.error(`${folder}: there are no cases with known faults (cases/, answers/, truth/)`);
  process.exit(2);
}
const names = readdirSync(join(folder, 'truth'))
  .map((f) => f.replace(/\.json$/, ''))
  .filter((n) => !args.includes('--only') || only?.includes(n))
  .sort();
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
const checks: number[] = [];
const minutes: number[] = [];
for (const name of names) {
  const truth = read<Truth>(join(folder, 'truth', `${name}.json`));
  const end = played(folder, name, args.includes('--all'), truth, tally);
  const { verdict, faults, alsoBroken } = end.last;
  const [top] = faults;
  if (truth.healthy) {
    figures.healthy++;
    const isBlamed = verdict.sure && verdict.fault !== null;
    if (!isBlamed && (top?.probability ?? 0) < CERTAIN) figures.calm++;
    if (isBlamed) figures.sureWrong++;
    continue;
  }
  checks.push(end.checks);
  minutes.push(end.minutes);
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
        `${faults.map((f) => f.id).join(', ') || 'nothing'} after ${end.asked.join(', ')}`,
    );
}
console.log(
  `right first ${figures.right} of ${checks.length}; single ${figures.singlesRight} of ${figures.singles}`,
);
console.log(
  `both of a pair ${figures.both} of ${figures.pairs}; healthy left in peace ${figures.calm} of ${figures.healthy}`,
);
console.log(
  `sure and wrong ${figures.sureWrong}; checks: median ${median(checks)}; minutes: median ${median(minutes)}`,
);
console.log(
  ['how likely the first fault was called, and how often that was right:', ...tally.lines()].join('\n'),
);
process.exitCode = figures.sureWrong > 0 ? 1 : 0;
