import { expect } from 'chai';
import { withSettings } from '../case/index.ts';
import type { StopSettings } from '../devices/index.ts';
import { caseFacts, HOME, serverEvidence, type TestStop } from '../testing/index.ts';
import { benchView } from '../views/index.ts';

const CLIENT = '198.51.100.23';
const PUBLIC = '203.0.113.60';
const SERVICE = { name: 'Ebbtide', endpoints: [{ protocol: 'tcp', port: 5432 }] };
const RENTED: readonly TestStop[] = [
  { id: 'client', role: 'client' },
  { id: 'edge', role: 'edge' },
  { id: 'host', role: 'host' },
];

interface Given {
  readonly path: readonly TestStop[];
  readonly stop: string;
  readonly settings: object;
  readonly files: Readonly<Record<string, string>>;
  readonly dials: string;
}

const settingsAt = (path: readonly TestStop[], stop: string, settings: object): TestStop[] =>
  path.map((s) => (s.id === stop ? { ...s, settings } : s));

function viewOf({ path, stop, settings, files, dials }: Given) {
  const facts = caseFacts(settingsAt(path, stop, settings), files, {
    service: SERVICE,
    client: { address: CLIENT, dials },
  });
  return { facts, view: benchView(facts) };
}

/** The settings as the mend leaves them, and whether the packet passes the stop with them. */
function settled(given: Given): StopSettings {
  const { facts, view } = viewOf(given);
  if (view.next.kind !== 'mend') throw new Error(`no mend: ${JSON.stringify(view.next)}`);
  const { mend } = view.next;
  expect(mend.stop).to.equal(given.stop);
  if (!mend.settings) throw new Error(`not taken into the settings: ${mend.fault}`);
  const document = withSettings(facts.document, given.stop, mend.settings);
  const after = viewOf({ ...given, path: document.path as unknown as TestStop[], settings: mend.settings });
  const { next } = after.view;
  expect(next.kind === 'mend' && next.mend.stop === given.stop, 'it still stands in the way').to.equal(false);
  expect(after.view.verdict.lamp).to.not.equal('barred');
  return mend.settings;
}

describe('a change that is made is taken into a firewall with zones', () => {
  const firewall = (more: object): Given => ({
    path: HOME,
    stop: 'gateway',
    settings: {
      kind: 'zone-firewall',
      interfaces: [
        { name: 'wan', side: 'outside', zone: 'world', addresses: ['203.0.113.50/29'] },
        { name: 'lan', side: 'inside', zone: 'hall', addresses: ['192.168.50.1/24'] },
      ],
      translations: [
        { type: 'port-forward', outside: 'wan', protocol: 'tcp', ports: 5432, to: '192.168.50.20' },
        { type: 'source', fromZone: 'hall', toZone: 'world', to: 'wan' },
      ],
      rules: [{ action: 'allow', fromZone: 'world', toZone: 'hall', services: ['tcp/5432'] }],
      otherwise: 'drop',
      destinationSeen: 'after',
      zoneSeen: 'after',
      ...more,
    },
    files: serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:5432 postgres']),
    dials: '203.0.113.50:5432',
  });

  it('a rule that is missing', () => {
    const after = settled(firewall({ rules: [] }));
    expect(after.kind === 'zone-firewall' && after.rules).to.have.length(1);
  });

  it('a rule that is missing among others: these stay', () => {
    const other = { action: 'allow', fromZone: 'world', toZone: 'hall', services: ['tcp/25'] };
    const after = settled(firewall({ rules: [other] }));
    expect(after.kind === 'zone-firewall' && after.rules).to.have.length(2);
    expect(after.kind === 'zone-firewall' && after.rules).to.deep.include(other);
  });
});

