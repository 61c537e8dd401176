import type { Problem, ProblemReason } from '../../facts/index.ts';
import type { LogSummary, UnreadWhy } from '../../traffic/index.ts';

const WHY: Readonly<Record<UnreadWhy, ProblemReason>> = {
  'no-line-of-this-log': 'no-log-line',
  cut: 'log-line-cut',
  'no-address': 'log-address',
  'no-port': 'log-port',
};

/** The lines of a log that were not understood: the first ones, and how many more. */
export function unreadProblems({ unread, unreadCount }: LogSummary): Problem[] {
  const shown = unread.map((u): Problem => ({ line: u.line, text: u.text, why: WHY[u.why] }));
  const more = unreadCount - unread.length;
  return more > 0 ? [...shown, { line: 1, text: '', why: { is: 'not-listed', what: 'lines', more } }] : shown;
}
