import type { BaseChain, Chain, Field, Rule, Verdict } from '../../rules/index.ts';
import type { Plain, Readable } from './fields.ts';
import { isIdle, told, type Row, type Told } from './told.ts';

export type Ending = 'accept' | 'drop' | 'reject' | 'through' | 'open';

const ACTIONS = ['continue', 'next-rule', 'accept', 'drop'] as const;

/** A rule that the reference came to: whether it was met, else the first field that did not agree. */
export interface Seen {
  readonly id: string;
  readonly hit: boolean;
  readonly missed: { readonly field: Field; readonly value: number | string | null } | null;
}

/** What becomes of a packet, step by step, as nft(8) says it. */
export class Reference {
  readonly seen: Seen[] = [];
  readonly #draw: readonly number[];
  readonly #actions: readonly string[];

  constructor({ draw, type }: { readonly draw: readonly number[]; readonly type: BaseChain['type'] }) {
    this.#draw = draw;
    this.#actions = type === 'nat' ? [...ACTIONS, 'open'] : ACTIONS;
  }

  get met(): string[] {
    return this.seen.filter((s) => s.hit).map((s) => s.id);
  }

  walk(chain: Chain, p: Plain): Ending {
    for (const rule of chain.rules) {
      const verdict = this.#rule(rule, p);
      if (verdict === null) continue;
      if (verdict.verdict === 'return') return 'through';
      if (verdict.verdict === 'jump' || verdict.verdict === 'goto') {
        const inner = this.walk(verdict.chain, p);
        if (inner !== 'through' || verdict.verdict === 'goto') return inner;
      } else return verdict.verdict as Ending;
    }
    return 'through';
  }

  #rule(rule: Rule, p: Plain): Verdict | null {
    const { id, steps } = rule;
    for (const [i, step] of steps.entries()) {
      if (isIdle(steps, i)) break;
      const what = told(step);
      const out = this.#step(what, p);
      if (out === 'miss') {
        this.seen.push({ id, hit: false, missed: what.is === 'match' ? firstApart(what, p) : null });
        return null;
      }
      if (out === 'on' || out.verdict === 'continue') continue;
      this.seen.push({ id, hit: true, missed: null });
      return out;
    }
    this.seen.push({ id, hit: true, missed: null });
    return null;
  }

  #step(what: Told, p: Plain): 'on' | 'miss' | Verdict {
    switch (what.is) {
      case 'match':
        if (lacks(what.rows, p)) return 'miss';
        return what.rows.some((row) => agrees(row, p)) !== what.negate ? 'on' : 'miss';
      case 'map': {
        const keys = what.rows.map((row) => row.key);
        return lacks(keys, p) ? 'miss' : (what.rows.find((row) => agrees(row.key, p))?.verdict ?? 'miss');
      }
      case 'verdict':
        return what.verdict;
      case 'mark': {
        const { step } = what;
        const session = p.isTracked ? p.sessionMark : 0;
        const to = (((step.from === 'mark' ? p.mark : session) & step.keep) ^ step.flip) >>> 0;
        if (step.on === 'mark') p.mark = to;
        else if (p.isTracked) p.sessionMark = to;
        return 'on';
      }
      case 'notrack':
        p.untracked = !p.isTracked;
        return 'on';
      case 'note':
        return 'on';
      case 'doubt':
        return this.#answer(what.number, 2) === what.holdsAt ? 'on' : 'miss';
      case 'action': {
        const end = this.#actions[this.#answer(what.number, this.#actions.length)] as string;
        if (end === 'continue') return 'on';
        return end === 'next-rule' ? 'miss' : ({ verdict: end } as Verdict);
      }
    }
  }

  #answer(number: number, options: number): number {
    return (this.#draw[number % this.#draw.length] as number) % options;
  }
}

const lacks = ([row]: readonly Row[], p: Plain): boolean =>
  (row ?? []).some((part) => part.of.read(p) === null);
const agrees = (row: Row, p: Plain): boolean =>
  row.every((part) => part.values.has(part.of.read(p) as number | string));

/** Of a match that failed: the first field that the packet lacks, or that no row (negated: one) agrees in. */
function firstApart({ rows: list, negate }: Extract<Told, { is: 'match' }>, p: Plain): Seen['missed'] {
  const fields = (list[0] as Row).map((part) => part.of);
  const at = fields.findIndex((of, i) => {
    const value = of.read(p);
    return value === null || list.some((row) => row[i]?.values.has(value)) === negate;
  });
  const { field, read } = fields[Math.max(at, 0)] as Readable;
  return { field, value: read(p) };
}
