import type { LabelledFact } from '../../facts/index.ts';
import { parseAddress } from '../../net/index.ts';
import { linesOf } from '../text.ts';

/** A key of an export that says which address of the machine its value is. */
const ADDRESS = /\b(?:address|ip|ipv4|ipv6)\b/;
const INSIDE = /\b(?:private|internal|inside)\b/;
const OUTSIDE = /\b(?:public|external|outside)\b/;

const wordsOf = (key: string): string =>
  key
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .replace(/[_-]+/g, ' ')
    .toLowerCase();

/**
 * The machine's addresses that an export of its perimeter carries beside the rows: `"privateAddress":
 * "10.0.1.21"`, `"public_ip": "192.0.2.80"`.
 */
export function ownAddresses(text: string): LabelledFact[] {
  return linesOf(text).flatMap((line) =>
    [...line.text.matchAll(/"([\w -]{2,40})"\s*:\s*(?:"([^"\n]*)"|(null))/g)].flatMap((m): LabelledFact[] => {
      const [whole, key = '', value = ''] = m;
      const words = wordsOf(key);
      if (!ADDRESS.test(words) || INSIDE.test(words) === OUTSIDE.test(words)) return [];
      const end = m.index + whole.length - (m[2] === undefined ? 0 : 1);
      const at = { line: line.number, column: end - (m[2] ?? 'null').length, endColumn: end };
      const isOutward = OUTSIDE.test(words);
      if (parseAddress(value))
        return [{ kind: 'labelled', what: isOutward ? 'wan-address' : 'own-address', label: key, value, at }];
      const isNone = m[3] !== undefined || /^(?:none|-|–)?$/i.test(value);
      return isOutward && isNone
        ? [{ kind: 'labelled', what: 'no-public-address', label: key, value: 'none', at }]
        : [];
    }),
  );
}
