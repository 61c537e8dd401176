import { nth } from '../../place/index.ts';
import { addressKind, parseAddress, parsePrefix } from '../../net/index.ts';
import type { LabelKind, LabelledFact, Problem } from '../../facts/index.ts';
import { fieldsOf, placed } from '../fields.ts';
import { parsePlacedJson } from '../json.ts';
import { linesOf, type Line } from '../text.ts';
import type { Reader } from '../reader.ts';
import {
  CONNECTION,
  DOWN,
  HAIRPIN,
  KIND,
  LABELS,
  LINE_STATE,
  MANAGEMENT,
  NOTE_LENGTH,
  NOTE_OLD,
  ON_OFF,
  STATE_FIRST,
  UPTIME,
} from './labelWords.ts';
import { ownOnly } from './ownOnly.ts';
import { isOfASide, isOfTwoSides } from './twoSides.ts';

/**
 * Text before the value; the value is the address at its end, in a table cell of its own, or after `:`, `=`
 * or `is`.
 */
const VALUE = new RegExp(
  String.raw`(?<![\w.:])((?:\d{1,3}\.){3}\d{1,3}(?:\/\d{1,2})?|` +
    String.raw`(?:[0-9a-fA-F]{0,4}:){2,}[0-9a-fA-F.:]*(?:\/\d{1,3})?)(?![\w])`,
  'g',
);

/**
 * Single labelled values, as copied from a status page or typed: `WAN IP 100.72.14.9`, `server
 * 192.168.50.20`.
 */
export const labelled: Reader = {
  format: 'labelled-values',
  title: 'labelled values (status page or typed)',
  most: 0.6,
  recognise(text) {
    const lines = valueLines(text.length <= SAMPLE || text.startsWith('{') ? text : text.slice(0, SAMPLE));
    const found = withHeadings(lines.filter((l) => l.text.trim() !== ''));
    const hits = found.filter((f) => f.facts.length > 0).length;
    if (hits === 0) return 0;
    if (hits * 2 >= found.length) return 0.6;
    if (hits >= 2) return 0.45;
    return found.length <= FEW_LINES && found.some((f) => f.facts.some(namesSide)) ? 0.42 : 0;
  },
  read(text) {
    const lines = valueLines(text);
    const isPaired = isOfTwoSides(lines);
    const found = withHeadings(lines.filter((l) => l.text.trim() !== ''));
    const facts = found.flatMap((f) => f.facts.filter((fact) => !isPaired || !isOfASide(fact)));
    const unread = found.filter(
      (f) => !f.isHeading && !f.facts.some((fact) => !isPaired || !isOfASide(fact)),
    );
    const problems = unread.map(({ line }): Problem => ({
      line: line.number,
      text: line.text.trim().slice(0, 200),
      why: 'no-known-value',
    }));
    return { format: 'labelled-values', facts: ownOnly(seenAlone(facts, text)), problems, covers: [] };
  },
};

/** A service of the web answers with what it sees, alone under a bare key: `{"ip":"203.0.113.50"}`. */
function seenAlone(facts: readonly LabelledFact[], text: string): readonly LabelledFact[] {
  const [only, ...more] = facts;
  const isBare = only?.what === 'wan-address' && /^(?:ip|ip_?addr(?:ess)?|origin|query)$/i.test(only.label);
  return isBare && more.length === 0 && text.trimStart().startsWith('{')
    ? [{ ...only, what: 'seen-address' }]
    : facts;
}

const SAMPLE = 6_000;
/** A line `WAN IP 203.0.113.50` says what it says, among a few others. */
const FEW_LINES = 40;

const namesSide = ({ what, label }: LabelledFact): boolean =>
  (what === 'wan-address' || what === 'lan-address') && /\b[wl]an\b/i.test(label);

/** The lines of a page; of a program's export (RFC 8259) one for each field, at the place of its value. */
function valueLines(text: string): Line[] {
  const lines = linesOf(text);
  if (!text.trimStart().startsWith('{')) return lines;
  const value = parsePlacedJson(text)?.value;
  if (typeof value !== 'object' || value === null) return lines;
  return placed(fieldsOf(value, ''), lines, 1, 0).map(({ key, value: held, line, column }) => ({
    number: line.number,
    // What it is called stands before it, so that its place in the line is kept.
    text: held === '' ? '' : `${' '.repeat(Math.max(0, column - key.length - 2))}${key}: ${held}`,
  }));
}

interface Found {
  readonly line: Line;
  readonly facts: readonly LabelledFact[];
  /** A line of words, which says what stands below it. */
  readonly isHeading: boolean;
}

const BARE = /^[\da-f.:]+(?:\/\d{1,3})?$/i;

function withHeadings(lines: readonly Line[]): Found[] {
  let heading = '';
  const isBare = (line: Line | undefined): boolean => line !== undefined && BARE.test(line.text.trim());
  return lines.map((line, i): Found => {
    // Several addresses below one word are a list of something.
    const isListed = isBare(line) && (isBare(lines[i - 1]) || isBare(lines[i + 1]));
    const facts = isListed ? [] : factsOf(line, heading);
    const text = line.text.trim();
    const isHeading = facts.length === 0 && /^[^:=]{2,40}:?$/.test(text) && !/\d{3}/.test(text);
    if (isHeading) heading = text.replace(/:$/, '');
    return { line, facts, isHeading };
  });
}

