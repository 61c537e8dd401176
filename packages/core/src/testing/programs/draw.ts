import fc from 'fast-check';
import type { Chain, Field, Rule, Step, ValueSet, Verdict } from '../../rules/index.ts';
import { FIELDS, MARKS, type Readable } from './fields.ts';
import { tell, type Row } from './told.ts';

/** One to two fields, and one to three rows of values for them. */
const rows = fc.array(fc.constantFrom(...FIELDS), { minLength: 1, maxLength: 2 }).chain((fields) =>
  fc.array(
    fc
      .tuple(...fields.map((of) => of.sets))
      .map((values): Row => values.map((v, i) => ({ of: fields[i] as Readable, values: v }))),
    { minLength: 1, maxLength: 3 },
  ),
);
const fieldsOf = (list: readonly Row[]): Field[] => (list[0] as Row).map((part) => part.of.field);
const keyOf = (row: Row): ValueSet[] => row.map((part) => part.values.set);

const match = fc
  .tuple(rows, fc.boolean())
  .map(([list, negate]) =>
    tell(
      { do: 'match', fields: fieldsOf(list), rows: list.map(keyOf), negate },
      { is: 'match', rows: list, negate },
    ),
  );

const end = (chains: readonly Chain[]): fc.Arbitrary<Verdict> =>
  fc.oneof(
    fc.constantFrom<Verdict>(
      { verdict: 'accept' },
      { verdict: 'drop' },
      { verdict: 'drop' },
      { verdict: 'return' },
      { verdict: 'continue' },
      { verdict: 'reject', kind: 'tcp-reset' },
    ),
    ...chains.flatMap((chain) => [
      fc.constant<Verdict>({ verdict: 'jump', chain }),
      fc.constant<Verdict>({ verdict: 'goto', chain }),
    ]),
  );

/** Doubts with one number come out alike. */
const NUMBER = fc.nat(6);
const doubt = (number: number) => ({ doubt: 'earlier-packets', what: `d${number};` }) as const;

const effect = (mayDoubt: boolean): fc.Arbitrary<Step> =>
  fc.oneof(
    fc
      .record({
        on: fc.constantFrom('mark', 'ct-mark'),
        from: fc.constantFrom('mark', 'ct-mark'),
        keep: fc.constantFrom(0, 1, 0xffff_ffff),
        flip: fc.constantFrom(...MARKS),
      })
      .map((m): Step => {
        const step = { do: 'set-mark', ...m } as Extract<Step, { do: 'set-mark' }>;
        return tell(step, { is: 'mark', step });
      }),
    fc.constant('notrack').map(() => tell({ do: 'notrack' }, { is: 'notrack' })),
    fc.constant('note').map(() => tell({ do: 'note', what: 'counter' }, { is: 'note' })),
    ...(mayDoubt
      ? [
          fc
            .tuple(fc.constantFrom('chance', 'unmodelled-match', 'over-time'), NUMBER)
            .map(([kind, number]) => {
              const step = { do: kind, doubt: doubt(number) } as Step;
              return tell(step, { is: 'doubt', number, holdsAt: kind === 'over-time' ? 1 : 0 });
            }),
          NUMBER.map((number) =>
            tell({ do: 'unmodelled-action', doubt: doubt(number) }, { is: 'action', number }),
          ),
        ]
      : []),
  );

const ending = (chains: readonly Chain[]): fc.Arbitrary<Step> =>
  fc.oneof(
    {
      weight: 3,
      arbitrary: end(chains).map((verdict) => tell({ do: 'verdict', verdict }, { is: 'verdict', verdict })),
    },
    {
      weight: 1,
      arbitrary: rows.chain((list) =>
        fc.array(end(chains), { minLength: list.length, maxLength: list.length }).map((verdicts) => {
          const pairs = list.map((key, i) => ({ key, verdict: verdicts[i] as Verdict }));
          return tell(
            {
              do: 'verdict-map',
              lookup: {
                fields: fieldsOf(list),
                rows: pairs.map(({ key, verdict }) => ({ key: keyOf(key), value: verdict })),
              },
            },
            { is: 'map', rows: pairs },
          );
        }),
      ),
    },
  );

const ruleSteps = (chains: readonly Chain[], mayDoubt: boolean): fc.Arbitrary<Step[]> =>
  fc
    .tuple(
      fc.array(fc.oneof({ weight: 5, arbitrary: match }, { weight: 1, arbitrary: effect(mayDoubt) }), {
        maxLength: 2,
      }),
      fc.option(ending(chains), { nil: null, freq: 5 }),
    )
    .map(([before, last]) => (last ? [...before, last] : before));

const chainOf = (name: string, lists: readonly Step[][]): Chain => ({
  id: name,
  name,
  origin: { program: 'device' },
  source: null,
  rules: lists.map((steps, i): Rule => ({ id: `${name}/${i}`, text: `${name} ${i}`, source: null, steps })),
});

/** A chain that leads into two others, one of which leads into the second. */
export const programs = (mayDoubt: boolean): fc.Arbitrary<Chain> =>
  fc
    .array(ruleSteps([], mayDoubt), { maxLength: 4 })
    .map((lists) => chainOf('second', lists))
    .chain((second) =>
      fc
        .array(ruleSteps([second], mayDoubt), { maxLength: 4 })
        .map((lists) => [second, chainOf('first', lists)] as const),
    )
    .chain(([second, first]) =>
      fc
        .oneof(
          fc.array(ruleSteps([first, second], mayDoubt), { minLength: 1, maxLength: 8 }),
          // Long enough for an index.
          fc.array(ruleSteps([first, second], false), { minLength: 24, maxLength: 32 }),
        )
        .map((lists) => chainOf('base', lists)),
    );
