import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { readComplaint } from '../intake/index.ts';
import { lookAlikes } from './lookAlike.ts';
import { READERS } from './readers.ts';
import { readText } from './recognise.ts';

/**
 * The work that a piece of code gives to regular expressions: characters that they have to look at. Each
 * expression by itself is linear, which the linter proves (`regexp/no-super-linear-*`); so the whole is
 * linear where this sum is.
 */
function charactersMatched(work: () => void): number {
  const { exec } = RegExp.prototype;
  let sum = 0;
  RegExp.prototype.exec = function counted(this: RegExp, text: string) {
    const from = this.global || this.sticky ? this.lastIndex : 0;
    const match = exec.call(this, text);
    // A sticky expression that fails has looked at its own place only.
    let to;
    if (match) to = match.index + match[0].length;
    else if (this.sticky) to = from;
    else to = String(text).length;
    sum += to - from + 1;
    return match;
  };
  try {
    work();
  } finally {
    RegExp.prototype.exec = exec;
  }
  return sum;
}

const SIZE = 400;
/**
 * Four times the text may cost four times the work, and a little where a longer text is looked at in one more
 * way; squared it were 16.
 */
const MOST_GROWTH = 6;
/** Each beginning is tried with some of the pieces, in turn. */
const PIECES_EACH = 3;

const EXAMPLES = fileURLToPath(new URL('./examples/', import.meta.url));
const PIECES = [
  ' ',
  '.',
  'a',
  '1',
  ':',
  '-',
  '=',
  ',',
  ';',
  '|',
  '\t',
  '/',
  '"',
  '(',
  '<td>',
  '[',
  '{',
  '1.',
  'a ',
  'a.',
  '0:',
  '. ',
  'net.ipv4.',
  'name=',
  '192.0.2.1 ',
] as const;

/** Heads that make a text look like something, before a long line or many lines of one piece. */
const heads = readdirSync(EXAMPLES)
  .filter((name) => /\.(txt|csv|json|conf|xml|log)$/.test(name))
  .map((name) => ({
    name,
    text: readFileSync(`${EXAMPLES}${name}`, 'utf8').split('\n').slice(0, 3).join('\n'),
  }))
  .filter(({ text }) => text.length < 2000);

function expectLinear(label: string, textOf: (size: number) => string, work: (text: string) => void): void {
  const [none, once, four] = [0, SIZE, 4 * SIZE].map((size) =>
    charactersMatched(() => work(textOf(size))),
  ) as [number, number, number];
  const most = MOST_GROWTH * Math.max(none, once, SIZE);
  expect(four, `${label}: ${none}, ${once}, ${four}`).to.be.at.most(most);
}

describe('the work of reading grows with the text', function () {
  this.timeout(120_000);

  for (const piece of PIECES) {
    const shown = JSON.stringify(piece);
    const line = (size: number): string => piece.repeat(Math.ceil(size / piece.length));
    it(`one long line of ${shown}, for every reader`, () => {
      for (const reader of READERS) {
        expectLinear(`${reader.format} recognises ${shown}`, line, (text) => void reader.recognise(text));
        expectLinear(`${reader.format} reads ${shown}`, line, (text) => void reader.read(text));
      }
    });
    it(`long lines and many lines of ${shown} behind the beginning of each example`, () => {
      const number = PIECES.indexOf(piece);
      const mine = heads.filter((_, i) => (i + number) % Math.ceil(PIECES.length / PIECES_EACH) === 0);
      for (const { name, text } of mine) {
        expectLinear(
          `${name} + ${shown}`,
          (size) => `${text}\n${line(size)}`,
          (t) => void readText(t),
        );
        expectLinear(
          `${name} + lines of ${shown}`,
          (size) => `${text}\n${`${line(40)}\n`.repeat(size / 40)}`,
          (t) => void readText(t),
        );
      }
    });
    it(`a complaint and misread characters with ${shown}`, () => {
      expectLinear(`complaint ${shown}`, line, (text) => void readComplaint(`tcp 80 ${text}!`));
      expectLinear(`look-alikes ${shown}`, line, (text) => void lookAlikes(`192.0.2.1 ${text}!`));
    });
  }

  it('a line that never ended', () => {
    const text = `net${'.'.repeat(5000)} ok\n`;
    expect(charactersMatched(() => void readText(text))).to.be.below(text.length * 2000);
  });
});
