import { plainTables } from './html.ts';

/** Terminal colours and cursor moves (ECMA-48 §5.4), which copied terminal text may hold. */
const ESCAPES =
  /\u001b\[[0-9;?]*[ -/]*[@-~]|\u001b\][^\u0007\u001b]*(?:\u0007|\u001b\\)|\u001b[@-Z\\-_]|\u001b[=>]/g;
/** Quote marks of mail and chat before every line. */
const QUOTED = /^(?:> ?|\| )/;
const LEAST_QUOTED = 3;

/**
 * Removes what surrounds text without belonging to it: byte order mark, terminal escapes, typed-over
 * characters, quote marks. Lines keep their numbers.
 */
export function cleanText(text: string): string {
  const plain = text.includes('\u001b') ? text.replace(ESCAPES, '') : text;
  const typed = plain.includes('\b') ? withoutBackspaces(plain) : plain;
  const marked = typed.charCodeAt(0) === 0xfeff ? typed.slice(1) : typed;
  const bare = withoutQuotes(UNSEEN.test(marked) ? marked.replace(UNSEEN_BESIDE, blanks) : marked);
  return ROW.test(bare) && CELL.test(bare) ? plainTables(bare) : bare;
}

/**
 * Characters without a width, which pages put around words and copies bring along (Unicode 15.0 §23.2).
 * Blanks stand for them, so that places stay; inside a word they stay, since nobody knows what was meant.
 */
const UNSEEN = /[\u00ad\u200b-\u200f\u2060-\u2064\ufeff]/;
const UNSEEN_BESIDE = new RegExp(
  String.raw`(?<=[\s|;,:"]|^)[\u00ad\u200b-\u200f\u2060-\u2064\ufeff]|` +
    String.raw`[\u00ad\u200b-\u200f\u2060-\u2064\ufeff](?=[\s|;,:"]|$)`,
  'gm',
);
const blanks = (found: string): string => ' '.repeat(found.length);

const ROW = /<tr[\s>]/i;
const CELL = /<t[dh][\s>]/i;
function withoutBackspaces(text: string): string {
  const out: string[] = [];
  for (const c of text) {
    if (c === '\b') {
      if (out.length > 0 && out[out.length - 1] !== '\n') out.pop();
    } else out.push(c);
  }
  return out.join('');
}

/** Only where every written line is quoted: a `>` here and there is part of an output. */
function withoutQuotes(text: string): string {
  if (!text.startsWith('>') && !text.startsWith('|')) return text;
  const lines = text.split('\n');
  const written = lines.filter((l) => l.trim() !== '');
  if (written.length < LEAST_QUOTED || !written.every((l) => QUOTED.test(l) || l.trim() === '>')) return text;
  const bare = lines.map((l) => l.replace(QUOTED, '').replace(/^>\s*$/, '')).join('\n');
  // What was answered and sent on is quoted twice.
  return withoutQuotes(bare);
}
