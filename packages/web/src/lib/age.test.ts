import { expect } from 'chai';
import { ageText } from './age.ts';

const NOW = Date.parse('2026-11-25T12:00:00Z');

describe('how old a fact is', () => {
  for (const [at, text] of [
    ['2026-11-25T11:59:40Z', 'just now'],
    ['2026-11-25T11:46:00Z', '14 min ago'],
    ['2026-11-25T09:00:00Z', '3 h ago'],
    ['2026-11-24T10:00:00Z', '26 h ago'],
    ['2026-11-20T12:00:00Z', '5 days ago'],
    ['2026-11-25T12:00:30Z', 'just now'],
    ['no time', ''],
  ] as const) {
    it(`${at}: ${text}`, () => expect(ageText(at, NOW)).to.equal(text));
  }
});