describe('a change that is made is taken into rows of a perimeter', () => {
  const ROW = { name: 'tide', protocol: 'tcp', ports: '5432', sources: ['192.0.2.64/27'] };
  const WEB = { name: 'web', protocol: 'tcp', ports: '443', sources: ['any'] };
  const files = serverEvidence('203.0.113.60/24', '203.0.113.1', ['tcp 0.0.0.0:5432 postgres']);
  const rented = (settings: object): Given => ({
    path: RENTED,
    stop: 'edge',
    settings: { kind: 'allow-list', ...settings },
    files,
    dials: `${PUBLIC}:5432`,
  });

  it('a row that is missing is added, for the client alone', () =>
    expect(settled(rented({ lists: [{ name: 'front', rows: [WEB] }] }))).to.deep.include({
      lists: [{ name: 'front', rows: [WEB, { protocol: 'tcp', ports: '5432', sources: [CLIENT] }] }],
    }));

  it('a list that was empty', () =>
    expect(settled(rented({ lists: [] }))).to.deep.include({
      lists: [{ name: 'allow list', rows: [{ protocol: 'tcp', ports: '5432', sources: [CLIENT] }] }],
    }));

  it('who was let in stays, the client is added to the row', () =>
    expect(
      settled(
        rented({
          lists: [
            { name: 'a', rows: [WEB] },
            { name: 'b', rows: [ROW] },
          ],
        }),
      ),
    ).to.deep.include({
      lists: [
        { name: 'a', rows: [WEB] },
        { name: 'b', rows: [{ ...ROW, sources: ['192.0.2.64/27', CLIENT] }] },
      ],
    }));

  it('a slip of the pen is put right in its place', () => {
    const sources = ['192.0.2.64/27', '198.51.100.32'];
    expect(settled(rented({ lists: [{ name: 'a', rows: [{ ...ROW, sources }] }] }))).to.deep.include({
      lists: [{ name: 'a', rows: [{ ...ROW, sources: ['192.0.2.64/27', CLIENT] }] }],
    });
  });

  const lists = [{ name: 'a', rows: [{ ...ROW, sources: ['any'] }] }];
  const IN = [{ number: 100, action: 'deny', protocol: 'any' }];
  const OUT = [{ number: 100, action: 'allow', protocol: 'any' }];

  it('a stateless list gets a row with a number before the one that decides', () =>
    expect(settled(rented({ lists, subnetList: { in: IN, out: OUT } }))).to.deep.include({
      subnetList: {
        in: [...IN, { number: 50, action: 'allow', protocol: 'tcp', ports: '5432', peers: [CLIENT] }],
        out: OUT,
      },
    }));

  it('and answers a row for the ports that clients have', () => {
    const open = [{ number: 10, action: 'allow', protocol: 'any' }];
    expect(settled(rented({ lists, subnetList: { in: open, out: [] } }))).to.deep.include({
      subnetList: {
        in: open,
        out: [{ number: 10, action: 'allow', protocol: 'tcp', ports: '1024-65535', peers: [CLIENT] }],
      },
    });
  });

  it('where no number is free before it, the settings stay as they are', () => {
    const { view } = viewOf(rented({ lists, subnetList: { in: [{ ...IN[0], number: 1 }], out: OUT } }));
    expect(view.next.kind === 'mend' && view.next.mend.settings).to.equal(null);
  });
});

describe('a change that is made is taken into rows of a machine’s firewall', () => {
  const files = serverEvidence('203.0.113.60/24', '203.0.113.1', ['tcp 0.0.0.0:5432 postgres']);
  const profiles = { Public: { in: 'block', out: 'allow' }, Private: { in: 'block', out: 'allow' } };
  const ROW = { name: 'tide', direction: 'in', action: 'allow', protocol: 'tcp', localPorts: '5432' };
  const host = (rows: readonly object[], active = 'Public'): Given => ({
    path: [RENTED[0], RENTED[2]].filter((s) => s !== undefined),
    stop: 'host',
    settings: { kind: 'host-profiles', active, profiles, rows },
    files,
    dials: `${PUBLIC}:5432`,
  });

  it('a row that is missing is added on the profile that is active', () =>
    expect(settled(host([]))).to.deep.include({
      rows: [
        {
          enabled: true,
          direction: 'in',
          action: 'allow',
          protocol: 'tcp',
          localPorts: '5432',
          profiles: ['Public'],
          remoteAddresses: [CLIENT],
        },
      ],
    }));

  it('a row that blocks is switched off', () => {
    const block = { ...ROW, action: 'block' };
    expect(settled(host([ROW, block]))).to.deep.include({ rows: [ROW, { ...block, enabled: false }] });
  });

  it('the client is added to the row for others', () => {
    const row = { ...ROW, remoteAddresses: ['local-subnet', '192.0.2.130'] };
    expect(settled(host([row]))).to.deep.include({
      rows: [{ ...row, remoteAddresses: ['local-subnet', '192.0.2.130', CLIENT] }],
    });
  });
});

describe('a change that is made is taken into lines of translations', () => {
  const files = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:5432 postgres']);
  const interfaces = [
    { name: 'wan', side: 'outside', addresses: ['203.0.113.50/24'] },
    { name: 'lan', side: 'inside', addresses: ['192.168.50.1/24'] },
  ];
  const LINE = {
    type: 'port',
    protocol: 'tcp',
    outside: '203.0.113.50',
    outsidePort: 5432,
    inside: '192.168.50.20',
    insidePort: 5432,
  };
  const MANY = { type: 'many' };
  const router = (...lines: readonly object[]): Given => ({
    path: HOME,
    stop: 'gateway',
    settings: { kind: 'translation-lines', interfaces, lines, ownPorts: [] },
    files,
    dials: '203.0.113.50:5432',
  });
  const CASES: readonly [string, object[], object[]][] = [
    ['a line that is missing', [MANY], [LINE, MANY]],
    ['the other protocol', [MANY, { ...LINE, protocol: 'udp' }], [MANY, LINE]],
    ['another outside port', [{ ...LINE, outsidePort: 5433 }], [LINE]],
    ['another machine', [MANY, { ...LINE, inside: '192.168.50.31' }], [MANY, LINE]],
    ['another port of the machine', [{ ...LINE, insidePort: 5433 }], [LINE]],
    ['its sides exchanged', [{ ...LINE, outside: '192.168.50.20' }], [LINE]],
  ];
  for (const [title, before, after] of CASES)
    it(title, () => expect(settled(router(...before))).to.deep.include({ lines: after }));
});
