import { lineAt, once, problemAt, told } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { linesOf } from '../text.ts';

/** What shells and tools say instead of an answer: it tells nothing about what was asked. */
const REFUSALS: readonly (readonly [RegExp, string])[] = [
  [/Operation not permitted/i, 'Operation not permitted: says nothing about the rules'],
  [
    new RegExp(
      String.raw`: command not found|is not recognized as (?:an internal or external command|` +
        String.raw`the name of a cmdlet)|: not found$`,
      'm',
    ),
    'command not found',
  ],
  [
    new RegExp(
      String.raw`you must be root|Permission denied \(you must be root\)|are you root|` +
        String.raw`must be run as root|Access is denied|requires elevation|need to be root`,
      'i',
    ),
    'no permission: says nothing about the rules',
  ],
  [
    /Cannot connect to the Docker daemon|FirewallD is not running|Failed to connect to socket \/run\/dbus/i,
    'the service that would answer is not running',
  ],
];

/** An error of the tool itself. */
export const toolError: Reader = {
  format: 'tool-error',
  title: 'an error of the tool, not an answer',
  recognise: (text) =>
    text.length < 2000 && linesOf(text).length <= 6 && REFUSALS.some(([pattern]) => pattern.test(text))
      ? 0.86
      : 0,
  read(text) {
    const hit = REFUSALS.find(([pattern]) => pattern.test(text));
    if (!hit) return { format: 'tool-error', facts: [], problems: [], covers: [] };
    const line = linesOf(text).find((l) => hit[0].test(l.text)) ?? { number: 1, text };
    const firewall = /FirewallD is not running|DBUS_ERROR|\/run\/dbus/.test(text);
    return {
      format: 'tool-error',
      facts: [
        told('outcome', lineAt(line), hit[1]),
        ...(firewall ? [once('running', lineAt(line), false, 'no')] : []),
      ],
      problems: [problemAt(line, { is: 'no-answer-of-tool', code: hit[1] })],
      covers: [],
    };
  },
};
