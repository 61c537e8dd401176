import { expect } from 'chai';
import { mendCases } from '../testing/index.ts';

const { filledIn, HOST, mendSteps, NEIGHBOUR, NEIGHBOUR_FILES, SERVER, told, values } = mendCases;
type Given = mendCases.Given;

const LINES = [
  { name: 'wan', side: 'outside', addresses: ['203.0.113.50', '203.0.113.51'] },
  { name: 'lan', side: 'inside', addresses: ['192.168.50.1/24'] },
];

/** A client beside the server dials the outside address of a router that turns nothing round. */
const inside = (rows: readonly Record<string, unknown>[], more: Record<string, unknown> = {}): Given => ({
  path: [NEIGHBOUR, filledIn(rows, { interfaces: LINES, hairpin: false, ...more }), HOST],
  files: { ...SERVER, ...NEIGHBOUR_FILES },
  from: '192.168.50.77:40000',
});

const dialled = (given: Given): string[] => {
  const [first] = mendSteps(given);
  return first ? [...told([first]), ...values(first)] : [];
};

describe('an inside client dials an outside address that nothing turns round', () => {
  const MENDED = ['hairpin-missing at gateway', 'Address: 203.0.113.50 > 192.168.50.20:8214'];
  const table: readonly (readonly [string, Given, readonly string[]])[] = [
    ['a row for its port', inside([{}]), MENDED],
    ['a row for both protocols', inside([{ protocol: 'both' }]), MENDED],
    ['the last port of a range', inside([{ ports: '8200-8214', toPort: 8200 }]), MENDED],
    ['the first port of a range', inside([{ ports: '8214-8220' }]), MENDED],
    [
      'a row to another port: that one is dialled inside',
      inside([{ ports: '8210-8219', toPort: 9210 }]),
      ['hairpin-missing at gateway', 'Address: 203.0.113.50 > 192.168.50.20:9214'],
    ],
    [
      'behind rows that are none of its own',
      inside([{ ports: 80 }, { protocol: 'udp' }, { enabled: false }, {}]),
      MENDED,
    ],
    ['behind one that was never applied', inside([{ state: 'staged', to: '192.168.50.44' }, {}]), MENDED],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(dialled(given)).to.deep.equal(expected));

  it('what is dialled inside is answered', () =>
    expect(told(mendSteps(inside([{}])))).to.deep.equal(['hairpin-missing at gateway', 'answered']));

  for (const [title, rows, fault] of [
    ['no row at all', [{ ports: 80 }], 'fwd-none'],
    ['one port short', [{ ports: '8200-8213' }, { ports: '8215-8220' }], 'fwd-none'],
    ['a row that is off', [{ enabled: false }], 'fwd-disabled'],
    ['a row that was never applied', [{ state: 'staged' }], 'fwd-not-applied'],
    ['a row for the other protocol', [{ protocol: 'udp' }], 'fwd-protocol'],
  ] as const)
    it(`${title} is what is wrong, and no hairpin`, () =>
      expect(mendSteps(inside(rows))[0]?.mend?.fault).to.equal(fault));

  it('the row of another outside address is not its own', () => {
    const lines = [
      { name: 'wan', side: 'outside', addresses: ['203.0.113.50'] },
      { name: 'wan2', side: 'outside', addresses: ['203.0.113.98'] },
      { name: 'lan', side: 'inside', addresses: ['192.168.50.1/24'] },
    ];
    const on = (line: string) => mendSteps(inside([{ line }], { interfaces: lines }))[0]?.mend?.fault;
    expect(on('wan')).to.equal('hairpin-missing');
    expect(on('wan2')).to.equal('fwd-line');
  });

  it('a client outside is no matter of hairpins', () => {
    const given = inside([{}]);
    const outside = { ...given, path: [{ id: 'client', role: 'client' }, ...(given.path ?? []).slice(1)] };
    expect(told(mendSteps({ ...outside, files: SERVER, from: '198.51.100.23:40000' }))).to.deep.equal([
      'answered',
    ]);
  });

  it('the inside address of the router is no outside one', () =>
    expect(mendSteps({ ...inside([{}]), to: '192.168.50.1:8214/tcp' })[0]?.mend?.fault).to.not.equal(
      'answered',
    ));
});
