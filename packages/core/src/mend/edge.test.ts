import { expect } from 'chai';
import { mendCases, serverEvidence } from '../testing/index.ts';

const { CARRIER, CLIENT, HOST, mendSteps, told, values } = mendCases;
type Given = mendCases.Given;

type Row = Record<string, unknown>;
/** A rented machine behind a list of what is let in. */
const behind = (settings: Row): Given => ({
  path: [
    CLIENT,
    CARRIER,
    { id: 'edge', role: 'edge', settings: { kind: 'allow-list', lists: [], ...settings } },
    HOST,
  ],
  files: serverEvidence('203.0.113.80/24', '203.0.113.1', ['tcp 0.0.0.0:8214 gullcast']),
  to: '203.0.113.80:8214/tcp',
});
const list = (...rows: Row[]): Given =>
  behind({
    lists: [
      {
        name: 'radio',
        rows: rows.map((r) => ({ protocol: 'tcp', ports: 8214, sources: ['any'], ...r })),
      },
    ],
    groups: { offices: ['198.51.100.23'], others: ['192.0.2.7'] },
  });
const subnet = (inward: readonly Row[], outward: readonly Row[]): Given =>
  behind({
    lists: [{ name: 'radio', rows: [{ protocol: 'any', ports: 'any', sources: ['any'] }] }],
    subnetList: {
      in: inward.map((r, i) => ({ number: 100 + i, action: 'allow', protocol: 'any', ...r })),
      out: outward.map((r, i) => ({ number: 100 + i, action: 'allow', protocol: 'any', ...r })),
    },
  });

describe('which value of a rented machine’s row is off', () => {
  const table: readonly (readonly [string, Given, readonly string[]])[] = [
    ['it is let in', list({}), ['answered']],
    ['no row', list(), ['edge-none at edge', 'answered']],
    ['a row for another port', list({ ports: 8241 }), ['edge-port at edge', 'answered']],
    [
      'a row for ports one short at either end',
      list({ ports: '8200-8213' }, { ports: '8215-8220' }),
      ['edge-port at edge', 'answered'],
    ],
    ['a row for the other protocol', list({ protocol: 'udp' }), ['edge-protocol at edge', 'answered']],
    [
      'a row for the other protocol, among others for other ports',
      list({ ports: 22 }, { protocol: 'udp' }, { ports: 443 }),
      ['edge-protocol at edge', 'answered'],
    ],
    [
      'a row for the other protocol on another port is none for it',
      list({ protocol: 'udp', ports: 53 }),
      ['edge-none at edge', 'answered'],
    ],
    ['a row for others', list({ sources: ['192.0.2.0/24'] }), ['edge-source at edge', 'answered']],
    [
      'a row for others on another port is none for it',
      list({ sources: ['192.0.2.0/24'], ports: 22 }),
      ['edge-none at edge', 'answered'],
    ],
    [
      'a row for others and the other protocol is none for it',
      list({ sources: ['192.0.2.0/24'], protocol: 'udp' }),
      ['edge-none at edge', 'answered'],
    ],
    [
      'a row for members of a group that the client is none of',
      list({ sources: ['group:others'] }),
      ['edge-source at edge', 'answered'],
    ],
    ['a row for a group that holds the client', list({ sources: ['group:offices'] }), ['answered']],
    [
      'a row for everything, without ports, of the other protocol',
      list({ protocol: 'udp', ports: 'any' }),
      ['edge-none at edge', 'answered'],
    ],
    [
      'the subnet’s own list ends it on its way in',
      subnet([{ action: 'deny', protocol: 'tcp', ports: 8214 }, {}], [{}]),
      ['edge-none at edge', 'answered'],
    ],
    [
      'the subnet’s own list lets no answer out',
      subnet([{}], [{ action: 'deny', protocol: 'tcp' }, {}]),
      ['edge-return at edge', 'answered'],
    ],
    [
      'answers to a few ports alone',
      subnet([{}], [{ protocol: 'tcp', ports: '1024-39999' }]),
      ['edge-return at edge', 'answered'],
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(told(mendSteps(given))).to.deep.equal(expected));

  it('the row for others keeps them, and lets the client in', () => {
    const [first] = mendSteps({ ...list({ sources: ['192.0.2.0/24'] }), audience: ['198.51.100.23'] });
    expect(first && values(first)).to.deep.equal(['Source: 192.0.2.0/24 > 192.0.2.0/24, 198.51.100.23']);
  });
});
