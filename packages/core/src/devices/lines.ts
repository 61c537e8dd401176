import { nth } from '../place/index.ts';
import { addressSet, ADDRESS_LENGTH, prefixOf } from '../net/index.ts';
import {
  addresses,
  addressOf,
  doubt,
  drop,
  match,
  names,
  one,
  rule,
  SettingsError,
  type RuleParts,
} from './build.ts';
import type { DeviceInterface } from './line.ts';

/** By which line a device with several outside lines sends an answer; missing: not known. */
export type AnswersBy = 'same-line' | 'default-line' | undefined;

/**
 * Sessions remember the line that they came in on, and answers are routed by it; where that is not known,
 * both ways are gone.
 */
export function remember(wan: readonly string[], lan: readonly string[], answers: AnswersBy): RuleParts[] {
  if (answers === 'default-line') return [];
  const unknown = answers === undefined ? [doubt({ doubt: 'answering-line' })] : [];
  return [
    ...wan.map((name, i) =>
      rule(`came in by ${name}`, match({ of: 'in' }, names([name])), {
        do: 'set-mark',
        on: 'ct-mark',
        from: 'ct-mark',
        keep: 0,
        flip: i + 1,
      }),
    ),
    rule(
      'the answer takes the line of the question',
      match({ of: 'in' }, names(lan)),
      match({ of: 'ct-direction' }, one(1)),
      ...unknown,
      { do: 'set-mark', on: 'mark', from: 'ct-mark', keep: 0xff, flip: 0 },
    ),
  ];
}

/** A carrier may drop what leaves by its line with the address of another line (BCP 38, RFC 2827). */
export function sourceFilters(lines: readonly DeviceInterface[], where: string): RuleParts[] {
  return lines
    .filter((d) => d.side === 'outside' && d.filtersSources !== false)
    .map((d) => {
      const own = addressSet(
        ...(d.addresses ?? [])
          .map((text) => addressOf(nth(text.split('/'), 0), where))
          .map((a) => prefixOf(a, ADDRESS_LENGTH[a.family])),
      );
      const asked =
        d.filtersSources === undefined ? [doubt({ doubt: 'address-of-other-line', line: d.name })] : [];
      return rule(
        `the carrier of ${d.name} takes its own addresses only`,
        match({ of: 'out' }, names([d.name])),
        match({ of: 'source', family: 4 }, addresses(own), true),
        ...asked,
        drop,
      );
    });
}

/** A word for "the outside line", where a device has only one. */
const ONLY_LINE = /^(wan|internet|outside|any|all|default)$/i;

/**
 * The line that a row names, whatever its capitals.
 * @throws SettingsError where no line has that name
 */
export function lineNamed(name: string, wan: readonly string[], where: string): string {
  const found = wan.find((w) => w === name) ?? wan.find((w) => w.toLowerCase() === name.toLowerCase());
  if (found !== undefined) return found;
  const [only] = wan;
  if (wan.length === 1 && only !== undefined && ONLY_LINE.test(name)) return only;
  throw new SettingsError(
    `${where}: there is no outside line “${name}”; the lines are ${wan.join(', ') || 'none'}`,
  );
}
