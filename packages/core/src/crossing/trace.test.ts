import { expect } from 'chai';
import { formatEndpoint } from '../net/index.ts';
import { oneGateway, outcome, run, testSite, type TestMachine } from '../testing/index.ts';

const { CLIENT, FORWARD, gateway, host } = oneGateway;

describe('one packet and its answer', () => {
  it('is forwarded, answered, and the answer is turned back', () => {
    const t = run(
      testSite({ client: CLIENT, gateway: gateway(FORWARD), host: host() }),
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
    );
    expect(outcome(t)).to.equal('answered at host');
    expect(formatEndpoint(t.seen!.destination)).to.equal('192.168.50.20:8214');
    const back = t.shown.legs.filter((l) => l.lane === 'reply' && l.stop === 'gateway')[0]!;
    expect(formatEndpoint(back.before.source)).to.equal('192.168.50.20:8214');
    expect(formatEndpoint(back.after.source)).to.equal('203.0.113.50:8214');
  });

  it('what a gateway without a rule set has no way for may have been translated before', () => {
    const to = '10.88.0.2:8214/tcp';
    const through = (more: Partial<TestMachine>): string =>
      outcome(
        run(
          testSite({ client: CLIENT, gateway: { ...gateway(''), ...more }, host: host() }),
          '198.51.100.23',
          to,
        ),
      );
    expect(through({})).to.equal('refused at gateway');
    expect(through({ rules: null })).to.equal('unknown');
    expect(through({ rules: null, settings: { 'net.ipv4.ip_forward': '0' } })).to.equal('unknown');
  });

  const cases: readonly (readonly [string, string, Partial<TestMachine> | string, string, string])[] = [
    [
      'no forward: the gateway’s own stack refuses',
      'gateway',
      '',
      '203.0.113.50:8214/tcp',
      'refused at gateway',
    ],
    [
      'a forward to nobody known is open',
      'gateway',
      FORWARD.replace('50.20', '50.31'),
      '203.0.113.50:8214/tcp',
      'unknown',
    ],
    [
      'the program listens on loopback only',
      'host',
      { sockets: ['tcp 127.0.0.1:8214'] },
      '203.0.113.50:8214/tcp',
      'refused at host',
    ],
    [
      'the program speaks UDP only',
      'host',
      { sockets: ['udp 0.0.0.0:8214'] },
      '203.0.113.50:8214/tcp',
      'refused at host',
    ],
    [
      'the program takes IPv6 only',
      'host',
      { sockets: ['tcp [::]:8214'] },
      '203.0.113.50:8214/tcp',
      'refused at host',
    ],
    [
      'the host drops by policy',
      'host',
      {
        rules:
          'table inet f {\n' +
          ' chain i {\n' +
          '  type filter hook input priority filter; policy drop;\n' +
          '  tcp dport 22 accept\n' +
          ' }\n' +
          '}\n',
      },
      '203.0.113.50:8214/tcp',
      'lost at host',
    ],
    [
      'the host rejects',
      'host',
      {
        rules:
          'table inet f {\n' +
          ' chain i {\n' +
          '  type filter hook input priority filter; policy accept;\n' +
          '  tcp dport 8214 reject with tcp reset\n' +
          ' }\n' +
          '}\n',
      },
      '203.0.113.50:8214/tcp',
      'refused at host',
    ],
    [
      'the host drops its own answer',
      'host',
      {
        rules:
          'table inet f {\n' +
          ' chain o {\n' +
          '  type filter hook output priority filter; policy accept;\n' +
          '  tcp sport 8214 drop\n' +
          ' }\n' +
          '}\n',
      },
      '203.0.113.50:8214/tcp',
      'lost at host (reply)',
    ],
    [
      'the host has no way out for its answer',
      'host',
      { routes: [] },
      '203.0.113.50:8214/tcp',
      'lost at host (reply)',
    ],
    [
      'forwarding is off',
      'gateway-settings',
      { settings: { 'net.ipv4.ip_forward': '0' } },
      '203.0.113.50:8214/tcp',
      'lost at gateway',
    ],
    [
      'the firewall of the host is not known, and something listens',
      'host',
      { rules: null },
      '203.0.113.50:8214/tcp',
      'unknown',
    ],
    ['what listens is not known', 'host', { sockets: null }, '203.0.113.50:8214/tcp', 'unknown'],
  ];
  for (const [title, where, change, to, expected] of cases) {
    it(`${title}: ${expected}`, () => {
      let g;
      if (where === 'gateway') g = gateway(change as string);
      else if (where === 'gateway-settings') g = gateway(FORWARD, change as Partial<TestMachine>);
      else g = gateway(FORWARD);
      const h = where === 'host' ? host(change as Partial<TestMachine>) : host();
      expect(outcome(run(testSite({ client: CLIENT, gateway: g, host: h }), '198.51.100.23', to))).to.equal(
        expected,
      );
    });
  }
});
