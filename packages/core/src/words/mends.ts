import { commandsOf, type Finding, type Mend } from '../mend/index.ts';

import type { StopNames } from './named.ts';
import { DIAL_WORDS } from './mends/dial.ts';
import { ROW_WORDS } from './mends/rows.ts';
import { RULE_WORDS } from './mends/rules.ts';
import { SERVER_WORDS } from './mends/server.ts';
import { ZONE_WORDS } from './mends/zones.ts';
import type { FindingWords, MendParts } from './mends/parts.ts';

/** A mend in words: each part on its own, for screens, messages and handovers. */
export interface MendWords extends MendParts {
  /** Commands for open systems, and those that take them back; empty where there are none. */
  readonly commands: readonly string[];
  readonly undo: readonly string[];
}

const WORDS: { readonly [K in Finding['found']]: FindingWords<K> } = {
  ...ROW_WORDS,
  ...RULE_WORDS,
  ...SERVER_WORDS,
  ...DIAL_WORDS,
  ...ZONE_WORDS,
};

/** A row on the router's own page would have no effect. */
const IN_PORTAL = {
  where: 'the carrier’s portal, the list of rules of this connection',
  also: 'Save it in the portal. A row on the router’s own page would have no effect.',
};

/** What is wrong, what to do, where, with which values, what belongs to it, and what it opens. */
export function mendWords(mend: Mend, names: StopNames): MendWords {
  const { finding } = mend;
  const words = WORDS[finding.found] as (f: Finding, at: string, names: StopNames) => MendParts;
  const parts = words(finding, names(mend.stop), names);
  return { ...parts, ...(mend.keptBy === 'carrier' ? IN_PORTAL : {}), ...commandsOf(mend) };
}

/** One sentence of a mend: what is wrong. */
export const mendLine = (mend: Mend, names: StopNames): string => mendWords(mend, names).wrong;

/** The mend in words for somebody who is no technician. */
export function mendMessage(mend: MendWords): string {
  const values = mend.values
    .map((v) =>
      v.now === null ? `${v.label}: ${v.mended}` : `${v.label}: instead of “${v.now}” enter “${v.mended}”`,
    )
    .join('\n');
  return [
    `We found it: ${mend.wrong}.`,
    `Please change it here: ${mend.where}.`,
    values,
    ...(mend.commands.length > 0 ? [mend.commands.join('\n')] : []),
    ...(mend.also ? [mend.also] : []),
    'Then try to connect again and tell me what happens.',
  ].join('\n');
}
