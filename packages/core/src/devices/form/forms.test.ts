import { expect } from 'chai';
import { CaseError, checkCaseDocument } from '../../case/index.ts';
import type { StopSettings } from '../settings.ts';
import { formOf, SETTINGS_KINDS } from '../kinds.ts';
import { formValues, settingsFrom } from './values.ts';

const SETTINGS: readonly StopSettings[] = [
  {
    kind: 'forward-table',
    rows: [
      {
        name: 'radio',
        protocol: 'tcp',
        ports: '8214',
        to: '192.168.50.20',
        sources: ['198.51.100.0/24'],
        enabled: false,
        state: 'staged',
      },
    ],
    hairpin: false,
    clash: 'first',
    mappings: [{ protocol: 'udp', port: 28410, to: '192.168.50.20' }],
  },
  {
    kind: 'zone-firewall',
    interfaces: [{ name: 'wan', side: 'outside', zone: 'world', addresses: ['203.0.113.50/29'] }],
    translations: [{ type: 'one-to-one', outside: '203.0.113.52', inside: '192.168.50.20', twoWay: true }],
    rules: [{ action: 'allow', services: ['tide', 'tcp/80'] }],
    otherwise: 'drop',
    names: { heron: ['192.168.50.20'] },
    services: {
      tide: [
        { protocol: 'tcp', ports: '5432' },
        { protocol: 'udp', ports: '5432' },
      ],
    },
  },
  {
    kind: 'translation-lines',
    interfaces: [{ name: 'up0', side: 'outside', addresses: ['203.0.113.50/28'] }],
    lines: [
      {
        type: 'port',
        protocol: 'tcp',
        outside: 'up0',
        outsidePort: 80,
        inside: '192.168.50.20',
        insidePort: 8080,
      },
    ],
  },
  {
    kind: 'allow-list',
    lists: [{ name: 'tide', rows: [{ protocol: 'tcp', ports: '5432', sources: ['198.51.100.23'] }] }],
    groups: { app: ['10.0.0.5'] },
    subnetList: { in: [{ number: 100, action: 'allow', protocol: 'any' }], out: [] },
  },
  {
    kind: 'host-profiles',
    active: 'home',
    profiles: { home: { in: 'block', out: 'allow' } },
    rows: [{ direction: 'in', action: 'block', protocol: 'tcp', localPorts: '8214' }],
    silentWhenClosed: true,
  },
  {
    kind: 'carrier',
    shield: { when: 'per-client', approved: ['198.51.100.23'] },
    blocked: [{ protocol: 'tcp', ports: '25' }],
  },
  {
    kind: 'relay',
    address: '203.0.113.200',
    tunnelAddress: '10.66.0.1/24',
    leases: [{ protocol: 'tcp', port: 18214, to: '10.66.0.2' }],
  },
];

describe('forms of devices', () => {
  for (const settings of SETTINGS) {
    it(`${settings.kind}: what is filled in comes out again, and is accepted in a case`, () => {
      expect(
        settingsFrom(formOf(settings.kind), settings.kind, formValues(formOf(settings.kind), settings)),
      ).to.deep.equal(settings);
      checkCaseDocument({
        format: 'bright-ferry-case',
        version: 1,
        title: 'T',
        path: [{ id: 'x', role: 'gateway', settings }],
      });
    });
  }

  it('every kind is tried', () => expect(SETTINGS.map((s) => s.kind)).to.have.members(SETTINGS_KINDS));

  it('an empty form of each kind leaves everything open', () => {
    for (const kind of SETTINGS_KINDS)
      expect(
        Object.values(settingsFrom(formOf(kind), kind, { fields: {}, tables: {} })).filter(
          (v) => typeof v === 'string',
        ),
      ).to.deep.equal([kind]);
  });

  it('a table that is known to be empty stays known, and one that nobody filled in stays unknown', () => {
    const form = formOf('forward-table');
    const known: StopSettings = { kind: 'forward-table', rows: [], ownPorts: [] };
    const values = formValues(form, known);
    expect(Object.values(values.fields).filter((v) => v === 'yes')).to.have.length(1);
    expect(settingsFrom(form, 'forward-table', values)).to.have.deep.property('ownPorts', []);
    const unknown = formValues(form, { kind: 'forward-table', rows: [] });
    expect(settingsFrom(form, 'forward-table', unknown)).to.not.have.property('ownPorts');
    // A row says more than the mark that there is none.
    const filled = { ...values, tables: { ...values.tables, ownPorts: [{ protocol: 'tcp', ports: '443' }] } };
    expect(settingsFrom(form, 'forward-table', filled)).to.have.deep.property('ownPorts', [
      { protocol: 'tcp', ports: '443' },
    ]);
    expect(settingsFrom(form, 'forward-table', { fields: {}, tables: {} })).to.deep.equal(
      settingsFrom(form, 'forward-table', formValues(form, { kind: 'forward-table' } as StopSettings)),
    );
  });

  it('wrong values are refused with the place and the problem', () => {
    const wrong: readonly (readonly [StopSettings | object, RegExp])[] = [
      [
        settingsFrom(formOf('forward-table'), 'forward-table', {
          fields: {},
          tables: { rows: [{ protocol: 'tcp', ports: '8214x', to: '192.168.50.20' }] },
        }),
        /rows\[0\]\.ports.*28410-28415/,
      ],
      [
        settingsFrom(formOf('forward-table'), 'forward-table', {
          fields: {},
          tables: { rows: [{ protocol: 'tcp', ports: '8214', to: '192.168.50' }] },
        }),
        /rows\[0\]\.to is not an IP address/,
      ],
      [
        settingsFrom(formOf('relay'), 'relay', { fields: { address: '203.0.113.200' }, tables: {} }),
        /tunnelAddress/,
      ],
      [{ kind: 'teapot' }, /kind must be one of forward-table/],
    ];
    for (const [settings, message] of wrong)
      expect(() =>
        checkCaseDocument({
          format: 'bright-ferry-case',
          version: 1,
          title: 'T',
          path: [{ id: 'x', role: 'gateway', settings }],
        }),
      ).to.throw(CaseError, message);
  });
});
