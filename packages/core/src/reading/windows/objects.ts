import { nth } from '../../place/index.ts';
import { linesOf, type Line } from '../text.ts';

export type Fields = ReadonlyMap<string, string>;

/** `Name : value` blocks, JSON, or a table with a ruler below its heading. */
export function objectsOf(text: string): { fields: Fields; line: Line }[] {
  const start = text.trimStart()[0];
  if (start === '[' || start === '{') return jsonObjects(text);
  return [...listObjects(text), ...tableObjects(text)];
}

function jsonObjects(text: string): { fields: Fields; line: Line }[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return [];
  }
  const list = (Array.isArray(value) ? value : [value]).filter(
    (o): o is Record<string, unknown> => typeof o === 'object' && o !== null && !Array.isArray(o),
  );
  return list.map((o) => ({
    line: { number: 1, text: '' },
    fields: new Map(Object.entries(o).map(([k, v]) => [k.toLowerCase(), valueText(v)])),
  }));
}

/** A value as text; several values of one field, as the shell's JSON writes them, parted by commas. */
function valueText(v: unknown): string {
  if (Array.isArray(v)) return v.join(',');
  if (typeof v !== 'object' || v === null) return String(v ?? '');
  const inner = (v as { value?: unknown; Value?: unknown }).Value ?? (v as { value?: unknown }).value ?? '';
  return Array.isArray(inner) ? inner.join(',') : String(inner);
}

function listObjects(text: string): { fields: Fields; line: Line }[] {
  const out: { fields: Map<string, string>; line: Line }[] = [];
  let current: { fields: Map<string, string>; line: Line } | null = null;
  for (const line of linesOf(text)) {
    const m = /^([A-Za-z]\w*)\s+:\s?(.*)$/.exec(line.text);
    if (!m) {
      if (line.text.trim() === '') current = null;
      continue;
    }
    if (!current || current.fields.has(nth(m, 1).toLowerCase()))
      out.push((current = { fields: new Map(), line }));
    current.fields.set(nth(m, 1).toLowerCase(), nth(m, 2).trim());
  }
  return out.filter((o) => o.fields.size >= 2);
}

function tableObjects(text: string): { fields: Fields; line: Line }[] {
  const lines = linesOf(text);
  const ruler = lines.findIndex((l) => /^-+(?:\s+-+)+\s*$/.test(l.text));
  if (ruler < 1) return [];
  const starts = [...nth(lines, ruler).text.matchAll(/-+/g)].map((m) => m.index);
  const cut = (t: string): string[] => starts.map((s, i) => t.slice(s, starts[i + 1] ?? undefined).trim());
  const names = cut(nth(lines, ruler - 1).text).map((n) => n.toLowerCase());
  return lines
    .slice(ruler + 1)
    .filter((l) => l.text.trim() !== '')
    .map((line) => ({ line, fields: new Map(cut(line.text).map((v, i) => [names[i] ?? '', v] as const)) }));
}
