import { parseAddress } from '../../net/index.ts';
import type { Fact } from '../../facts/index.ts';
import { asList, asString, type Reader } from '../reader.ts';
import { looksLikeArray, elementsOf, damaged } from './ipJsonElements.ts';

/** `ip -j neigh`. */
export const ipNeighJson: Reader = {
  format: 'ip-neigh-json',
  title: 'neighbours (ip -j neigh)',
  recognise: (text) =>
    looksLikeArray(text) && /"dst"\s*:[\s\S]{0,200}"state"\s*:\s*\[/.test(text.slice(0, 4000)) ? 0.95 : 0,
  read(text) {
    const elements = elementsOf(text);
    if (!elements) return damaged('ip-neigh-json', text);
    const facts = elements.flatMap(({ record, at }): Fact[] => {
      const a = asString(record['dst']);
      return a && parseAddress(a)
        ? [
            {
              kind: 'neighbour',
              at,
              address: a,
              dev: asString(record['dev']),
              mac: asString(record['lladdr']),
              states: asList(record['state']).map(String),
            },
          ]
        : [];
    });
    return { format: 'ip-neigh-json', facts, problems: [], covers: ['neighbours'] };
  },
};
