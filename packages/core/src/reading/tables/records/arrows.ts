import { parseAddress } from '../../../net/index.ts';
import { linesOf, type Line } from '../../text.ts';
import type { Cell, Row } from '../cells.ts';
import { isPrivate } from '../values.ts';
import { saysState, type RecordTable } from './record.ts';

/** What a row of these holds, in order. */
const ROLES = ['name', 'protocol', 'outside-address', 'outside', 'inside-address', 'inside'] as const;

const ARROW = new RegExp(
  String.raw`-{1,2}>|={1,2}>|[→⇒➜➡]|(?<=\S) (?:(?:is|are|goes|gets) )?` +
    String.raw`(?:(?:forwarded|mapped|redirected|sent) )?to (?=\d)`,
  'i',
);
/** What every arrow has in it. */
const MARKS = ['>', ' to ', '→', '⇒', '➜', '➡'];
/** `forward tcp 8214 to …`, `port 8214 is forwarded to …` */
const LEADING = /^(?:port )?forwards? |^(?:the )?ports? /i;
const TRANSPORT = /^(?:tcp|udp|both|tcp\/udp)$/i;
/** `8214`, `8211-8215/udp`, `203.0.113.50:8214/tcp` */
const OUTSIDE = /^(?:([\d.]+):)?(\d{1,5}(?:-\d{1,5})?)(?:\/(tcp|udp|both))?$/i;
/** `192.168.50.20`, `192.168.50.20:8214/tcp` */
const INSIDE = /^(\d{1,3}(?:\.\d{1,3}){3})(?::(\d{1,5}(?:-\d{1,5})?))?(?:\/(tcp|udp|both))?$/i;
const NAME = /^(?:\p{L}[\p{L}\d _-]{0,30})?$/u;

/** Words of rules and of logs, in which an arrow means something else. */
const OTHER_WORDS = /\b(?:rdr|nat|binat|pass|block|proto|port|from|to|on|if|dnat|snat|src|dst|in|out)\b/i;

/** What somebody asks for is not there yet. */
const ASKED = new RegExp(
  String.raw`^\W*(?:please|bitte|todo|add|create|set up|(?:can|could|would|should) \w+|` +
    String.raw`(?:we|i|you) (?:need|want|must|have to|should))\s`,
  'i',
);

/**
 * Lines that lead a port to a machine inside. A line of two endpoints with other ports on both sides may be a
 * connection, and is none.
 */
export function arrowForwards(text: string): RecordTable[] {
  // Tables are long, and hardly any text has an arrow.
  if (!MARKS.some((mark) => text.includes(mark))) return [];
  const lines = linesOf(text).filter((l) => l.text.trim() !== '');
  if (lines.some((l) => ASKED.test(l.text))) return [];
  const rows = lines.map(rowOf);
  const found = rows.filter((r): r is Row => r !== null);
  if (found.length === 0) return [];
  const notes = lines.filter((_, i) => rows[i] === null);
  // A word among them may say that they are off.
  if (notes.length > found.length || notes.some((l) => saysState(l.text))) return [];
  return [{ titles: [], heading: null, rows: found, notes, width: ROLES.length, loose: false, roles: ROLES }];
}

/** `radio: tcp 8214 -> 192.168.50.20:8214`, `203.0.113.50:8214/tcp => 192.168.50.20:8214` */
function rowOf(line: Line): Row | null {
  const text = line.text.trim().replace(/\.$/, '').replace(LEADING, '').replace(LEADING, '');
  const [before, behind, more] = text.split(ARROW).map((side) => side.trim().split(/\s+/));
  if (!before || !behind || more) return null;
  const transports: string[] = [];
  const takeTransport = (words: string[]): void => {
    if (TRANSPORT.test(words[words.length - 1] ?? '')) transports.push(words.pop() ?? '');
  };
  takeTransport(before);
  takeTransport(behind);
  const outside = OUTSIDE.exec(before.pop() ?? '');
  takeTransport(before);
  const inside = behind.length === 1 ? INSIDE.exec(behind[0] ?? '') : null;
  const name = before
    .join(' ')
    .replace(/^[-•*] /, '')
    .replace(/ ?:$/, '');
  if (!outside || !inside || !NAME.test(name) || OTHER_WORDS.test(name)) return null;
  const [, at = '', ports = ''] = outside;
  const [, to = '', port = ports] = inside;
  transports.push(...[outside[3], inside[3]].flatMap((t) => (t ? [t] : [])));
  const isConnection = at !== '' && (!parseAddress(at) || isPrivate(at) || port !== ports);
  if (!isPrivate(to) || isConnection || transports.length > 1) return null;
  const cell = (text: string): Cell => ({ text, column: Math.max(0, line.text.lastIndexOf(text)) });
  return { line, cells: [name, transports[0] ?? '', at, ports, to, port].map(cell), end: line.number };
}
