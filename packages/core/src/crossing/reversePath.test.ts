import { expect } from 'chai';
import { address } from '../net/index.ts';
import { testMachine } from '../testing/index.ts';
import { checkSource } from './reversePath.ts';

const [ANY, OWN] = ['net.ipv4.conf.all.rp_filter', 'net.ipv4.conf.lan.rp_filter'];

/** What becomes of a packet that comes in by `lan`; with two answers where something is asked. */
function told(
  from: string,
  settings: Readonly<Record<string, string>>,
  { routes = ['10.8.0.0/24 via 203.0.113.1 dev wan'], mark = 0 }: { routes?: string[]; mark?: number } = {},
): string {
  const made = testMachine('gateway', {
    interfaces: { wan: ['203.0.113.50/24', '2001:db8:50::1/64'], lan: ['192.168.50.1/24'] },
    routes,
  });
  const machine = {
    ...made,
    settings: new Map(Object.entries(settings).map(([name, value]) => [name, { value, source: null }])),
  };
  const source = address(from);
  const destination = address(source.family === 4 ? '203.0.113.50' : '2001:db8:50::1');
  const asked: string[] = [];
  const ends = [0, 1].map((answer) => {
    const end = checkSource(machine, { source, destination, mark }, 'lan', ({ need }) => {
      asked.push(need.need);
      return answer;
    });
    return end?.kind ?? 'passes';
  });
  return asked.length === 0 ? (ends[0] as string) : `${ends.join(' or ')}, asks ${asked[0]}`;
}

const [OFF, STRICT, LOOSE] = ['0', '1', '2'];
const ELSEWHERE = '10.8.0.9';
const NOWHERE = '198.51.100.7';
const HERE = '192.168.50.20';

describe('source validation (RFC 3704, ip-sysctl rp_filter)', () => {
  const table: readonly (readonly [string, string, Readonly<Record<string, string>>, string])[] = [
    ['switched off, no way back', NOWHERE, { [ANY]: OFF, [OWN]: OFF }, 'passes'],
    ['strict, the way back is where it came from', HERE, { [ANY]: STRICT, [OWN]: STRICT }, 'passes'],
    ['strict, the way back is another one', ELSEWHERE, { [ANY]: STRICT, [OWN]: OFF }, 'reverse-path'],
    ['strict by the interface alone', ELSEWHERE, { [ANY]: OFF, [OWN]: STRICT }, 'reverse-path'],
    ['strict, no way back', NOWHERE, { [ANY]: STRICT, [OWN]: STRICT }, 'reverse-path'],
    ['loose, the way back is another one', ELSEWHERE, { [ANY]: LOOSE, [OWN]: OFF }, 'passes'],
    ['loose, no way back', NOWHERE, { [ANY]: OFF, [OWN]: LOOSE }, 'reverse-path'],
    ['the larger value counts', ELSEWHERE, { [ANY]: STRICT, [OWN]: LOOSE }, 'passes'],
    ['its own address, from outside', '192.168.50.1', { [ANY]: OFF, [OWN]: OFF }, 'martian'],
    ['IPv6 is not looked at', '2001:db8:99::1', { [ANY]: STRICT, [OWN]: STRICT }, 'passes'],
    ['nothing known, another way back', ELSEWHERE, {}, 'passes or reverse-path, asks reverse-path'],
    ['nothing known, the way back is where it came from', HERE, {}, 'passes'],
    [
      'strict for all, the interface not known',
      ELSEWHERE,
      { [ANY]: STRICT },
      'passes or reverse-path, asks reverse-path',
    ],
    ['strict for all, no way back by any value', NOWHERE, { [ANY]: STRICT }, 'reverse-path'],
    [
      'off for all, the interface not known',
      NOWHERE,
      { [ANY]: OFF },
      'passes or reverse-path, asks reverse-path',
    ],
    ['loose for all is all, whatever the interface has', ELSEWHERE, { [ANY]: LOOSE }, 'passes'],
  ];
  for (const [title, from, settings, expected] of table)
    it(title, () => expect(told(from, settings)).to.equal(expected));

  it('leaves a packet alone where its way back is not known', () => {
    const machine = testMachine('gateway', { interfaces: { lan: ['192.168.50.1/24'] } });
    const open = { ...machine, routes: { 4: null, 6: null } };
    const packet = { source: address(NOWHERE), destination: address('192.168.50.1'), mark: 0 };
    expect(checkSource(open, packet, 'lan', () => 1)).to.equal(null);
  });
});
