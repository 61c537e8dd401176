import { expect } from 'chai';
import { caseFacts, HOME } from '../../testing/index.ts';
import { formatAddress } from '../../net/index.ts';
import { aimOf } from './packet.ts';

/** Where `play.example.net` leads by the given lookups: an address, or why there is none. */
function ledTo(...lookups: readonly string[]): string | null {
  const files = Object.fromEntries(lookups.map((text, i) => [`client/name${i}`, text]));
  const aim = aimOf(caseFacts(HOME, files, { client: { dials: 'play.example.net:8214' } }));
  return aim.address ? formatAddress(aim.address) : aim.trouble;
}

const asked = (type: string, ...records: readonly string[]): string =>
  '; <<>> DiG 9.18.28 <<>> play.example.net\n' +
  ';; ->>HEADER<<- opcode: QUERY, status: NOERROR, id: 1\n' +
  `;; QUESTION SECTION:\n;play.example.net.\tIN\t${type}\n\n` +
  (records.length > 0 ? `;; ANSWER SECTION:\n${records.map((r) => `${r}\n`).join('')}` : '');
const ALIAS = 'play.example.net is an alias for heron.example.net.\n';

describe('where a name leads that a client dials', () => {
  const table: readonly (readonly [string, string, ...string[]])[] = [
    ['its own address', '203.0.113.50', asked('A', 'play.example.net. 300 IN A 203.0.113.50')],
    [
      'the address of what it is an alias of',
      '203.0.113.50',
      `${ALIAS}heron.example.net has address 203.0.113.50\n`,
    ],
    [
      'an alias in one piece of evidence, its address in another',
      '203.0.113.50',
      ALIAS,
      'heron.example.net has address 203.0.113.50\n',
    ],
    ['an alias of a name that nobody has looked up', 'not-looked-up', ALIAS],
    [
      'an alias of a name that is not there',
      'no-such-name',
      ALIAS,
      'Host heron.example.net not found: 3(NXDOMAIN)\n',
    ],
    ['a name without an address', 'no-address', asked('A')],
    ['a name that is not there', 'no-such-name', 'Host play.example.net not found: 3(NXDOMAIN)\n'],
    [
      'where its mail goes says nothing of addresses (RFC 5321 §5.1)',
      'not-looked-up',
      asked('MX', 'play.example.net. 300 IN MX 10 mail.example.net.'),
    ],
    [
      'aliases that go round (RFC 1034 §3.6.2)',
      'not-looked-up',
      `${ALIAS}heron.example.net is an alias for play.example.net.\n`,
    ],
  ];
  for (const [title, expected, ...lookups] of table)
    it(`${title}: ${expected}`, () => expect(ledTo(...lookups)).to.equal(expected));
});

describe('where a text leads that cannot be dialled as it is written', () => {
  const A = asked('A', 'play.example.net. 300 IN A 198.51.100.7');
  const table: readonly (readonly [string, string, string])[] = [
    ['the address in it', '198.51.100.9:82l4', '198.51.100.9'],
    ['what the name in it was looked up to be', 'play.example.net:82l4', '198.51.100.7'],
    ['nowhere yet: the name in it was not looked up', 'heron.example.net:82l4', 'not-looked-up'],
    // The router's own outside address, which HOME says, would be a guess.
    ['nowhere: it holds neither', '???', 'no-dial'],
  ];
  for (const [title, dials, expected] of table)
    it(title, () => {
      const aim = aimOf(caseFacts(HOME, { 'client/name': A }, { client: { dials } }));
      expect(aim.address ? formatAddress(aim.address) : aim.trouble).to.equal(expected);
      expect(aim.port).to.equal(null);
    });
});
