import type { Coverage, Gap, Reading } from '../facts/index.ts';
import { linesOf } from './text.ts';

/** Listings of which each row speaks for itself: one that could not be read may say anything. */
const ROW_BY_ROW: ReadonlySet<Coverage> = new Set([
  'sockets-tcp',
  'sockets-udp',
  'host-rows',
  'front-end',
  'mappings',
  'routes4',
  'routes6',
  'policy4',
  'policy6',
  'allow-list',
  'zone-rules',
  'zone-lines',
  'translations',
]);

/** A line that stands for lines left out. */
const LEFT_OUT = /^(?:\.{3,}|…|snip|snipped|cut|truncated|omitted|etc\.?)$/i;
/** What pagers print at the end of a page that is not the last. */
const PAGER = new RegExp(
  String.raw`^-+ ?more ?\d{0,3}%? ?-+ ?(?:\d{1,3}%)?$|^-{2,} ?more\b|` +
    String.raw`\b(?:press|hit|type) .{1,30} (?:to|for) (?:continue|more)\b|` +
    String.raw`\bq(?:uit)?[ :]to quit\b|^-- q quit`,
  'i',
);
export const leavesOut = (text: string): boolean =>
  linesOf(text).some((l) => {
    if (l.text.length >= 60) return false;
    const bare = l.text.replace(/[[\](){}<>*]/g, '').trim();
    return LEFT_OUT.test(bare) || PAGER.test(bare);
  });

/**
 * What in the text itself leaves open whether it is whole: lines left out, and rows of sockets or
 * firewall rows that could not be read and may be about any port.
 */
export function withGaps(reading: Reading): Reading {
  const isUnread =
    reading.problems.length > 0 &&
    (reading.covers.some((c) => ROW_BY_ROW.has(c)) ||
      reading.problems.some((p) => /\binet6?\b/.test(p.text) && reading.covers.includes('addresses')));
  return isUnread ? withGap(reading, 'unread') : reading;
}

/** The reading, and each output of it, with one more reason why it may not be whole. */
export const withGap = (reading: Reading, gap: Gap): Reading => ({
  ...reading,
  gaps: [...new Set([...(reading.gaps ?? []), gap])],
  ...(reading.parts
    ? { parts: reading.parts.map((p) => ({ ...p, gaps: [...new Set([...(p.gaps ?? []), gap])] })) }
    : {}),
});

/** What programs print in a console; pages and sentences have lines of any length. */
export const isPrinted = ({ format }: Reading): boolean =>
  ![
    'forward-table',
    'device-table',
    'rule-table',
    'zone-page',
    'labelled-values',
    'notice',
    'allow-list',
  ].includes(format);

/** Consoles that cut lines do so at this width; a ruler of that length is none. */
const CONSOLE = 80;
/** The last word of a packet filter's line: what is cut off here are digits of its handle. */
const HANDLE = /# handle \d+$/;

/** The longest lines end exactly at a console's edge: the rest of them is cut off. */
export function isCutAtEdge(text: string): boolean {
  const lines = linesOf(text).filter((l) => !/^[-=\s]*$/.test(l.text));
  return (
    lines.every((l) => l.text.length <= CONSOLE) &&
    lines.some((l) => l.text.length === CONSOLE && /[^\s)\]}"'>;]$/.test(l.text) && !HANDLE.test(l.text))
  );
}

/** A last line without its end of which nothing is understood: the text breaks off in it. */
export function endsStrangely(text: string, plain: Reading | null): boolean {
  if (!plain || /\s$/.test(text)) return false;
  const lines = linesOf(text);
  const last = lines[lines.length - 1]?.number;
  return plain.problems.some((p) => p.line === last);
}
