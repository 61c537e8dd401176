import { expect } from 'chai';
import { address } from '../net/index.ts';
import { outcome, run, testSite, type TestMachine } from '../testing/index.ts';
import type { Machine, Site, Socket } from '../site/index.ts';

const CLIENT: TestMachine = {
  role: 'client',
  interfaces: { eth0: ['198.51.100.23/24'] },
  routes: ['default via 198.51.100.1 dev eth0'],
};
const HOST: TestMachine = {
  interfaces: { eno1: ['192.168.50.20/24'] },
  routes: ['default via 192.168.50.1 dev eno1'],
  sockets: ['tcp 0.0.0.0:80'],
};
const NAT = (rule: string): string =>
  'table ip nat {\n chain pre {\n  type nat hook prerouting priority dstnat; policy accept;\n' +
  `  ${rule}\n }\n}\n`;
const gateway = (more: Partial<TestMachine> = {}): TestMachine => ({
  role: 'gateway',
  interfaces: { wan: ['198.51.100.1/24'], lan: ['192.168.50.1/24'] },
  rules: NAT('tcp dport 80 dnat to 192.168.50.20'),
  ...more,
});
const site = (more: Partial<TestMachine> = {}, host: TestMachine = HOST): Site =>
  testSite({ client: CLIENT, gateway: gateway(more), host });
const dial = (at: Site, to = '198.51.100.1:80/tcp'): string => outcome(run(at, '198.51.100.23:40000', to));
const changed = (at: Site, id: string, change: (m: Machine) => Machine): Site => ({
  ...at,
  machines: at.machines.map((m) => (m.id === id ? change(m) : m)),
});

describe('the stages of a machine', () => {
  it('a forward leads to the server, and its answer back', () =>
    expect(dial(site())).to.equal('answered at host'));

  it('forwarding is off: the packet is lost, and nobody is told', () =>
    expect(dial(site({ settings: { 'net.ipv4.ip_forward': '0' } }))).to.equal('lost at gateway'));

  describe('routes', () => {
    const FAR: TestMachine = { ...HOST, interfaces: { eno1: ['192.168.50.20/24', '10.0.0.20/24'] } };
    const through = (routes: readonly string[], change: (m: Machine) => Machine = (m) => m): string =>
      dial(changed(site({ rules: NAT('tcp dport 80 dnat to 10.0.0.20'), routes }, FAR), 'gateway', change));
    const withRoute =
      (type: 'blackhole' | 'unreachable' | 'prohibit') =>
      (m: Machine): Machine => ({
        ...m,
        routes: {
          ...m.routes,
          4: (m.routes[4] ?? []).map((r) => (r.destination.length === 8 ? { ...r, type, hops: [] } : r)),
        },
      });

    it('the longest prefix counts, then the lowest metric', () => {
      expect(through(['10.0.0.0/8 via 192.168.50.20 dev lan'])).to.equal('answered at host');
      expect(
        through(['10.0.0.0/8 via 198.51.100.77 dev wan', '10.0.0.0/16 via 192.168.50.20 dev lan']),
      ).to.equal('answered at host');
      const two = (first: number, second: number): string =>
        through(['10.0.0.0/8 via 198.51.100.77 dev wan', '10.0.0.0/8 via 192.168.50.20 dev lan'], (m) => ({
          ...m,
          routes: {
            ...m.routes,
            4: (m.routes[4] ?? []).map((r) =>
              r.destination.length === 8 ? { ...r, metric: r.hops[0]?.device === 'wan' ? first : second } : r,
            ),
          },
        }));
      expect(two(20, 10)).to.equal('answered at host');
      expect(two(10, 20)).to.not.equal('answered at host');
    });

    it('a route into nothing is silent, the others refuse', () => {
      const at = (type: 'blackhole' | 'unreachable' | 'prohibit'): string =>
        through(['10.0.0.0/8 via 192.168.50.20 dev lan'], withRoute(type));
      expect(at('blackhole')).to.equal('lost at gateway');
      expect(at('unreachable')).to.equal('refused at gateway');
      expect(at('prohibit')).to.equal('refused at gateway');
    });

    it('no route at all is refused', () => expect(through([])).to.equal('refused at gateway'));
  });

  describe('sockets', () => {
    const listening = (socket: Partial<Socket>): string =>
      dial(
        changed(site(), 'host', (m) => ({
          ...m,
          sockets: (m.sockets ?? []).map((s) => ({ ...s, ...socket })),
        })),
      );

    it('bound to an interface take what comes in by it alone', () => {
      expect(listening({ device: 'eno1' })).to.equal('answered at host');
      expect(listening({ device: 'eno2' })).to.equal('refused at host');
    });

    it('bound to an address take what is for it alone', () => {
      expect(listening({ address: address('192.168.50.20') })).to.equal('answered at host');
      expect(listening({ address: address('192.168.50.21') })).to.equal('refused at host');
      expect(listening({ address: address('127.0.0.1') })).to.equal('refused at host');
    });

    it('of another transport, family or port take nothing', () => {
      expect(listening({ transport: 'udp' })).to.equal('refused at host');
      expect(listening({ families: [6] })).to.equal('refused at host');
      expect(listening({ port: 81 })).to.equal('refused at host');
    });

    it('that nobody has listed are not known', () =>
      expect(dial(changed(site(), 'host', (m) => ({ ...m, sockets: null })))).to.equal('unknown'));
  });

  describe('neighbours', () => {
    const NOBODY = NAT('tcp dport 80 dnat to 192.168.50.99');
    const seen = (failed: boolean, mac: string | null, to = NOBODY): string =>
      dial(
        changed(site({ rules: to }), 'gateway', (m) => ({
          ...m,
          neighbours: [
            { address: address('192.168.50.99'), device: 'lan', mac, failed, source: null },
            { address: address('192.168.50.20'), device: 'wan', mac: null, failed: true, source: null },
          ],
        })),
      );

    it('that do not answer are told apart from those whom nobody asked', () => {
      expect(seen(true, null)).to.equal('refused at gateway');
      expect(seen(false, '02:00:00:00:00:99')).to.equal('unknown');
      // What failed on another interface says nothing about this one.
      expect(seen(true, null, NAT('tcp dport 80 dnat to 192.168.50.20'))).to.equal('answered at host');
    });
  });

  it('a translation keeps the place in a range of ports', () => {
    const at = site(
      { rules: NAT('tcp dport 8000-8009 dnat to 192.168.50.20:80') },
      { ...HOST, sockets: ['tcp 0.0.0.0:80'] },
    );
    expect(dial(at, '198.51.100.1:8009/tcp')).to.equal('answered at host');
    expect(dial(at, '198.51.100.1:8010/tcp')).to.equal('refused at gateway');
  });

  it('a source that the machine itself holds cannot come from outside', () =>
    expect(outcome(run(site(), '192.168.50.1:40000', '198.51.100.1:80/tcp'))).to.not.equal(
      'answered at host',
    ));
});
