import type { Problem } from '../../facts/index.ts';
import type { LogSummary, UnreadWhy } from '../../traffic/index.ts';

const WHY: Readonly<Record<UnreadWhy, string>> = {
  'no-line-of-this-log': 'not a line of this log',
  cut: 'a line of the log that is not whole',
  'no-address': 'no address stands where the sender belongs',
  'no-port': 'no port stands where one belongs',
};

/** The lines of a log that were not understood: the first ones, and how many more. */
export function unreadProblems({ unread, unreadCount }: LogSummary): Problem[] {
  const shown = unread.map((u): Problem => ({ line: u.line, text: u.text, why: WHY[u.why] }));
  const more = unreadCount - unread.length;
  return more > 0
    ? [...shown, { line: 1, text: '', why: `${more} further lines are not understood` }]
    : shown;
}
