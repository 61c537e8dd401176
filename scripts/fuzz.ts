// Mutates examples of every format and feeds them to all readers: `npm run fuzz -- [--inputs 200000] [--seed
// N]`.
// Ends with an error on any crash, on any input that takes more than a second, or where memory keeps growing.
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { decodeText } from '@bright-ferry/core/case';
import { cleanText, readText } from '@bright-ferry/core/reading';

const { values } = parseArgs({
  options: {
    inputs: { type: 'string', default: '200000' },
    seed: { type: 'string', default: '1' },
    examples: { type: 'string' },
  },
});
const inputs = Number(values.inputs);
/** Longest example that is mutated, characters: longer ones only repeat themselves. */
const LONGEST = 1500;
/** No input may take longer than this, milliseconds. */
const MOST_TIME = 1000;
/** Heap growth between the first tenth and the end that counts as a leak, bytes. */
const MOST_GROWTH = 200 * 1024 * 1024;

let state = Number(values.seed) >>> 0;
const below = (n: number): number => {
  state = (state + 0x6d2b79f5) >>> 0;
  let t = state;
  t = Math.imul(t ^ (t >>> 15), t | 1);
  t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
  return ((t ^ (t >>> 14)) >>> 0) % n;
};

function filesBelow(folder: string): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) return filesBelow(path);
    return statSync(path).size < 500_000 ? [path] : [];
  });
}

const folder = values.examples ?? join(process.cwd(), 'packages/core/src/reading/examples');
const examples = [...filesBelow(folder), ...filesBelow(join(process.cwd(), 'packages/web/demo'))].flatMap(
  (path) => {
    const decoded = decodeText(readFileSync(path));
    return 'text' in decoded ? [decoded.text.slice(0, LONGEST)] : [];
  },
);
if (examples.length === 0) throw new Error(`no examples below ${folder}`);
const WORDS = [
  '\t',
  '\n',
  ' ',
  ':',
  '::',
  '0',
  '65536',
  '4294967296',
  '-1',
  '{',
  '}',
  '"',
  "'",
  '\\',
  '\u0000',
  '\u001b[31m',
  '/',
  '/33',
  '/129',
  '[',
  ']',
  '<',
  '>',
  '=',
  '%',
  '*',
  'é',
  '😀',
  '999.1.1.1',
  '0x',
  '!',
];

function mutated(text: string): string {
  let out = text;
  for (let n = 1 + below(6); n > 0; n--) {
    const at = below(out.length + 1);
    const length = below(40);
    switch (below(8)) {
      case 0:
        out = out.slice(0, at) + out.slice(at + length);
        break;
      case 1:
        out = out.slice(0, at) + WORDS[below(WORDS.length)]! + out.slice(at);
        break;
      case 2:
        out = out.slice(0, at) + String.fromCharCode(below(0x300)) + out.slice(at + 1);
        break;
      case 3:
        out = out.slice(0, at);
        break;
      case 4:
        out = out.slice(0, at) + out.slice(at, at + length).repeat(1 + below(4)) + out.slice(at);
        break;
      case 5: {
        const other = examples[below(examples.length)]!;
        const from = below(other.length + 1);
        out = out.slice(0, at) + other.slice(from, from + 200) + out.slice(at);
        break;
      }
      case 6:
        out = out.replaceAll('\n', below(2) === 0 ? '\r\n' : ' ');
        break;
      default:
        out = out
          .split('\n')
          .sort(() => below(3) - 1)
          .join('\n');
    }
    if (out.length > 2 * LONGEST) out = out.slice(0, 2 * LONGEST);
  }
  return out;
}

let slowest = 0;
let understood = 0;
let heap = 0;
const begin = performance.now();
for (let i = 0; i < inputs; i++) {
  const text = mutated(examples[below(examples.length)]!);
  const start = performance.now();
  try {
    if (readText(cleanText(text))) understood++;
  } catch (error) {
    console.error(`input ${i} of seed ${values.seed} crashed a reader:\n${JSON.stringify(text)}\n`, error);
    process.exit(1);
  }
  const took = performance.now() - start;
  slowest = Math.max(slowest, took);
  if (took > MOST_TIME) {
    console.error(`input ${i} of seed ${values.seed} took ${Math.round(took)} ms:\n${JSON.stringify(text)}`);
    process.exit(1);
  }
  if (i === Math.floor(inputs / 10)) {
    globalThis.gc?.();
    heap = process.memoryUsage().heapUsed;
  }
}
globalThis.gc?.();
const growth = process.memoryUsage().heapUsed - heap;
console.log(
  `${inputs} inputs from ${examples.length} examples: no crash, ${understood} read, slowest ` +
    `${slowest.toFixed(0)} ms, heap grew by ${(growth / 1024 / 1024).toFixed(0)} MiB, ` +
    `${((performance.now() - begin) / 1000).toFixed(0)} s`,
);
if (growth > MOST_GROWTH) {
  console.error('the heap keeps growing');
  process.exit(1);
}
