import { expect } from 'chai';
import { readText } from '../recognise.ts';

const said = (line: string): (readonly [string, string])[] =>
  (readText(`Internet\nWAN IP: 203.0.113.50\n${line}\n`)?.facts ?? []).flatMap((f) =>
    f.kind === 'labelled' && f.what !== 'wan-address' ? [[f.what, f.value] as const] : [],
  );

describe('lines of a status page', () => {
  for (const [line, expected] of [
    ['Connection: down, no link', [['line-state', 'down']]],
    ['Connection: up', [['line-state', 'up']]],
    // The kind of a connection is no state of it, whatever words stand in it.
    ['Connection: PPPoE, backup line inactive', []],
    ['Line state: not connected', [['line-state', 'down']]],
    ['Hairpin: off', [['hairpin', 'off']]],
    ['NAT loopback: enabled', [['hairpin', 'on']]],
    ['Public address: none', [['no-public-address', 'none']]],
  ] as const)
    it(line, () => expect(said(line)).to.deep.equal(expected));
});
