/** Where cases with known faults come from: a folder of recorded ones, or the generator. */
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { basename, join, relative } from 'node:path';
import { brokenCase } from '../../packages/core/src/testing/broken/index.ts';
import type { Answer, Known, Truth } from './play.ts';

export interface KnownCase extends Known {
  readonly name: string;
  readonly truth: Truth;
}

/** `cases/NAME/case.json` with its evidence, `answers/NAME/answers.json`, `truth/NAME.json`. */
export function recordedCase(folder: string, name: string): KnownCase {
  const own = join(folder, 'cases', name);
  const { answers } = readJson<{ answers: RecordedAnswer[] }>(join(folder, 'answers', name, 'answers.json'));
  return {
    name,
    truth: readJson<Truth>(join(folder, 'truth', `${name}.json`)),
    document: readJson<object>(join(own, 'case.json')),
    files: new Map(
      filesIn(join(own, 'evidence')).map((f) => [relative(own, f), new Uint8Array(readFileSync(f))]),
    ),
    answers: answers.map(({ files = [], observation, observations = [], ...a }): Answer => ({
      ...a,
      observations: [...observations, ...(observation ? [observation] : [])],
      texts: Object.fromEntries(
        files.map((f) => [basename(f), () => new Uint8Array(readFileSync(join(folder, 'answers', name, f)))]),
      ),
    })),
  };
}

/** The case that the generator makes of a seed. */
export function generatedCase(seed: number): KnownCase {
  const { name, document, answers, faults } = brokenCase(seed);
  const encoder = new TextEncoder();
  return {
    name,
    truth: { healthy: faults.length === 0, worksNow: faults.length === 0, faults },
    document,
    files: new Map(),
    answers: answers.map(({ texts = {}, ...a }): Answer => ({
      ...a,
      texts: Object.fromEntries(Object.entries(texts).map(([f, text]) => [f, () => encoder.encode(text)])),
    })),
  };
}

interface RecordedAnswer extends Omit<Answer, 'texts'> {
  readonly files?: readonly string[];
  readonly observation?: NonNullable<Answer['observations']>[number];
}

const readJson = <T>(path: string): T => JSON.parse(readFileSync(path, 'utf8')) as T;
const filesIn = (dir: string): string[] =>
  existsSync(dir)
    ? readdirSync(dir).flatMap((f) =>
        statSync(join(dir, f)).isDirectory() ? filesIn(join(dir, f)) : [join(dir, f)],
      )
    : [];
