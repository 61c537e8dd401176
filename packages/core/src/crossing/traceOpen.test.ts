import { expect } from 'chai';
import { oneGateway, outcome, run, testSite, type TestMachine } from '../testing/index.ts';
import { isForked } from './index.ts';

const { CLIENT, FORWARD, gateway, host } = oneGateway;

describe('a packet of whose way something is open, or that goes round', () => {
  it('an unmodelled rule makes the outcome unknown and is named, in both directions of doubt', () => {
    const doubt = (policy: string, verdict: string): string =>
      'table inet f {\n' +
      ' chain i {\n' +
      `  type filter hook input priority filter; policy ${policy};\n` +
      `  tcp dport 8214 meta cpu 1 ${verdict}\n` +
      ' }\n' +
      '}\n';
    for (const rules of [doubt('drop', 'accept'), doubt('accept', 'drop')]) {
      const t = run(
        testSite({ client: CLIENT, gateway: gateway(FORWARD), host: host({ rules }) }),
        '198.51.100.23',
        '203.0.113.50:8214/tcp',
      );
      expect(t.outcome).to.equal('unknown');
      expect(JSON.stringify(t.needs.map((q) => q.need))).to.contain('cpu');
    }
  });

  it('an unmodelled rule that cannot matter for the packet changes nothing', () => {
    const rules =
      'table inet f {\n' +
      ' chain i {\n' +
      '  type filter hook input priority filter; policy accept;\n' +
      '  tcp dport 9999 meta cpu 1 drop\n' +
      '  meta cpu 1 counter\n' +
      '  meta cpu 1 accept\n' +
      ' }\n' +
      '}\n';
    expect(
      outcome(
        run(
          testSite({ client: CLIENT, gateway: gateway(FORWARD), host: host({ rules }) }),
          '198.51.100.23',
          '203.0.113.50:8214/tcp',
        ),
      ),
    ).to.equal('answered at host');
  });

  it('lost at one of two places: the sure one is told, and what may end it before is asked for', () => {
    const filter = (rule: string): string =>
      'table inet f {\n' +
      ' chain x {\n' +
      `  type filter hook ${rule.includes('jump') ? 'forward' : 'input'} priority filter; policy accept;\n` +
      `  ${rule.replace('jump ', '')}\n` +
      ' }\n' +
      '}\n';
    const t = run(
      testSite({
        client: CLIENT,
        gateway: gateway(FORWARD + filter('jump meta cpu 1 drop')),
        host: host({ rules: filter('tcp dport 8214 drop') }),
      }),
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
    );
    expect(t.outcome).to.equal('lost');
    // The ways agree on the outcome and not on the place.
    expect(t.stop).to.equal(null);
    expect(t.shown.stop).to.equal('host');
    expect(t.needs.map((q) => q.settle?.stop)).to.deep.equal(['gateway']);
    expect(isForked(t)).to.equal(false);
  });

  it('lost on one of two ways: neither of the places is sure', () => {
    const two = FORWARD.replace(
      '  ip daddr 203.0.113.50 tcp dport 8214 dnat to 192.168.50.20\n',
      '  meta cpu 1 tcp dport 8214 dnat to 192.168.50.20\n  tcp dport 8214 dnat to 192.168.50.21\n',
    );
    const t = run(
      testSite({
        client: CLIENT,
        gateway: gateway(two),
        host: host({ sockets: [] }),
        other: host({ interfaces: { eno1: ['192.168.50.21/24'] }, sockets: [] }),
      }),
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
    );
    expect(t.outcome).to.equal('refused');
    expect([t.shown, ...t.others].map((r) => r.stop).sort()).to.deep.equal(['host', 'other']);
    expect(isForked(t)).to.equal(true);
  });

  it('a hairpin without source translation is lost at the client, with it it is answered', () => {
    const inside: TestMachine = {
      role: 'client',
      interfaces: { eth0: ['192.168.50.77/24'] },
      routes: ['default via 192.168.50.1 dev eth0'],
    };
    const plain = testSite({ client: inside, gateway: gateway(FORWARD), host: host() });
    expect(outcome(run(plain, '192.168.50.77', '203.0.113.50:8214/tcp'))).to.equal('lost at client (reply)');
    const turned = testSite({
      client: inside,
      gateway: gateway(FORWARD.replace('oifname "wan" masquerade', 'ip saddr 192.168.50.0/24 masquerade')),
      host: host(),
    });
    expect(outcome(run(turned, '192.168.50.77', '203.0.113.50:8214/tcp'))).to.equal('answered at host');
  });

  it('two gateways in a row translate twice', () => {
    const inner: TestMachine = {
      role: 'gateway',
      interfaces: { up: ['192.168.1.2/24'], down: ['192.168.50.1/24'] },
      routes: ['default via 192.168.1.1 dev up'],
      rules:
        'table ip nat {\n' +
        ' chain pre {\n' +
        '  type nat hook prerouting priority dstnat;\n' +
        '  tcp dport 8214 dnat to 192.168.50.20\n' +
        ' }\n' +
        '}\n',
    };
    const outer: TestMachine = {
      role: 'gateway',
      interfaces: { wan: ['198.51.100.1/24', '203.0.113.50/32'], lan: ['192.168.1.1/24'] },
      rules:
        'table ip nat {\n' +
        ' chain pre {\n' +
        '  type nat hook prerouting priority dstnat;\n' +
        '  tcp dport 8214 dnat to 192.168.1.2\n' +
        ' }\n' +
        '}\n',
    };
    const t = run(
      testSite({ client: CLIENT, outer, inner, host: host() }),
      '198.51.100.23',
      '203.0.113.50:8214/tcp',
    );
    expect(outcome(t)).to.equal('answered at host');
    // Without the second forward the inner gateway itself is asked, and refuses.
    expect(
      outcome(
        run(
          testSite({ client: CLIENT, outer, inner: { ...inner, rules: '' }, host: host() }),
          '198.51.100.23',
          '203.0.113.50:8214/tcp',
        ),
      ),
    ).to.equal('refused at inner');
  });

  it('reverse-path filtering is only asked about where it matters', () => {
    const h = host({
      interfaces: { lo: ['127.0.0.1/8'], eno1: ['192.168.50.20/24'], tun: ['10.9.0.2/24'] },
      routes: ['default via 10.9.0.1 dev tun'],
    });
    const strict = testSite({
      client: CLIENT,
      gateway: gateway(FORWARD),
      host: { ...h, settings: { 'net.ipv4.conf.all.rp_filter': '1' } },
    });
    expect(outcome(run(strict, '198.51.100.23', '203.0.113.50:8214/tcp'))).to.equal('lost at host');
  });
});
