import { portCell } from '../tables/portCells.ts';
import type { NoticeRecord, Problem } from '../../facts/index.ts';
import { linesOf } from '../text.ts';
import { lineAt, problemAt, told } from '../noted.ts';
import type { Reader } from '../reader.ts';

/** What a carrier says about the line, in the words that such notices use. */
const SHARED = new RegExp(
  String.raw`\b(cg-?nat|carrier.grade|shared (public )?(ipv4|ip|address)|` +
    String.raw`ipv4 address (is|will be) shared|` +
    String.raw`share(s|d)? (an|one|the|your) (public )?(ipv4|ip|address)|ds-?lite|` +
    String.raw`no (longer an? )?public ipv4|ipv4 .{0,40}(no longer possible|not possible)|` +
    String.raw`incoming .{0,30}ipv4 .{0,30}(no longer|not) possible|geteilte|` +
    String.raw`partag[ée]e|compartida)\b`,
  'i',
);
const BLOCKED = new RegExp(
  String.raw`\b(block(s|ed|ing)?|filter(s|ed)?|refuse[sd]?|clos(e|es|ed)|drop(s|ped)?|` +
    String.raw`not (let|allow|pass)\w*|gesperrt|sperren|bloqu\w+)\b`,
  'i',
);
/** A protocol, or a port or range of ports; what stands between them parts a list. */
const PORTS = /\b(tcp|udp)\b|\b\d{1,5}(?: ?[-–] ?\d{1,5})?\b/gi;
const UNASKED = new RegExp(
  String.raw`\b(unrequested|unsolicited|unasked|not (started|initiated|requested|opened|asked)|` +
    String.raw`were not (started|initiated|requested)|nobody .{0,20}asked|inbound|incoming|` +
    String.raw`from (outside|the internet))\b`,
  'i',
);
const REFUSED = new RegExp(
  String.raw`\b(block(s|ed|ing)?|refuse[sd]?|drop(s|ped)?|reject(s|ed)?|den(y|ies|ied)|stopped|` +
    String.raw`kept (out|away)|turned away|discarded|filtered|not (let|allowed|accepted)|` +
    String.raw`protect(s|ed|ion)|gesperrt|bloqu\w+)\b`,
  'i',
);
const FORWARDS = new RegExp(
  String.raw`\b(port ?(forward\w*|sharing|mapping|opening)s?|forwards?|forwardings?|openings?|` +
    String.raw`open(ing)? ports?|ports? (are|is) opened|portfreigabe\w*|redirections?|` +
    String.raw`incoming connections?)\b`,
  'i',
);
const ELSEWHERE = new RegExp(
  String.raw`\b(provider|carrier|operator|isp|internet company|supplier)\b.{0,40}\b(portal|` +
    String.raw`account|app|page|site|website|online|customer)\b|` +
    String.raw`\b(customer|online|web)[ -]?(portal|account|area|centre|center)\b|` +
    String.raw`\b(cannot|can not|can’t|can't) be (changed|set|edited) (here|on this page)|` +
    String.raw`\bnot on this page\b|\bin the .{0,20}(app|portal)\b|\bmanaged by\b`,
  'i',
);

const shaped = (text: string): NoticeRecord | null => {
  if (
    ELSEWHERE.test(text) &&
    (FORWARDS.test(text) || /\b(set|managed|kept|configured|changed)\b/i.test(text))
  )
    return { about: 'portal', protocol: null, ports: null };
  if (SHARED.test(text)) return { about: 'shared-address', protocol: null, ports: null };
  const list = BLOCKED.test(text) && /\bports?\b/i.test(text) ? portsIn(text) : null;
  if (list) return { about: 'blocked-ports', ...list };
  return UNASKED.test(text) && REFUSED.test(text) ? { about: 'shield', protocol: null, ports: null } : null;
};

function portsIn(text: string): Pick<NoticeRecord, 'protocol' | 'ports'> | null {
  const words: string[] = [];
  const protocols = new Set<string>();
  for (const match of text.slice(listFrom(text)).matchAll(PORTS)) {
    if (match[1]) protocols.add(match[1].toLowerCase());
    else words.push(match[0]);
  }
  const cell = portCell(words.join(', '));
  if (!cell || !('is' in cell.ports) || cell.ports.is === 'same') return null;
  const [only] = [...protocols];
  return {
    protocol: protocols.size === 1 && (only === 'tcp' || only === 'udp') ? only : null,
    ports: cell.ports.is,
  };
}

/** Dates and years stand before the list, not in it. */
const listFrom = (text: string): number => Math.max(text.search(/\bports?\b/i), 0);

/** Sentences of a text: a notice may be wrapped over lines. */
const isProse = (text: string): boolean => text.split(/[^\p{L}’']+/u).filter((w) => w.length > 1).length >= 4;

/**
 * What a carrier, or a router's page about its carrier, says in words: what is shared, blocked, kept
 * elsewhere.
 */
export const notices: Reader = {
  format: 'notice',
  title: 'a notice about the line',
  most: 0.46,
  recognise(text) {
    const sample = text.slice(0, 8000);
    return isProse(sample) && shaped(sample.replace(/\s+/g, ' ')) ? 0.46 : 0;
  },
  read(text) {
    const lines = linesOf(text).filter((l) => l.text.trim() !== '');
    const whole = shaped(lines.map((l) => l.text.trim()).join(' '));
    const problems: Problem[] = [];
    const facts = lines.flatMap((line) => {
      const notice = shaped(line.text);
      if (!notice) {
        problems.push(problemAt(line, 'no-notice'));
        return [];
      }
      return [told('carrier-notice', lineAt(line), notice, line.text.trim().slice(0, 200))];
    });
    const [first] = lines;
    if (facts.length === 0 && whole && first)
      return {
        format: 'notice',
        facts: [told('carrier-notice', lineAt(first), whole, first.text.trim().slice(0, 200))],
        problems: [],
        covers: [],
      };
    return { format: 'notice', facts, problems, covers: [] };
  },
};
