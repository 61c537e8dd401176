import { readFileSync } from 'node:fs';
import { CaseError, decodeText } from '@bright-ferry/core/case';
import { cleanText, readCapture, readText } from '@bright-ferry/core/reading';
import type { Problem } from '@bright-ferry/core/facts';
import { problemText } from '@bright-ferry/core/words';
import { readLarge } from './readLarge.ts';
import { factsDocument, type FactsDocument } from './factsDocument.ts';

/** A line that was not understood, and why, in words. */
interface ProblemLine {
  readonly line: number;
  readonly text: string;
  readonly why: string;
}

export interface ReadDocument {
  readonly file: string;
  readonly format: string | null;
  readonly facts: FactsDocument;
  readonly problems: readonly ProblemLine[];
}

/** Recognises and reads one file. @throws CaseError where the file cannot be opened */
export function readFile(file: string): ReadDocument {
  let bytes: Uint8Array;
  try {
    const large = readLarge(file, (text) => void process.stderr.write(text));
    if (large)
      return {
        file,
        format: large.format,
        facts: factsDocument(large.facts),
        problems: inWords(large.problems),
      };
    bytes = readFileSync(file);
  } catch (error) {
    throw new CaseError(
      file,
      null,
      (error as NodeJS.ErrnoException).code === 'EISDIR' ? 'is a folder, not a file' : 'cannot be opened',
    );
  }
  const capture = readCapture(bytes);
  if (capture)
    return {
      file,
      format: capture.format,
      facts: factsDocument(capture.facts),
      problems: inWords(capture.problems),
    };
  const decoded = decodeText(bytes);
  if ('notText' in decoded)
    return {
      file,
      format: null,
      facts: {},
      problems: inWords([{ line: 1, text: '', why: { is: 'no-text', found: decoded.notText } }]),
    };
  const text = cleanText(decoded.text);
  const reading = readText(text);
  if (!reading)
    return {
      file,
      format: null,
      facts: {},
      problems:
        text.trim() === ''
          ? inWords([{ line: 1, text: '', why: 'empty' }])
          : inWords([{ line: 1, text: text.trim().split('\n', 1).join('').slice(0, 200), why: 'no-reader' }]),
    };
  return {
    file,
    format: reading.format,
    facts: {
      ...factsDocument(reading.facts),
      ...(reading.parts
        ? {
            parts: reading.parts.map((p) => ({
              format: p.format,
              line: p.line,
              facts: factsDocument(p.facts),
            })),
          }
        : {}),
    },
    problems: inWords(reading.problems),
  };
}

const inWords = (problems: readonly Problem[]): ProblemLine[] =>
  problems.map((p) => ({ ...p, why: problemText(p.why) }));
