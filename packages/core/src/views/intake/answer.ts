import type { AskKind } from '../../asks/index.ts';
import type { EvidenceEntry } from '../../case/index.ts';
import type { CheckWords } from '../../words/index.ts';
import type { Recognised } from './recognised.ts';

/** The programs that print each format, as they begin in a command. */
const PRINTERS: Readonly<Record<string, RegExp>> = {
  ss: /^(?:sudo )?ss\b/,
  netstat: /^(?:sudo )?netstat\b/,
  'netsh-rules': /^netsh\b/,
  'cmdlet-objects': /^Get-/,
};

/**
 * What a piece carries that answers a check of the tool's own: the check, and the command that was asked
 * for where its program prints this format.
 */
export function asAnswer(
  found: Extract<Recognised, { is: 'text' }>,
  stop: string,
  check: {
    readonly id: string;
    readonly stop: string;
    readonly yields: AskKind;
    readonly words: CheckWords;
  } | null,
): Pick<EvidenceEntry, 'asked' | 'command'> {
  if (!check || check.stop !== stop || !found.answered.includes(check.yields)) return {};
  const printer = PRINTERS[found.format ?? ''];
  const command = printer && check.words.commands.find((c) => printer.test(c.text))?.text;
  return { asked: check.id, ...(command === undefined ? {} : { command }) };
}