/** The labelled values of one line. */
export const labelledIn = (line: Line): LabelledFact[] => factsOf(line);

function factsOf(line: Line, heading = ''): LabelledFact[] {
  const out: LabelledFact[] = [];
  let from = 0;
  for (const match of line.text.matchAll(VALUE)) {
    const value = nth(match, 1).replace(/:$/, '');
    const p = parsePrefix(value);
    const address = parseAddress(nth(value.split('/'), 0));
    if (!p || !address) continue;
    const label = line.text
      .slice(from, match.index)
      .replace(/(?<![\s:=|,;–-])[\s:=|,;–-]+$/, '')
      .replace(/^[\s|,;.]+/, '')
      .trim();
    from = match.index + match[0].length;
    const { kind } = addressKind(address);
    const isOld =
      NOTE_OLD.test(line.text.slice(from, from + NOTE_LENGTH)) ||
      DOWN.test(label) ||
      (DOWN.test(heading) && !/\blan\b/i.test(label));
    const meant = meaning(label, heading, kind);
    if (!meant) continue;
    const isOutside = meant === 'wan-address' || meant === 'seen-address';
    // Nobody is reached from outside by a loopback or link-local address (RFC 1122 §3.2.1.3, RFC 3927).
    if (isOutside && (kind === 'loopback' || kind === 'link-local' || kind === 'this-network')) continue;
    const what = isOld && isOutside ? 'previous-address' : meant;
    out.push({
      kind: 'labelled',
      what,
      label: label || heading,
      value: nth(value.split('/'), 0),
      at: { line: line.number, column: match.index, endColumn: match.index + value.length },
      ...(value.includes('/') ? { prefix: p.length } : {}),
    });
  }
  if (out.length > 0) return out;
  const pair = /^([^:=\t|]{2,40})[:=\t|](.*)/.exec(line.text.trim());
  const value = pair?.[2]?.trim() ?? '';
  if (!pair?.[1] || value === '') return [];
  const place = {
    line: line.number,
    column: line.text.indexOf(value),
    endColumn: line.text.indexOf(value) + value.length,
  };
  const said = (what: LabelKind, as: string): LabelledFact[] => [
    { kind: 'labelled', what, label: (pair[1] ?? '').trim(), value: as, at: place },
  ];
  if (MANAGEMENT.test(pair[1])) {
    const port = /\b\d{1,5}\b/.exec(value)?.[0];
    if (port !== undefined) return said('own-port', port);
    return /^(yes|on|enabled?|active|true|ja|ein|oui|s[íi])$/i.test(value)
      ? said('own-port', 'on')
      : said('other', value);
  }
  if (
    /^(?:public|external)(?: ipv?4?)? address$/i.test(pair[1].trim()) &&
    /^(?:none|-|–|not assigned)$/i.test(value)
  )
    return said('no-public-address', 'none');
  if (HAIRPIN.test(pair[1]) && ON_OFF.test(value))
    return said('hairpin', /^(?:y|on|e|act|tr|ja|oui|s)/i.test(value) ? 'on' : 'off');
  const isLineState =
    LINE_STATE.test(pair[1]) || (CONNECTION.test(pair[1].trim()) && STATE_FIRST.test(value));
  if (isLineState && !/\blan\b/i.test(heading)) {
    if (DOWN.test(value)) return said('line-state', 'down');
    if (/\b(up|connected|online|active|established|verbunden|connect[ée]e?|conectado)\b/i.test(value))
      return said('line-state', 'up');
  }
  if (/\b(dmz|exposed)\b/i.test(pair[1]) && !/^(no|off|disabled?|inactive|false|none|-)$/i.test(value))
    return said('exposed-host', 'on');
  if (UPTIME.test(pair[1]))
    return [{ kind: 'labelled', what: 'uptime', label: pair[1].trim(), value, at: place }];
  if (KIND.test(pair[1]))
    return [{ kind: 'labelled', what: 'connection-kind', label: pair[1].trim(), value, at: place }];
  return [];
}

/** A label is a few words; a line of prose or of a listing is not one. */
function meaning(label: string, heading: string, kind: string): LabelKind | null {
  if (label.length > 48 || /[<>{}"$#]/.test(label)) return null;
  for (const text of [label, `${heading} ${label}`]) {
    const hit = LABELS.find(([, pattern]) => pattern.test(text));
    if (hit) return hit[0];
  }
  // A bare address label under a WAN or LAN heading says nothing more; it may stand above its value.
  if (/\b(ip|ipv4|ipv6|address|addr|adres|adress)\b/i.test(label || heading)) {
    // A private address under no such heading may be any machine's own.
    return kind === 'private' ? 'own-address' : 'wan-address';
  }
  return null;
}
