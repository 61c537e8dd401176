import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import type { Rule } from '../../rules/index.ts';
import { isObject, type Json, type JsonObject } from './objects.ts';
import { compileNft } from './compile.ts';
import type { NftObject } from './objects.ts';

/** Rules as nft 1.0.6 prints them with `-j`. */
const RULES = readFileSync(
  new URL('../../reading/linux/nftText/recorded-1.0.6.jsonl', import.meta.url),
  'utf8',
)
  .split('\n')
  .filter((line) => line !== '')
  .map((line) => (JSON.parse(line) as { expr: Json[] }).expr);

/** Values of other types than what a place of a rule holds. */
const ODD: readonly Json[] = [null, true, -1, 4_294_967_296, '', 'nonsense', [], {}, { odd: 1 }, [[1, 2]]];

/** Every JSON that differs from the given one in one place alone. */
function* spoilt(json: Json): Generator<Json> {
  yield* ODD;
  if (Array.isArray(json))
    for (const [i, part] of json.entries())
      for (const other of spoilt(part)) yield json.map((p, j) => (j === i ? other : p));
  else if (isObject(json))
    for (const key of Object.keys(json))
      for (const other of spoilt(json[key] ?? null)) yield { ...json, [key]: other } as JsonObject;
}

function ruleOf(steps: readonly Json[]): Rule | undefined {
  const at = { line: 1 };
  const common = { at, family: 'inet', table: 't' } as const;
  const objects: NftObject[] = [
    { is: 'table', at, family: 'inet', name: 't', dormant: false },
    {
      is: 'chain',
      ...common,
      name: 'c',
      base: { type: 'nat', hook: 'prerouting', priority: -100, policy: 'accept', device: null },
    },
    { is: 'rule', ...common, chain: 'c', steps, text: 'spoilt' },
  ];
  return compileNft(objects, 'x').baseChains[0]?.chain.rules[0];
}

describe('a rule whose JSON is spoilt in one place', () => {
  it('compiles to a rule with steps, known or open, and never throws', () => {
    let tried = 0;
    for (const rule of RULES)
      for (const [i, statement] of rule.entries())
        for (const other of spoilt(statement)) {
          tried++;
          const steps = rule.map((s, j) => (j === i ? other : s));
          expect(ruleOf(steps)?.steps, JSON.stringify(other)).to.be.an('array');
        }
    expect(tried).to.be.greaterThan(5000);
  });

  it('is open, where its verdict is none', () => {
    for (const odd of ODD)
      expect(JSON.stringify(ruleOf([odd])?.steps), JSON.stringify(odd)).to.contain('doubt');
  });
});
