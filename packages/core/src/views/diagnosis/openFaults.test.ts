import { expect } from 'chai';
import { parseAddress } from '../../net/index.ts';
import { caseFacts, caseSite, mendCases, run, serverEvidence, type TestStop } from '../../testing/index.ts';
import { mappingOff, otherLineFault, pastNextGateway } from './openFaults.ts';

const WAY: readonly TestStop[] = ['client', 'gateway', 'host'].map((role) => ({ id: role, role }));
const ADDRESSES =
  '2: wan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 198.51.100.50/26 scope global wan0\n' +
  '3: wan1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 198.51.100.148/26 scope global wan1\n' +
  '4: br-lan: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 10.0.0.1/24 scope global br-lan\n';
// The second line has a table of its own, which is listed first.
const ROUTES =
  'default via 198.51.100.129 dev wan1 table 100\n' +
  'default via 198.51.100.1 dev wan0\n' +
  '10.0.0.0/24 dev br-lan scope link src 10.0.0.1\n' +
  '198.51.100.0/26 dev wan0 scope link src 198.51.100.50\n' +
  '198.51.100.128/26 dev wan1 scope link src 198.51.100.148\n';
const RULES = '0:\tfrom all lookup local\n32766:\tfrom all lookup main\n32767:\tfrom all lookup default\n';

const found = (dialled: string, rules = RULES, routes = ROUTES, addresses = ADDRESSES): string[] =>
  otherLineFault(
    caseSite(WAY, { 'gateway/addresses': addresses, 'gateway/routes': routes, 'gateway/rules4': rules }),
    parseAddress(dialled)!,
  ).map((f) => f.id);

describe('a router with two lines outward', () => {
  it('answers by the other one where nothing leads to the table of the line that was dialled', () =>
    expect(found('198.51.100.148')).to.deep.equal(['wan-other-line']));

  it('answers by the line that was dialled where that is its way out', () =>
    expect(found('198.51.100.50')).to.deep.equal([]));

  it('may answer by the line that was dialled where a rule leads to that line’s table', () =>
    expect(found('198.51.100.148', `${RULES}1000:\tfrom all fwmark 0x64 lookup 100\n`)).to.deep.equal([]));

  it('is not suspected where it has one line alone', () => {
    const one = ADDRESSES.split('\n').slice(2).join('\n');
    expect(found('198.51.100.148', RULES, ROUTES, one)).to.deep.equal([]);
  });
});

describe('a mapping that somebody filled in', () => {
  const suspected = (translation: object): string[] => {
    const settings = {
      kind: 'zone-firewall',
      interfaces: [{ name: 'port1', side: 'outside', zone: 'outside', addresses: ['203.0.113.50/29'] }],
      translations: [{ type: 'one-to-one', twoWay: true, ...translation }],
      rules: [],
      otherwise: 'drop',
    };
    const path = WAY.map((s) => (s.role === 'gateway' ? { ...s, settings } : s));
    const found = mappingOff(caseFacts(path, {}, { client: { dials: '203.0.113.52:8214' } }));
    return found ? [`${found.id} at ${found.stop}`] : [];
  };

  it('is suspected where it is off, or where its sides are exchanged', () => {
    const right = { outside: '203.0.113.52', inside: '192.168.50.20' };
    expect(suspected(right)).to.deep.equal([]);
    expect(suspected({ ...right, enabled: false })).to.deep.equal(['fwd-disabled at gateway']);
    expect(suspected({ outside: right.inside, inside: right.outside })).to.deep.equal([
      'static-inside-out at gateway',
    ]);
    expect(suspected({ outside: '203.0.113.53', inside: '192.168.50.21', enabled: false })).to.deep.equal([]);
  });
});

describe('a forward of the outer router past the inner one', () => {
  const suspected = (to: string): string[] => {
    const site = caseSite(
      [
        { id: 'client', role: 'client' },
        { id: 'carrier', role: 'carrier' },
        mendCases.routerAt('outer', { addresses: ['203.0.113.50'] }, '10.0.0.1/24', { to }),
        mendCases.routerAt('inner', { addresses: ['10.0.0.2/24'] }, '192.168.50.1/24', {}),
        { id: 'host', role: 'host' },
      ],
      serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']),
    );
    return pastNextGateway(site, run(site, '198.51.100.23', '203.0.113.50:8214/tcp')).map(
      (f) => `${f.id} at ${f.stop}: ${f.text}`,
    );
  };

  it('is suspected, and said as what it is', () =>
    expect(suspected('192.168.50.20')).to.deep.equal([
      'fwd-target-typo at outer: The forward leads to 192.168.50.20, which is not on its own network: ' +
        'it is behind the next gateway',
    ]));

  it('is none where it leads to the inner router, or to a network that nobody knows', () => {
    expect(suspected('10.0.0.2')).to.deep.equal([]);
    expect(suspected('172.16.9.9')).to.deep.equal([]);
  });
});
