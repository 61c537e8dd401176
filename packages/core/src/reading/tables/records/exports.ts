import { Parser } from 'htmlparser2';
import { parsePlacedJson } from '../../json.ts';
import { fieldsOf, placed, spaced, type Field } from '../../fields.ts';
import { lineIndex, linesOf } from '../../text.ts';
import type { Block } from '../blocks.ts';
import { stateIsOn } from '../forwardCells.ts';
import { isState } from '../states.ts';
import { LEAST_FIELDS, saysState, tableOf, type Entry } from './record.ts';

/** Lists of objects in a device's JSON export (RFC 8259): each list a table. */
export function jsonTables(text: string): Block[] {
  const top = parsePlacedJson(text);
  if (!top) return [];
  if (Array.isArray(top.value)) return listed(text, null);
  const keys = typeof top.value === 'object' && top.value !== null ? Object.entries(top.value) : [];
  const lists = keys.flatMap(([key, value]) => (Array.isArray(value) ? [key] : []));
  const beside = Object.fromEntries(keys.filter(([key]) => !lists.includes(key)));
  const isOff = fieldsOf(beside, '').some(([, value]) => mayBeOff(value));
  return isOff || lists.some((key) => saysState(spaced(key)))
    ? []
    : lists.flatMap((key) => listed(text, key));
}

/** Beside a list it may switch off all of it. */
const mayBeOff = (value: string): boolean => isState(value) && !stateIsOn(value);

function listed(text: string, key: string | null): Block[] {
  const lines = linesOf(text);
  const entries = (parsePlacedJson(text, key)?.elements ?? []).map(({ value, at }): Entry => {
    const fields = typeof value === 'object' && value !== null ? fieldsOf(value, '') : [];
    return { title: null, fields: placed(fields, lines, at.line, at.column ?? 0) };
  });
  const table = entries.every((e) => e.fields.length >= LEAST_FIELDS) ? tableOf(entries, []) : null;
  return table ? [table] : [];
}

/** Elements that hold nothing but fields (XML 1.0), of one name: each name a table. */
export function xmlTables(text: string): Block[] {
  const lines = linesOf(text);
  const place = lineIndex(text);
  const open: { readonly name: string; fields: Field[]; text: string; from: number; isLeaf: boolean }[] = [];
  const found = new Map<string, Entry[]>();
  let isOff = false;
  const parser: Parser = new Parser(
    {
      onopentag: (name) => {
        const parent = open[open.length - 1];
        if (parent) parent.isLeaf = false;
        open.push({ name, fields: [], text: '', from: parser.endIndex + 1, isLeaf: true });
      },
      ontext: (part) => {
        const last = open[open.length - 1];
        if (last) last.text += part;
      },
      onclosetag: () => {
        const done = open.pop();
        const parent = open[open.length - 1];
        if (!done) return;
        if (done.isLeaf && parent) {
          const value = done.text.trim();
          const { line: number, column } = place(done.from + Math.max(0, done.text.indexOf(value)));
          const line = lines[number - 1] ?? { number, text: '' };
          parent.fields.push({ key: spaced(done.name), value, line, column });
        } else if (done.fields.length < LEAST_FIELDS) isOff ||= done.fields.some((f) => mayBeOff(f.value));
        else found.set(done.name, [...(found.get(done.name) ?? []), { title: null, fields: done.fields }]);
      },
    },
    { xmlMode: true },
  );
  parser.end(text);
  if (isOff || [...found.keys()].some((name) => saysState(spaced(name)))) return [];
  return [...found.values()].flatMap((entries) => tableOf(entries, []) ?? []);
}
