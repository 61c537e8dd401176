import type { Handover, HandoverBlock } from './handover.ts';

/** Characters that Markdown gives a meaning (CommonMark 0.31 §2.4), and HTML's. */
const MARKED = /[\\`*_{}[\]<>#|~!&]/g;

/** Text that stays text: nothing of evidence becomes a heading, a link, an image or an element. */
const plain = (text: string): string =>
  text
    .split('\n')
    .map((line) => line.trim())
    .join(' ')
    .replaceAll(MARKED, '\\$&')
    .replace(/^(\s*)([-+](?=\s|$)|\d+(?=[.)](?:\s|$)))/, (_, blank: string, mark: string) =>
      /\d/.test(mark) ? `${blank}${mark}\\` : `${blank}\\${mark}`,
    );

/** A fence that is longer than any row of backticks in the text (CommonMark 0.31 §4.5). */
function fenced(text: string): string {
  const longest = Math.max(2, ...[...text.matchAll(/`+/g)].map((m) => m[0].length));
  const fence = '`'.repeat(longest + 1);
  return `${fence}\n${text}\n${fence}`;
}

function block(b: HandoverBlock): string {
  switch (b.is) {
    case 'text':
      return plain(b.text);
    case 'list':
      return b.items.map((i) => `- ${plain(i)}`).join('\n');
    case 'code':
      return fenced(b.text);
    case 'table':
      return [
        `| ${b.head.map(plain).join(' | ')} |`,
        `|${b.head.map(() => ' --- ').join('|')}|`,
        ...b.rows.map((r) => `| ${r.map(plain).join(' | ')} |`),
      ].join('\n');
  }
}

/** The handover as Markdown (CommonMark, with pipe tables). */
export function handoverMarkdown({ title, sections }: Handover): string {
  const parts = sections.map((s) => `## ${plain(s.heading)}\n\n${s.blocks.map(block).join('\n\n')}`);
  return `# ${plain(title)}\n\n${parts.join('\n\n')}\n`;
}
