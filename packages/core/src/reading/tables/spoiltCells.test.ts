import { expect } from 'chai';
import type { Fact } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

/** What a cell may hold instead: nothing, a word of nobody's, a value of another kind, a copy cut short. */
const ODD = [
  '',
  '-',
  '—',
  'any',
  'none',
  '???',
  '12',
  '99999',
  '192.168.50',
  '192.168.50.9',
  'yes',
  '80-',
  '!443',
];

const FORWARDS = [
  [
    'Enabled',
    'Name',
    'Protocol',
    'Line',
    'Source IP',
    'External port',
    'Internal IP',
    'Internal port',
    'Schedule',
  ],
  ['on', 'Radio', 'TCP', 'wan1', 'any', '8214', '192.168.50.20', '8214', 'always'],
  [
    'on',
    'Quayport',
    'UDP',
    'wan1',
    '198.51.100.0/24',
    '28410-28420',
    '192.168.50.21',
    '28410-28420',
    'always',
  ],
  ['off', 'Web', 'TCP', 'wan1', 'any', '443', '192.168.50.22', '8443', 'always'],
];

const ZONE_RULES = [
  ['#', 'Name', 'From zone', 'To zone', 'Source', 'Destination', 'Protocol', 'Port', 'Action', 'Enabled'],
  ['1', 'radio', 'outside', 'inside', 'any', '192.168.50.20', 'TCP', '8214', 'allow', 'on'],
  ['2', 'quay', 'outside', 'inside', '198.51.100.0/24', '192.168.50.21', 'UDP', '28410', 'allow', 'on'],
  ['3', 'rest', 'outside', 'inside', 'any', 'any', 'any', 'any', 'deny', 'on'],
];

const page = (rows: readonly (readonly string[])[], separator: string): string =>
  rows.map((r) => `${r.join(separator)}\n`).join('');

const atLine = (facts: readonly Fact[], line: number): string[] =>
  facts.filter((f) => f.at.line === line).map((f) => JSON.stringify(f));

describe('a row with one spoilt cell', () => {
  for (const [title, rows] of Object.entries({ 'of forwards': FORWARDS, 'of zone rules': ZONE_RULES }))
    for (const separator of ['\t', ';'])
      it(
        `${title}, ${separator === '\t' ? 'tabs' : 'semicolons'}: the rows beside it stay, and it is ` +
          'a row or a problem',
        () => {
          const whole = readText(page(rows, separator));
          expect(whole?.problems).to.deep.equal([]);
          for (const [column] of (rows[2] ?? []).entries())
            for (const odd of ODD) {
              const spoilt = rows.map((r, i) => (i === 2 ? r.map((c, j) => (j === column ? odd : c)) : r));
              const read = readText(page(spoilt, separator));
              const about = `${rows[0]?.[column]}: “${odd}”`;
              if (!read || !whole) throw new Error(`${about} is not read`);
              for (const line of [2, 4])
                expect(atLine(read.facts, line), about).to.deep.equal(atLine(whole.facts, line));
              const told = [...read.facts.map((f) => f.at.line), ...read.problems.map((p) => p.line)];
              expect(told, about).to.include(3);
            }
        },
      );
});
