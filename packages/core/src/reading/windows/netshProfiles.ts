import { nth } from '../../place/index.ts';
import { linesOf, type Line } from '../text.ts';
import { YES, NO, profileName, PROFILE } from './hostFirewall.ts';

export const PROFILE_HEAD = /^(\S.{2,60}?):?\s*$/;

export const onOf = (text: string): boolean | null => {
  if (YES.test(text)) return true;
  return NO.test(text) ? false : null;
};

/** Third below the ruler: whether rows that were made on the machine are used. */
export const localRulesOff = (lines: readonly Line[], ruler: number): boolean =>
  NO.test(COLUMN.exec(lines[ruler + 3]?.text ?? '')?.[2] ?? '');

/** Headings of profiles that are on, without their policy: only their state was asked for. */
export const bareProfiles = (text: string): Line[] => {
  const lines = linesOf(text);
  return lines.filter((head, i) => {
    const state = COLUMN.exec(lines[i + 2]?.text ?? '');
    const isHead = PROFILE_HEAD.test(head.text) && /^-{40,}\s*$/.test(lines[i + 1]?.text ?? '');
    return isHead && state !== null && onOf(nth(state, 2)) === true && !COLUMN.test(lines[i + 3]?.text ?? '');
  });
};

/**
 * State and default of each profile: heading, ruler, state, then two words for what comes in and what goes
 * out.
 */
export function profileBlocks(
  text: string,
): { line: Line; name: string; on: boolean | null; in: string; out: string; ignoresRows: boolean }[] {
  const lines = linesOf(text);
  return lines.flatMap((ruler, i) => {
    const head = PROFILE_HEAD.exec(lines[i - 1]?.text ?? '');
    if (!head || !/^-{40,}\s*$/.test(ruler.text)) return [];
    const state = COLUMN.exec(lines[i + 1]?.text ?? '');
    const policy = COLUMN.exec(lines[i + 2]?.text ?? '');
    const words = policy?.[2]?.split(/,\s*/) ?? [];
    // `… show allprofiles state` prints no more: what is off lets everything in, whatever its policy.
    const isOff = policy === null && state !== null && onOf(nth(state, 2)) === false;
    if (isOff) words.push('AllowInbound', 'AllowOutbound');
    if (!state || words.length !== 2 || !Object.values(PROFILE).includes(profileName(nth(head, 1))))
      return [];
    return [
      {
        line: nth(lines, i - 1),
        name: nth(head, 1),
        on: onOf(nth(state, 2)),
        in: nth(words, 0),
        out: nth(words, 1),
        ignoresRows: localRulesOff(lines, i),
      },
    ];
  });
}

export const COLUMN = /^(\S.{0,200}?)\s{2,200}(\S.*)/;
