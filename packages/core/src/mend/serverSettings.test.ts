import { expect } from 'chai';
import { mendCases, serverEvidence } from '../testing/index.ts';
import { commandsOf } from './index.ts';

const { CARRIER, CLIENT, HOST, linuxGateway, mendSteps, places, told, WHOLE } = mendCases;
type Given = mendCases.Given;

const routes = (text: string, more: Record<string, string> = {}): Given => ({
  files: { ...WHOLE, 'host/routes': text, ...more },
});
const NAT =
  'table ip nat {\n\tchain pre {\n\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
  '\t\ttcp dport 8214 dnat to 192.168.50.20\n\t}\n}\n';

describe('a server without a way out', () => {
  it('gets the router’s inside address as its gateway, on the interface that is in its network', () => {
    const addresses =
      '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n    inet 127.0.0.1/8 scope host lo\n' +
      '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet6 fe80::20/64 scope link\n' +
      '3: eno2: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno2\n';
    const [first, second] = mendSteps(
      routes('192.168.50.0/24 dev eno2 scope link\n', { 'host/addresses': addresses }),
    );
    expect(first?.mend?.fault).to.equal('host-no-gateway');
    expect(first?.mend && commandsOf(first.mend)).to.deep.equal({
      commands: ['ip route add default via 192.168.50.1 dev eno2'],
      undo: ['ip route del default via 192.168.50.1 dev eno2'],
    });
    expect(second?.trace.outcome).to.equal('answered');
  });

  it('none where no router is in its network', () => {
    const files = serverEvidence('203.0.113.80/32', '203.0.113.1', ['tcp 0.0.0.0:8214 gullcast']);
    const steps = mendSteps({
      path: [CLIENT, CARRIER, HOST],
      to: '203.0.113.80:8214/tcp',
      files: { ...files, 'host/routes': '203.0.113.80 dev eno1 scope link\n' },
    });
    expect(steps[0]?.mend).to.equal(null);
  });

  it('an own route to the client’s network is a way out', () =>
    expect(
      told(
        mendSteps(routes('192.168.50.0/24 dev eno1 scope link\n198.51.100.0/24 via 192.168.50.1 dev eno1\n')),
      ),
    ).to.deep.equal(['answered']));
});

describe('an interface without a link', () => {
  const DOWN =
    '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n    inet 127.0.0.1/8 scope host lo\n' +
    '2: eno1: <NO-CARRIER,BROADCAST,UP> mtu 1500 state DOWN\n    inet 192.168.50.20/24 scope global eno1\n';
  it('of the server: nothing to command', () => {
    const steps = mendSteps({ files: { ...WHOLE, 'host/addresses': DOWN } });
    expect(told(steps)).to.deep.equal(['link-down at host', 'answered']);
    expect(steps[0]?.mend && commandsOf(steps[0].mend)).to.deep.equal({ commands: [], undo: [] });
    expect(steps[0] && places(steps[0])).to.deep.equal(['host/addresses:3']);
  });

  it('of the server, switched off: it is switched on', () => {
    const off = DOWN.replace('NO-CARRIER,BROADCAST,UP', 'BROADCAST');
    const steps = mendSteps({ files: { ...WHOLE, 'host/addresses': off } });
    expect(told(steps)).to.deep.equal(['link-down at host', 'answered']);
    expect(steps[0]?.mend && commandsOf(steps[0].mend)).to.deep.equal({
      commands: ['ip link set dev eno1 up'],
      undo: ['ip link set dev eno1 down'],
    });
  });

  /** A Linux gateway whose inside interface somebody has switched off. */
  const switchedOff = (more: Record<string, string> = {}): Given => {
    const given = linuxGateway({ 'gateway/rules': NAT });
    const files = {
      ...given.files,
      'gateway/addresses': (given.files['gateway/addresses'] ?? '').replace(
        '3: lan: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP',
        '3: lan: <BROADCAST> mtu 1500 state DOWN',
      ),
      'gateway/routes': 'default via 203.0.113.1 dev wan\n203.0.113.0/24 dev wan scope link\n',
      ...more,
    };
    return { files };
  };

  it('at the gateway takes the link of the one machine at the other end with it', () => {
    const steps = mendSteps(switchedOff({ 'host/addresses': DOWN }));
    expect(told(steps)).to.deep.equal(['link-down at gateway', 'answered']);
  });

  it('a route that is still listed is not made twice', () => {
    const routes =
      'default via 203.0.113.1 dev wan\n203.0.113.0/24 dev wan scope link\n' +
      '192.168.50.0/24 dev lan scope link\n';
    const steps = mendSteps(switchedOff({ 'gateway/routes': routes }));
    const after = steps.at(-1)?.scene.site.machines.find((m) => m.id === 'gateway');
    expect(after?.routes[4]?.filter((r) => r.hops[0]?.device === 'lan')).to.have.length(1);
  });

  it('the neighbours that did not answer while it was off are asked again', () => {
    const failed = '192.168.50.20 dev lan FAILED\n203.0.113.1 dev wan lladdr 02:00:5e:00:00:01 REACHABLE\n';
    const steps = mendSteps(switchedOff({ 'gateway/neighbours': failed }));
    expect(told(steps)).to.deep.equal(['link-down at gateway', 'answered']);
    const after = steps.at(-1)?.scene.site.machines.find((m) => m.id === 'gateway');
    expect(after?.neighbours.map((n) => n.failed)).to.deep.equal([false]);
  });

  it('a neighbour elsewhere that did not answer is not asked again for that', () => {
    const given = linuxGateway({ 'gateway/rules': NAT });
    const files = {
      ...given.files,
      'host/addresses': DOWN,
      'gateway/neighbours': '192.168.50.20 dev lan FAILED\n203.0.113.9 dev wan FAILED\n',
    };
    const steps = mendSteps({ files });
    expect(told(steps)).to.deep.equal(['link-down at host', 'answered']);
    const after = steps.at(-1)?.scene.site.machines.find((m) => m.id === 'gateway');
    expect(after?.neighbours.filter((n) => n.failed)).to.have.length(1);
  });

  it('of the gateway inwards, switched off: its route comes back with it', () =>
    expect(told(mendSteps(switchedOff()))).to.deep.equal(['link-down at gateway', 'answered']));
});

describe('a kernel that drops or does not pass on', () => {
  it('says where its setting was read', () => {
    const given = linuxGateway({});
    const files = { ...given.files, 'gateway/settings': 'net.ipv4.ip_forward = 0\n' };
    const steps = mendSteps({ files: { ...files, 'gateway/rules': NAT } });
    expect(steps[0]?.mend?.fault).to.equal('forwarding-off');
    expect(steps[0] && places(steps[0])).to.deep.equal(['gateway/settings:1']);
    expect(steps[0]?.mend && commandsOf(steps[0].mend).undo).to.deep.equal([
      'sysctl -w net.ipv4.ip_forward=0',
    ]);
  });
});
