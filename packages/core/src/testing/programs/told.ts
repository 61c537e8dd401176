import type { Step, Verdict } from '../../rules/index.ts';
import type { Readable, Values } from './fields.ts';

/** The rules of these tests as the reference reads them: what a step is, beside the step itself. */
export type Told =
  | { readonly is: 'match'; readonly rows: readonly Row[]; readonly negate: boolean }
  | { readonly is: 'map'; readonly rows: readonly { readonly key: Row; readonly verdict: Verdict }[] }
  | { readonly is: 'verdict'; readonly verdict: Verdict }
  | { readonly is: 'mark'; readonly step: Extract<Step, { do: 'set-mark' }> }
  | { readonly is: 'notrack' | 'note' }
  | { readonly is: 'doubt'; readonly holdsAt: number; readonly number: number }
  | { readonly is: 'action'; readonly number: number };
export type Row = readonly { readonly of: Readable; readonly values: Values }[];

const known = new WeakMap<Step, Told>();
/** A step, and what the reference is to make of it. */
export const tell = <S extends Step>(step: S, what: Told): Step => {
  known.set(step, what);
  return step;
};

export const told = (step: Step): Told => known.get(step) as Told;

/** Nothing after it has an effect: whether it holds is not asked. */
export const isIdle = (steps: readonly Step[], i: number): boolean =>
  told(steps[i] as Step).is === 'doubt' &&
  steps.slice(i + 1).every((s) => ['doubt', 'note', 'match'].includes(told(s).is));
