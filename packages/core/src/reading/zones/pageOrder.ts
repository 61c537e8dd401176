import type { Fact, FilterOrderRecord } from '../../facts/index.ts';
import { told } from '../noted.ts';
import { ACTION } from '../tables/values.ts';
import type { Line } from '../text.ts';
import { type ZoneCells, zoneRule } from './rows.ts';
import { evened } from './pageRows.ts';

export const TRANSLATION = '(?:address |destination |inward )*(?:translations?|translated|mappings?|nat)';

export const RULES_FIRST = new RegExp(
  String.raw`\b(?:rules?|filter\w*)\b.{0,60}\b(before|after)\b.{0,20}\b${TRANSLATION}\b`,
  'i',
);

export const TRANSLATION_FIRST = new RegExp(
  String.raw`\b${TRANSLATION}\b.{0,60}\b(before|after)\b.{0,30}\b(?:rules?|filter\w*)\b`,
  'i',
);

/** `Rules see the destination before translation`, `Translations are applied before the rules`. */
export function orderIn(line: Line): Fact[] {
  const { text } = line;
  if (/\bnot\b|\?$/i.test(text.trim())) return [];
  const direct = RULES_FIRST.exec(text)?.[1];
  const turned = direct === undefined ? TRANSLATION_FIRST.exec(text)?.[1] : undefined;
  const said = direct ?? (turned && (turned.toLowerCase() === 'before' ? 'after' : 'before'));
  if (!said) return [];
  const seen = said.toLowerCase() === 'before' ? 'before' : 'after';
  const both = [
    /\bzones?\b/i.test(text) ? 'zone' : null,
    /address|destination(?! zone)/i.test(text) ? 'address' : null,
  ];
  const of = both.filter((b): b is FilterOrderRecord['of'] => b !== null);
  return (of.length > 0 ? of : (['address'] as const)).map((o) =>
    told('filter-order', { line: line.number }, { of: o, seen }, text.trim()),
  );
}

export const END = new RegExp(
  String.raw`^(?:default(?: action| policy| rule)?|(?:every|any)thing else|all other traffic|` +
    String.raw`otherwise|no rule(?: matches)?) ?[:=,]? ?(?:is )?([a-z]+)\.?$`,
  'i',
);

/** A page that says that nothing is filtered. */
export const UNFILTERED =
  /^(?:packet )?(?:filter|firewall)(?:ing| rules)? ?[:=]? ?(?:is )?(?:off|none|disabled)\.?$/i;

/** What is done with what no row names, where the page says it. */
export function endIn(line: Line): Fact[] {
  const text = evened(line.text);
  const said = UNFILTERED.test(text) ? 'allow' : END.exec(text)?.[1];
  if (said === undefined) return [];
  const action = said.replace(/p?ped$|ed$/i, (m) => (m.toLowerCase() === 'pped' ? 'p' : ''));
  if (!ACTION.test(action)) return [];
  const cells: ZoneCells = [
    { column: 'name', text: line.text.trim() },
    { column: 'action', text: action },
    { column: 'services', text: 'any' },
  ];
  return [told('zone-rule', { line: line.number }, zoneRule(cells), line.text.trim())];
}
