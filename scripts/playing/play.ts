/** One case of a folder, and the owner who answers what is asked. */
import { checkCaseDocument } from '../../packages/core/src/case/index.ts';
import { readCase } from '../../packages/core/src/ledger/index.ts';
import { diagnosis } from '../../packages/core/src/views/index.ts';

export interface Answer {
  readonly stop: string;
  readonly yields: string;
  readonly vantage?: string;
  /** Listings by their file names; read when they are asked for. */
  readonly texts?: Readonly<Record<string, () => Uint8Array>>;
  readonly observations?: readonly Try[];
  readonly cannot?: boolean;
}
/** A case as it comes in, and what its owner knows. */
export interface Known {
  readonly document: object;
  /** Evidence that comes with it, by path. */
  readonly files: ReadonlyMap<string, Uint8Array>;
  readonly answers: readonly Answer[];
}
interface Try {
  readonly outcome: string;
}
interface KnownFault {
  readonly id: string;
  readonly stop: string;
  readonly acceptIds: readonly string[];
  readonly acceptStops: readonly string[] | null;
}
export interface Truth {
  readonly healthy: boolean;
  readonly worksNow?: boolean;
  readonly faults: readonly KnownFault[];
}
interface Draft {
  client: { symptom?: string };
  evidence: { stop: string; file: string; asked?: string }[];
  observations: object[];
  declined: string[];
  [key: string]: unknown;
}
export type Diagnosis = ReturnType<typeof diagnosis>;
type Named = Pick<Diagnosis['faults'][number], 'id' | 'stop'>;

/** A draw of lots: 0 ≤ n < 1. */
export type Lots = () => number;

/** From here on a fault counts as found, and nothing more is asked. */
export const CERTAIN = 0.95;
const MOST_CHECKS = 12;
/** Where nobody has said how long an answer takes. */
const USUAL_MINUTES = 3;

export const fits = (found: Named, fault: KnownFault): boolean =>
  fault.acceptIds.includes(found.id) &&
  (fault.acceptStops === null || fault.acceptStops.includes(found.stop));

export const isDone = ({ verdict, faults }: Diagnosis): boolean =>
  verdict.sure || (faults[0]?.probability ?? 0) >= CERTAIN;

/** How long an answer takes, by what the tool says of its like. */
export const minutesFor = ({ yields }: Answer, minutesOf: ReadonlyMap<string, number>): number =>
  minutesOf.get(yields) ?? USUAL_MINUTES;

/** How a technician without the tool goes through a case: what is dialled, then place by place. */
const CHECKLIST = [
  'name',
  'status',
  'forwards',
  'allow-list',
  'addresses',
  'sockets',
  'rules',
  'routes',
  'dial',
];

/** One case, from its first paste to the end of the questions. */
export class Play {
  readonly #draft: Draft;
  readonly #files: Map<string, Uint8Array>;
  readonly #answers: readonly Answer[];
  readonly #lies: { readonly share: number; readonly lots: Lots } | null;
  readonly #given = new Set<string>();
  /** What was answered, in its order. */
  readonly answered: Answer[] = [];
  readonly asked: string[] = [];
  checks = 0;
  minutes = 0;

  /** @param lies how often a try or the symptom is told wrongly, and the lots that decide it */
  constructor(
    { document, files, answers }: Known,
    lies: { readonly share: number; readonly lots: Lots } | null = null,
  ) {
    this.#lies = lies;
    this.#draft = structuredClone(document) as Draft;
    this.#draft.evidence ??= [];
    this.#draft.observations ??= [];
    this.#draft.declined ??= [];
    this.#draft.client = {
      ...this.#draft.client,
      symptom: this.#told(this.#draft.client.symptom ?? 'unknown', [
        'lost',
        'refused',
        'connects-then-fails',
      ]),
    };
    this.#files = new Map(files);
    this.#answers = answers;
  }

  work(): Diagnosis {
    const document = checkCaseDocument(JSON.parse(JSON.stringify(this.#draft)));
    return diagnosis(readCase({ document, files: this.#files }));
  }

  takeAll(): void {
    for (const a of this.#answers) if (!a.cannot) this.take(a);
  }

  take(answer: Answer): void {
    this.answered.push(answer);
    this.#put(answer, `${answer.stop}/${answer.yields}`);
  }

  /** Asks what the tool would ask next until a fault is found; hears of each step. */
  ask(onStep: (d: Diagnosis) => void = () => undefined): Diagnosis {
    for (;;) {
      const last = this.work();
      onStep(last);
      if (isDone(last) || this.checks >= MOST_CHECKS || !this.#askFirst(last.nextChecks)) return last;
    }
  }

  /** Goes through a fixed list, place by place, until a fault is found. */
  checklist(minutesOf: ReadonlyMap<string, number>): Diagnosis {
    const rank = ({ yields }: Answer): number => {
      const at = CHECKLIST.indexOf(yields);
      return at < 0 ? CHECKLIST.length : at;
    };
    for (const answer of [...this.#answers].sort((a, b) => rank(a) - rank(b))) {
      const last = this.work();
      if (isDone(last) || this.checks >= MOST_CHECKS) return last;
      this.checks += answer.cannot ? 0.5 : 1;
      if (answer.cannot) continue;
      this.minutes += minutesFor(answer, minutesOf);
      this.take(answer);
    }
    return this.work();
  }

  /** Asks the first of the checks that was not declined; false: there is none. */
  #askFirst(checks: Diagnosis['nextChecks']): boolean {
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
      this.answered.push(answer);
      this.#put(answer, check.id);
    }
    return true;
  }

  #put(answer: Answer, asked: string): void {
    for (const [name, bytesOf] of Object.entries(answer.texts ?? {})) {
      const bytes = bytesOf();
      let file = `evidence/${answer.stop}/${name}`;
      const had = this.#files.get(file);
      if (had && Buffer.compare(had, bytes) === 0) continue;
      if (had) file = `evidence/${answer.stop}/${answer.yields}-${name}`;
      this.#files.set(file, bytes);
      this.#draft.evidence.push({ stop: answer.stop, file, asked });
    }
    const tries = answer.observations ?? [];
    this.#draft.observations.push(
      ...tries.map((t) => ({ ...t, outcome: this.#told(t.outcome, ['answered', 'refused', 'lost']) })),
    );
  }

  #told(truth: string, words: readonly string[]): string {
    if (this.#lies === null || this.#lies.lots() >= this.#lies.share) return truth;
    const others = words.filter((w) => w !== truth);
    return others[Math.floor(this.#lies.lots() * others.length)] ?? truth;
  }
}

/**
 * Answers that would have been enough, as one who knows the fault would ask: a bound for any order of
 * questions. (They are left out one by one, those that come first at first; another choice may be smaller.)
 */
export function enough(known: Known, answered: readonly Answer[]): readonly Answer[] {
  const isEnough = (answers: readonly Answer[]): boolean => {
    const play = new Play(known);
    for (const a of answers) play.take(a);
    return isDone(play.work());
  };
  if (!isEnough(answered)) return answered;
  let least = [...answered];
  for (const a of answered) {
    const fewer = least.filter((l) => l !== a);
    if (isEnough(fewer)) least = fewer;
  }
  return least;
}
