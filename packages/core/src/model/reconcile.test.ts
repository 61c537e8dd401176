import { expect } from 'chai';
import { caseSite, outcome, run, serverEvidence } from '../testing/index.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
const ROUTES = [
  'default via 203.0.113.1 dev wan0',
  '192.168.50.0/24 dev lan0 scope link',
  '203.0.113.0/24 dev wan0 scope link',
];
const GATEWAY = {
  'gateway/addresses':
    '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n    inet 127.0.0.1/8 scope host lo\n' +
    '2: wan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 203.0.113.50/24 scope global wan0\n' +
    '3: lan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.1/24 scope global lan0\n',
  'gateway/settings': 'net.ipv4.ip_forward = 1\n',
  'gateway/rules':
    'table ip nat {\n chain pre {\n  type nat hook prerouting priority dstnat; policy accept;\n' +
    '  tcp dport 8214 dnat to 192.168.50.20\n }\n}\n',
};
const HOST = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
const reached = (routes: readonly string[]): string =>
  outcome(
    run(
      caseSite(PATH, { ...GATEWAY, ...HOST, 'gateway/routes': `${routes.join('\n')}\n` }),
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
    ),
  );

describe('routes and interfaces of one machine, held against each other', () => {
  it('lead to the server where they agree', () => expect(reached(ROUTES)).to.equal('answered at host'));

  it('without the route of an interface’s own network they break off, and what goes there is open', () =>
    expect(reached(ROUTES.filter((r) => !r.startsWith('192.168.50.')))).to.equal('unknown'));

  it('over an interface that the machine does not have a route is open', () =>
    expect(reached(ROUTES.map((r) => r.replace('lan0', 'lan7')))).to.equal('unknown'));
});
