import type { NameFact } from '../../facts/index.ts';
import { parseAddress } from '../../net/index.ts';
import { nth } from '../../place/index.ts';
import { written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { spanOf, type Line } from '../text.ts';

export interface Answer {
  readonly name: string;
  readonly type: string;
  readonly value: string;
  readonly line: Line;
}

const ROW = /^([\w-]+(?:\.[\w-]+)+)\.\s+(?:\d+\s+)?IN\s+(A|AAAA|CNAME)\s+(\S+?)\.?\s*$/;
const QUERY = /^([\w-]+(?:\.[\w-]+)+): ([0-9A-Fa-f.:]+)(?:\s+-- link: \S+)?\s*$/;
const MORE = /^\s{4,}([0-9A-Fa-f.:]+)(?:\s+-- link: \S+)?\s*$/;
const DATABASE = /^([0-9A-Fa-f.:]+)\s+(?:STREAM|DGRAM|RAW)(?:\s+(\S+))?\s*$/;

const typeOf = (text: string): string | null => {
  const parsed = parseAddress(text);
  if (!parsed) return null;
  return parsed.family === 4 ? 'A' : 'AAAA';
};

/** Answers of one question, each kind of record as one fact, in their order. */
export function answerFacts(answers: readonly Answer[]): NameFact[] {
  const found = new Map<string, NameFact>();
  for (const { name, type, value, line } of answers) {
    const before = found.get(`${name} ${type}`);
    if (before?.answers.includes(value)) continue;
    found.set(`${name} ${type}`, {
      kind: 'name',
      at: before?.at ?? spanOf(line, value),
      name,
      type,
      status: 'NOERROR',
      answers: [...(before?.answers ?? []), value],
    });
  }
  return [...found.values()];
}

/** A quoted row of an answer: `play.example.net. 300 IN A 203.0.113.50`. */
export const answerRow: Reader = {
  format: 'answer-row',
  title: 'rows of a DNS answer',
  recognise(text) {
    const lines = written(text.slice(0, 5000));
    return lines.length > 0 && lines.every((l) => ROW.test(l.text.trim())) ? 0.93 : 0;
  },
  read(text) {
    const answers = written(text).flatMap((line): Answer[] => {
      const row = ROW.exec(line.text.trim());
      return row ? [{ name: nth(row, 1), type: nth(row, 2), value: nth(row, 3), line }] : [];
    });
    return { format: 'answer-row', facts: answerFacts(answers), problems: [], covers: [] };
  },
};

/** `resolvectl query NAME`: addresses below the name, with the link that they were asked on. */
export const resolvedQuery: Reader = {
  format: 'resolved-query',
  title: 'a DNS answer (resolvectl query)',
  recognise: (text) =>
    written(text.slice(0, 5000)).some((l) => QUERY.test(l.text)) && /^-- Information acquired/m.test(text)
      ? 0.97
      : 0,
  read(text) {
    let name: string | null = null;
    const answers: Answer[] = [];
    for (const line of written(text)) {
      const first = QUERY.exec(line.text);
      name = first ? nth(first, 1) : name;
      const value = first ? nth(first, 2) : MORE.exec(line.text)?.[1];
      const type = value === undefined ? null : typeOf(value);
      if (name !== null && value !== undefined && type !== null) answers.push({ name, type, value, line });
    }
    return { format: 'resolved-query', facts: answerFacts(answers), problems: [], covers: [] };
  },
};

/** `getent ahosts NAME`: what the machine itself makes of a name, its own table of hosts included. */
export const hostDatabase: Reader = {
  format: 'host-database',
  title: 'what the machine makes of a name (getent)',
  recognise(text) {
    const lines = written(text.slice(0, 5000));
    return lines.length > 0 && lines.every((l) => DATABASE.test(l.text)) ? 0.97 : 0;
  },
  read(text) {
    let name: string | null = null;
    const answers: Answer[] = [];
    for (const line of written(text)) {
      const row = DATABASE.exec(line.text);
      if (!row) continue;
      name = row[2] ? nth(row, 2) : name;
      const type = typeOf(nth(row, 1));
      if (name !== null && type !== null) answers.push({ name, type, value: nth(row, 1), line });
    }
    return { format: 'host-database', facts: answerFacts(answers), problems: [], covers: [] };
  },
};
