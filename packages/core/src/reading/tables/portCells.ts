import { nth } from '../../place/index.ts';
import { known, open, type Said } from '../../facts/index.ts';
import { parsePort, SERVICE_PORT, type Interval, type PortSet } from '../../net/index.ts';
import { isPending } from './states.ts';

/** What stands in a cell of ports. */
export interface PortCell {
  readonly ports: Said<PortSet | 'same'>;
  /** Where they are open: those that it may be about; null: any. */
  readonly within: PortSet | null;
  /** A protocol written beside the port: `28410/udp`. */
  readonly protocol: 'tcp' | 'udp' | null;
  /** A note in brackets that says that the row is not in force. */
  readonly isPending: boolean;
}

/** Words for "the same port as outside". */
const SAME = /^(same|identical|equal|unchanged|as outside|=|\*|any|all|0|gleich|identique|igual|uguale)$/i;
const EVERY = /^(any|all|\*|alle|tous|todos|tutti|0-65535|1-65535)$/i;
/** Between the ends of a range: signs, or the word that several languages have for it. */
const RANGE = new RegExp(
  String.raw`^(\d{1,5})\s*(?:[-–—:~]|\.{2,3}|\bto\b|\bbis\b|\buntil\b|\bthrough\b|\bà\b|\ba\b|` +
    String.raw`\bhasta\b|\btot\b|\bat[ée]\b)\s*(\d{1,5})$`,
  'i',
);
const LIST = /[,;+& ]|\b(?:and|und|et|y|e)\b/i;
const NOTE = /^([^()[\]]{1,60}?)\s*[([]([^()[\]]{1,60})[)\]]$/;
/** One number; 0 means something else, and what is longer is no port. */
const PLAIN = /^[1-9]\d{0,4}$/;
/** A port and nothing else. */
export const isOnePort = (text: string): boolean => PLAIN.test(text) && Number(text) <= 65535;

/**
 * Reads a cell of ports in every usual writing: `8214`, `8211-8215`, `8211:8215`, `8211 to 8215`, `80, 443`,
 * `80 (HTTP)`, `28410/udp`, `HTTPS`. Null where nothing in it looks like ports.
 */
export function portCell(text: string): PortCell | null {
  // Most cells are this, and tables are long.
  if (PLAIN.test(text)) {
    const port = Number(text);
    if (port > 65535) return null;
    return { ports: known([{ first: port, last: port }]), within: null, protocol: null, isPending: false };
  }
  const bare = text.replace(/\s+/g, ' ').trim();
  if (bare === '' || /^[-–—]+$/.test(bare)) return odd(bare, null);
  const note = NOTE.exec(bare);
  const protocol = /^(\d[^/]{0,40}?) ?\/ ?(tcp|udp)$|^(\d.{0,40}) (tcp|udp)$/i.exec(note?.[1] ?? bare);
  const value = (protocol?.[1] ?? protocol?.[3] ?? note?.[1] ?? bare).replace(/\/$/, '').trim();
  const pending = note !== null && isPending(nth(note, 2));
  const rest = {
    protocol: protocolOf(protocol?.[2] ?? protocol?.[4]),
    isPending: pending,
  };
  if (SAME.test(value)) return { ports: known('same'), within: null, ...rest };
  if (thousands(value)) {
    const numbers = value.split(',').map(Number);
    const within = [...numbers, Number(value.replace(',', ''))].sort((a, b) => a - b);
    return {
      ...odd(
        bare,
        within.map((n) => ({ first: n, last: n })),
      ),
      ...rest,
    };
  }
  const parts: Interval<number>[] = [];
  for (const word of wordsOf(value)) {
    const part = intervalOf(word);
    if (part === null) return null;
    if (part === 'backwards') {
      const [a, b] = RANGE.exec(word)!.slice(1).map(Number) as [number, number];
      return { ...odd(bare, [{ first: b, last: a }]), ...rest };
    }
    parts.push(part);
  }
  if (parts.length === 0) return null;
  // A note that is no name of a service may narrow the row.
  const isOdd = note !== null && !pending && !isServiceNote(nth(note, 2));
  return isOdd ? { ...odd(bare, parts), ...rest } : { ports: known(parts), within: null, ...rest };
}

const protocolOf = (text: string | undefined): 'tcp' | 'udp' | null => {
  const word = text?.toLowerCase();
  return word === 'tcp' || word === 'udp' ? word : null;
};

/** `28,410` is one number with a mark for thousands, or two ports. */
const thousands = (text: string): boolean => /^\d{1,2},\d{3}$/.test(text);

const isServiceNote = (note: string): boolean =>
  /^[\p{L}][\p{L}\d /.-]*$/u.test(note) && !/except|only|not\b|off/i.test(note);

const wordsOf = (value: string): string[] =>
  RANGE.test(value) ? [value] : value.split(LIST).filter((w) => w !== '');

function intervalOf(word: string): Interval<number> | 'backwards' | null {
  const single = parsePort(word);
  if (single !== null) return { first: single, last: single };
  const range = RANGE.exec(word);
  if (range) {
    const first = parsePort(nth(range, 1));
    const last = parsePort(nth(range, 2));
    if (first === null || last === null) return null;
    return last < first ? 'backwards' : { first, last };
  }
  const service = Object.hasOwn(SERVICE_PORT, word.toLowerCase())
    ? SERVICE_PORT[word.toLowerCase()]
    : undefined;
  return service === undefined ? null : { first: service, last: service };
}

const odd = (text: string, within: PortSet | null): PortCell => ({
  ports: open(
    text === '' ? { doubt: 'not-shown', fields: ['ports'] } : { doubt: 'word', field: 'ports', text },
  ),
  within,
  protocol: null,
  isPending: false,
});

/** What stands for a cell that is no list of ports at all. */
export const oddPorts = (text: string): PortCell => odd(text.trim(), null);

/** Whether a cell holds ports and nothing else could be meant: digits are in it. */
export const isPorts = (text: string): boolean =>
  isOnePort(text) || (/\d/.test(text) && portCell(text) !== null);

/** Outside, "all ports" is a value of its own. */
export const isEvery = (text: string): boolean => EVERY.test(text.trim());
