import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect } from 'chai';
import { CaseError, checkCaseDocument } from '@bright-ferry/core/case';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const validate = new Ajv2020({ strict: false }).compile(
  JSON.parse(readFileSync(here('../../../docs/formats/case.schema.json'), 'utf8')) as object,
);
const accepted = (value: unknown): boolean => {
  try {
    checkCaseDocument(value);
    return true;
  } catch (error) {
    if (error instanceof CaseError) return false;
    throw error;
  }
};

describe('the published schema of case.json', () => {
  const demo = here('../../web/demo/');
  for (const name of readdirSync(demo)) {
    it(`accepts the demo case ${name}, as the program does`, () => {
      const value: unknown = JSON.parse(readFileSync(`${demo}${name}/case.json`, 'utf8'));
      expect(validate(value), JSON.stringify(validate.errors)).to.equal(true);
      expect(accepted(value)).to.equal(true);
    });
  }

  const good = { format: 'bright-ferry-case', version: 1, title: 'T', path: [{ id: 'host', role: 'host' }] };
  const bad: readonly (readonly [string, object])[] = [
    ['another format', { ...good, format: 'note' }],
    ['a newer version', { ...good, version: 2 }],
    ['no title', { ...good, title: undefined }],
    ['no path', { ...good, path: undefined }],
    ['an unknown role', { ...good, path: [{ id: 'x', role: 'printer' }] }],
    ['a port above 65535', { ...good, service: { endpoints: [{ protocol: 'tcp', port: 65536 }] } }],
    ['evidence outside its folder', { ...good, evidence: [{ stop: 'host', file: '/etc/passwd' }] }],
    [
      'a typed line that is a text alone',
      { ...good, path: [{ id: 'host', role: 'host', typed: ['WAN IP'] }] },
    ],
    ['typed lines that are no list', { ...good, path: [{ id: 'host', role: 'host', typed: 'WAN IP' }] }],
    ['a name that is no text', { ...good, path: [{ id: 'host', role: 'host', name: { a: 1 } }] }],
    ['a stop that is nothing', { ...good, path: [null] }],
    [
      'found for no known reason',
      {
        ...good,
        path: [{ id: 'x', role: 'gateway', found: { id: 'x', reason: { by: 'magic' }, evidence: [] } }],
      },
    ],
    ['a change without a place', { ...good, changes: [{ nonsense: 1 }] }],
    ['changes that are no list', { ...good, changes: {} }],
    ['a dismissal that is no id', { ...good, dismissed: [1] }],
    [
      'settings of a kind that every object has',
      { ...good, path: [{ id: 'host', role: 'host', settings: { kind: 'constructor' } }] },
    ],
    [
      'settings of no kind',
      { ...good, path: [{ id: 'host', role: 'host', settings: { kind: '__proto__' } }] },
    ],
    [
      'corrections of unlike length',
      {
        ...good,
        evidence: [{ stop: 'host', file: 'evidence/host/a', corrections: [{ line: 0, from: 'O', to: '0' }] }],
      },
    ],
    [
      'columns of an unknown table',
      { ...good, evidence: [{ stop: 'host', file: 'evidence/host/a', columns: { table: 'x', roles: [] } }] },
    ],
    [
      'an observation without an outcome',
      { ...good, observations: [{ vantage: 'lan', to: '192.0.2.1:80/tcp' }] },
    ],
  ];
  for (const [title, value] of bad) {
    it(`refuses ${title}, as the program does`, () => {
      const plain: unknown = JSON.parse(JSON.stringify(value));
      expect(validate(plain)).to.equal(false);
      expect(accepted(plain)).to.equal(false);
    });
  }
});
