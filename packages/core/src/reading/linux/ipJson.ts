import { parseAddress } from '../../net/index.ts';
import type { Fact, Problem } from '../../facts/index.ts';
import { asList, asString, type Reader } from '../reader.ts';
import { looksLikeArray, elementsOf, damaged, unreadRow } from './ipJsonElements.ts';

/** `ip -j neigh`. */
export const ipNeighJson: Reader = {
  format: 'ip-neigh-json',
  title: 'neighbours (ip -j neigh)',
  recognise: (text) =>
    looksLikeArray(text) && /"dst"\s*:[\s\S]{0,200}"state"\s*:\s*\[/.test(text.slice(0, 4000)) ? 0.95 : 0,
  read(text) {
    const elements = elementsOf(text);
    if (!elements) return damaged('ip-neigh-json', text);
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    for (const { record, at } of elements) {
      const address = asString(record['dst']);
      if (address === null || !parseAddress(address))
        problems.push(unreadRow(record, at, 'neighbour-unreadable'));
      else
        facts.push({
          kind: 'neighbour',
          at,
          address,
          dev: asString(record['dev']),
          mac: asString(record['lladdr']),
          states: asList(record['state']).map(String),
        });
    }
    return { format: 'ip-neigh-json', facts, problems, covers: ['neighbours'] };
  },
};
