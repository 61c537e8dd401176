import type { Handover, HandoverBlock } from './handover.ts';

const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const plain = (text: string): string => text.replaceAll(/[&<>"]/g, (c) => ENTITIES[c] ?? c);

const STYLE =
  'body{font:15px/1.5 sans-serif;max-width:46em;margin:2em auto;padding:0 ' +
  '1em;color:#12222e;background:#fff}h1{font-size:1.5em}h2{font-size:1.1em;border-bottom:1px solid ' +
  '#ccc;margin:1.4em 0 ' +
  '.4em}table{border-collapse:collapse}td,th{text-align:left;vertical-align:top;border-top:1px solid ' +
  '#ddd;padding:3px 14px 3px 0}pre{background:#f4f1e8;padding:.6em;white-space:pre-wrap}';

function block(b: HandoverBlock): string {
  switch (b.is) {
    case 'text':
      return `<p>${plain(b.text)}</p>`;
    case 'list':
      return `<ul>${b.items.map((i) => `<li>${plain(i)}</li>`).join('')}</ul>`;
    case 'code':
      return `<pre>${plain(b.text)}</pre>`;
    case 'table': {
      const row = (cells: readonly string[], as: 'td' | 'th'): string =>
        `<tr>${cells.map((c) => `<${as}>${plain(c)}</${as}>`).join('')}</tr>`;
      const head = b.head.some((h) => h !== '') ? row(b.head, 'th') : '';
      return `<table>${head}${b.rows.map((r) => row(r, 'td')).join('')}</table>`;
    }
  }
}

/** The handover as one HTML file that needs nothing else. */
export function handoverPage({ title, sections }: Handover): string {
  const body = sections.map((s) => `<h2>${plain(s.heading)}</h2>${s.blocks.map(block).join('')}`).join('\n');
  return `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<title>${plain(title)}</title>
<style>${STYLE}</style>
<h1>${plain(title)}</h1>
${body}
</html>
`;
}
