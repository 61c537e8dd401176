/**
 * Compares what `read` finds with a list of what is known to stand in files, for each format: found, missed,
 * invented.
 * `npm run facts -- FOLDER [FORMAT]`; the folder holds `manifest.json`: `{ "files": [ { "file", "format",
 * "facts" } ] }`, its facts from
 * another source than the files themselves. Notes are left out.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readFile } from '../packages/cli/src/readCommand.ts';

type Json = null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json };
interface Entry {
  readonly file: string;
  readonly format: string | null;
  readonly facts: { readonly [key: string]: Json };
}
interface Count {
  files: number;
  expected: number;
  found: number;
  invented: number;
}

const isRecord = (v: unknown): v is { readonly [key: string]: Json } =>
  typeof v === 'object' && v !== null && !Array.isArray(v);
const key = (v: unknown): string => String(v).toLowerCase().replaceAll(/\s+/g, ' ');

/** Whether all that is expected stands in what was found; lists may be in any order. */
function holds(expected: Json, found: unknown): boolean {
  if (Array.isArray(expected))
    return Array.isArray(found) && expected.every((e) => found.some((f) => holds(e as Json, f)));
  if (isRecord(expected))
    return (
      isRecord(found) &&
      Object.entries(expected).every(
        ([k, v]) =>
          k === 'note' ||
          (v === null && found[k] === undefined) ||
          (v === false && found[k] === undefined) ||
          holds(v, found[k]),
      )
    );
  if (expected === null) return found === null || found === undefined;
  return key(expected) === key(found);
}

function compare(
  path: string,
  expected: Json,
  found: unknown,
  count: Count,
  miss: (text: string) => void,
): void {
  if (Array.isArray(expected) && expected.length > 0 && isRecord(expected[0])) {
    const list: unknown[] = Array.isArray(found) ? found : [];
    const free = new Set(list.keys());
    for (const e of expected) {
      count.expected++;
      const at = [...free].find((i) => holds(e as Json, list[i]));
      if (at === undefined) miss(`${path}: ${JSON.stringify(e)} is not found`);
      else {
        count.found++;
        free.delete(at);
      }
    }
    for (const i of free) {
      count.invented++;
      miss(`${path}: ${JSON.stringify(list[i])} is not expected`);
    }
    return;
  }
  if (isRecord(expected) && isRecord(found)) {
    for (const [k, v] of Object.entries(expected))
      if (k !== 'note') compare(`${path}.${k}`, v, found[k], count, miss);
    return;
  }
  count.expected++;
  if (holds(expected, found)) count.found++;
  else miss(`${path}: ${JSON.stringify(expected)} against ${JSON.stringify(found) ?? 'nothing'}`);
}

const [folder, only] = process.argv.slice(2);
if (!folder) {
  console.error(
    'npm run facts -- FOLDER [FORMAT]: the folder holds manifest.json and the files that it names',
  );
  process.exit(2);
}
const { files } = JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')) as { files: Entry[] };
const counts = new Map<string, Count>();
for (const entry of files) {
  const format = entry.format ?? '(none)';
  if (only && format !== only) continue;
  const count = counts.get(format) ?? { files: 0, expected: 0, found: 0, invented: 0 };
  counts.set(format, count);
  count.files++;
  const read = readFile(join(folder, entry.file));
  for (const [k, v] of Object.entries(entry.facts))
    if (k !== 'note')
      compare(k, v, read.facts[k], count, (text) =>
        console.log(`${entry.file} (${read.format}) ${text.slice(0, 300)}`),
      );
}
console.log('\nformat, files: expected, found, invented');
for (const [format, c] of [...counts].sort(([a], [b]) => a.localeCompare(b)))
  console.log(`${format}, ${c.files}: ${c.expected}, ${c.found}, ${c.invented}`);
const all = [...counts.values()].reduce(
  (a, c) => ({
    files: a.files + c.files,
    expected: a.expected + c.expected,
    found: a.found + c.found,
    invented: a.invented + c.invented,
  }),
  { files: 0, expected: 0, found: 0, invented: 0 },
);
console.log(`all, ${all.files}: ${all.expected}, ${all.found}, ${all.invented}`);
