import { expect } from 'chai';
import { outcome, run, caseSite, serverEvidence } from '../../testing/index.ts';
import type { AllowListSettings } from './settings.ts';

const ROW = { protocol: 'tcp', ports: 5432, sources: ['198.51.100.23'] } as const;
const list = (...rows: AllowListSettings['lists'][number]['rows'][number][]): AllowListSettings['lists'] => [
  { name: 'tide', rows },
];
const PUBLIC = serverEvidence('203.0.113.140/28', '203.0.113.129', [
  'tcp 0.0.0.0:5432 postgres',
  'udp 0.0.0.0:28410',
]);
const PRIVATE = serverEvidence('10.20.0.4/24', '10.20.0.1', ['tcp 0.0.0.0:5432 postgres']);
const site = (settings: Partial<AllowListSettings> | null, files = PUBLIC) =>
  caseSite(
    [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      {
        id: 'edge',
        role: 'edge',
        ...(settings ? { settings: { kind: 'allow-list', lists: [], ...settings } } : {}),
      },
      { id: 'host', role: 'host' },
    ],
    files,
  );
const all = { number: 100, action: 'allow', protocol: 'any' } as const;

describe('cloud allow list: settings, packet, outcome', () => {
  const OUT = '203.0.113.140:5432/tcp';
  const table: readonly (readonly [string, Partial<AllowListSettings> | null, string, string])[] = [
    ['one row for the client', { lists: list(ROW) }, OUT, 'answered at host'],
    ['no row', { lists: list() }, OUT, 'lost at edge'],
    ['one digit off', { lists: list({ ...ROW, sources: ['198.51.100.33'] }) }, OUT, 'lost at edge'],
    ['a prefix too small', { lists: list({ ...ROW, sources: ['198.51.100.0/28'] }) }, OUT, 'lost at edge'],
    ['the right prefix', { lists: list({ ...ROW, sources: ['198.51.100.16/28'] }) }, OUT, 'answered at host'],
    ['another port', { lists: list({ ...ROW, ports: 5433 }) }, OUT, 'lost at edge'],
    ['another protocol', { lists: list({ ...ROW, protocol: 'udp' }) }, OUT, 'lost at edge'],
    [
      'any protocol and port',
      { lists: list({ protocol: 'any', sources: ['any'] }) },
      OUT,
      'answered at host',
    ],
    [
      'only members of a group',
      { groups: { app: ['203.0.113.141'] }, lists: list({ ...ROW, sources: ['group:app'] }) },
      OUT,
      'lost at edge',
    ],
    [
      'the client is a member',
      {
        groups: { app: ['203.0.113.141', '198.51.100.23'] },
        lists: list({ ...ROW, sources: ['group:app'] }),
      },
      OUT,
      'answered at host',
    ],
    [
      'several lists add up',
      {
        lists: [
          { name: 'a', rows: [] },
          { name: 'b', rows: [ROW] },
        ],
      },
      OUT,
      'answered at host',
    ],
    [
      'what is let in is answered without a row',
      { lists: list({ protocol: 'udp', ports: 28410, sources: ['any'] }) },
      '203.0.113.140:28410/udp',
      'answered at host',
    ],
    [
      'a stateless list that lets in and not out',
      { lists: list(ROW), subnetList: { in: [all], out: [{ ...all, ports: '1-1023', protocol: 'tcp' }] } },
      OUT,
      'lost at edge (reply)',
    ],
    [
      'a stateless list with the answer ports',
      {
        lists: list(ROW),
        subnetList: {
          in: [{ ...all, protocol: 'tcp', ports: 5432 }],
          out: [{ ...all, protocol: 'tcp', ports: '1024-65535' }],
        },
      },
      OUT,
      'answered at host',
    ],
    [
      'the first fitting row of the stateless list decides',
      {
        lists: list(ROW),
        subnetList: {
          in: [{ ...all, number: 50, action: 'deny', peers: ['198.51.100.0/24'] }, all],
          out: [all],
        },
      },
      OUT,
      'lost at edge',
    ],
    [
      'numbers decide the order, not the place',
      { lists: list(ROW), subnetList: { in: [all, { ...all, number: 200, action: 'deny' }], out: [all] } },
      OUT,
      'answered at host',
    ],
    ['nothing is known of the list', null, OUT, 'unknown'],
  ];
  for (const [title, settings, to, expected] of table)
    it(`${title}: ${expected}`, () =>
      expect(outcome(run(site(settings), '198.51.100.23', to))).to.equal(expected));

  it('a public address that the perimeter translates; none at all', () => {
    const translated = { publicAddress: '203.0.113.150', insideAddress: '10.20.0.4', lists: list(ROW) };
    expect(outcome(run(site(translated, PRIVATE), '198.51.100.23', '203.0.113.150:5432/tcp'))).to.equal(
      'answered at host',
    );
    expect(
      outcome(
        run(site({ ...translated, lists: list() }, PRIVATE), '198.51.100.23', '203.0.113.150:5432/tcp'),
      ),
    ).to.equal('lost at edge');
    expect(
      outcome(
        run(
          site({ publicAddress: 'none', lists: list(ROW) }, PRIVATE),
          '198.51.100.23',
          '10.20.0.4:5432/tcp',
        ),
      ),
    ).to.equal('lost at carrier');
  });
});
