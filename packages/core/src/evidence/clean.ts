/** Terminal colours and cursor moves (ECMA-48 §5.4), which copied terminal text may hold. */
const ESCAPES = /\u001b\[[0-9;?]*[ -/]*[@-~]|\u001b\][^\u0007\u001b]*(?:\u0007|\u001b\\)|\u001b[@-Z\\-_]|\u001b[=>]/g;
/** Quote marks of mail and chat before every line. */
const QUOTED = /^(?:> ?|\| )/;
const LEAST_QUOTED = 3;

/** Removes what surrounds text without belonging to it: byte order mark, terminal escapes, typed-over characters, quote marks. Lines keep their numbers. */
export function cleanText(text: string): string {
  const plain = text.includes('\u001b') ? text.replace(ESCAPES, '') : text;
  const typed = plain.includes('\b') ? withoutBackspaces(plain) : plain;
  const bare = withoutQuotes(typed.charCodeAt(0) === 0xfeff ? typed.slice(1) : typed);
  return ROW.test(bare) && CELL.test(bare) ? plainTables(bare) : bare;
}

const ROW = /<tr[\s>]/i;
const CELL = /<t[dh][\s>]/i;
/** Longer cells are no values. */
const LONGEST_CELL = 20_000;
const ENTITIES: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', nbsp: ' ', '#160': ' ', '#39': "'", rarr: '→', ndash: '-', '#8211': '-' };

/** Tables of a page's source as rows with tabs, each on the line of its row; what stands between rows keeps its lines without the tags. */
function plainTables(text: string): string {
  const lineBreaks = (part: string): string => part.replace(/[^\n]+/g, '');
  const rows = unshown(unshown(unshown(text, '<!--', '-->', lineBreaks), '<script', '</script>', lineBreaks), '<style', '</style>', lineBreaks).replace(/<tr(?:\s[^<>]*)?>([\s\S]*?)(?:<\/tr>|(?=<tr[\s>])|(?=<\/table>))/gi, (whole, inside: string) => {
    const cells = [...inside.matchAll(/<t[dh](?:\s[^<>]*)?>([\s\S]*?)(?=<\/?t[dhr][\s>]|$)/gi)].map((m) => cellText(m[1]!.slice(0, LONGEST_CELL)));
    return `${cells.join('\t')}${lineBreaks(whole)}`;
  });
  return decoded(rows.replace(/<\/?[a-z][^<>]*>/gi, (tag) => lineBreaks(tag)));
}

/** Takes away what stands between two marks and is not shown; a search for each mark, since pages can be large and broken. */
function unshown(text: string, from: string, to: string, left: (part: string) => string): string {
  const lower = text.toLowerCase();
  const out: string[] = [];
  let at = 0;
  for (let start = lower.indexOf(from); start >= 0; start = lower.indexOf(from, at)) {
    const end = lower.indexOf(to, start);
    if (end < 0) break;
    out.push(text.slice(at, start), left(text.slice(start, end + to.length)));
    at = end + to.length;
  }
  return out.join('') + text.slice(at);
}

/** What a cell shows: its text, the values of its fields, and whether its box is ticked. */
function cellText(html: string): string {
  const shown = html
    .replace(/<input\b[^<>]*>/gi, (tag) => (/type=["']?hidden/i.test(tag) ? '' : /type=["']?(?:checkbox|radio)/i.test(tag) ? (/\schecked\b/i.test(tag) ? 'yes' : 'no') : (/\svalue=(?:"([^"]*)"|'([^']*)'|(\S+?)(?=[\s>]))/i.exec(tag)?.slice(1).find((v) => v !== undefined) ?? '')))
    .replace(/<select\b[^<>]*>([\s\S]*?)<\/select>/gi, (_, options: string) => /<option[^>]*\sselected[^>]*>([^<]*)/i.exec(options)?.[1] ?? /<option[^>]*>([^<]*)/i.exec(options)?.[1] ?? '');
  return decoded(shown.replace(/<[^<>]*>/g, ' ')).replace(/\s+/g, ' ').trim();
}

const decoded = (text: string): string => text.replace(/&(#?\w+);/g, (whole, name: string) => ENTITIES[name.toLowerCase()] ?? whole);

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
  return lines.map((l) => l.replace(QUOTED, '').replace(/^>\s*$/, '')).join('\n');
}
