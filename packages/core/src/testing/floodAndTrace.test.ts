import { expect } from 'chai';
import fc from 'fast-check';
import { floodFrom, floodSite, follow, trace } from '../crossing/index.ts';
import { exposures } from '../exposure/index.ts';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import { explore } from '../rules/index.ts';
import { PORTS, SOURCES, packet, siteArbitrary } from './drawnSites.ts';
import { caseSite, fate, fatesByFlood, fatesByTrace, holdsPacket, testSite } from './index.ts';

/** Random sites tried; fewer under the mutation tester, which runs them for every change. */
const RUNS = process.env['STRYKER_MUTATOR_WORKER'] === undefined ? 400 : 45;

describe('trace and flood: one walk, two movers', () => {
  it('never disagree over what a packet reaches, what it may reach, and what is not known', function () {
    this.timeout(120_000);
    fc.assert(
      fc.property(siteArbitrary, ({ site, text }) => {
        const gateway = site.machines.find((m) => m.id === 'gateway')!;
        const wan = gateway.interfaces!.find((i) => i.name === 'wan')!;
        const flood = floodFrom(site, [{ machine: gateway, device: wan }], 4, 'tcp');
        for (const from of SOURCES)
          for (const dport of PORTS) {
            const header = packet(from, dport);
            const traced = fatesByTrace(site, header);
            const flooded = fatesByFlood(flood, header);
            traced.delete('ends');
            const label = `${from} → ${dport}\n${text}`;
            expect([...flooded.fates].sort(), label).to.deep.equal([...traced].sort());
            if (flooded.sure) expect(traced.size, label).to.equal(1);
          }
      }),
      { numRuns: RUNS },
    );
  });

  it('agree on what is sure: what every answer lets through is no “perhaps” in the list', function () {
    this.timeout(120_000);
    fc.assert(
      fc.property(siteArbitrary, ({ site, text }) => {
        const rows = exposures(site).filter((e) => e.family === 4 && e.transport === 'tcp');
        for (const from of SOURCES)
          for (const dport of PORTS) {
            const header = packet(from, dport);
            const runs = explore((ask) => follow(site, header, ask, true)).results.map(fate);
            const reached = runs.every((f) => f === runs[0] && f.startsWith('reaches'));
            const listed = rows.filter(
              (e) =>
                e.outsidePorts.some((p) => dport >= p.first && dport <= p.last) &&
                e.outsideAddresses.some((a) => coversText(a, '203.0.113.50')) &&
                (e.anyone || e.sources.some((s) => coversText(s, from))),
            );
            const label =
              `${from} → ${dport} ${runs.join()}\n` +
              `${listed.map((e) => `${e.stop} ${e.sources.join()}`).join('; ')}\n` +
              `${text}`;
            if (reached)
              expect(
                listed.some((e) => !e.maybe),
                label,
              ).to.equal(true);
            // A row speaks of senders with whatever source port: a rule on that may still let others in.
            if (runs.every((f) => f === 'ends') && !/sport/.test(text))
              expect(listed.length, label).to.equal(0);
          }
      }),
      { numRuns: Math.ceil(RUNS / 3) },
    );
  });

  it('a listener that may take both families is open perhaps, in the list as in the verdict', () => {
    const path = [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      { id: 'host', role: 'host' },
    ] as const;
    const site = caseSite(
      path,
      {
        'host/addresses':
          '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
          '    inet 127.0.0.1/8 scope host lo\n' +
          '2: ens3: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
          '    inet 203.0.113.140/28 scope global ens3\n',
        'host/routes': 'default via 203.0.113.129 dev ens3\n203.0.113.128/28 dev ens3 scope link\n',
        'host/sockets':
          'Active Internet connections (only servers)\n' +
          'Proto Recv-Q Send-Q Local Address           Foreign Address         State       PID/Program ' +
          'name\n' +
          'tcp6       0      0 :::5432                 :::*                    LISTEN      612/postgres\n',
        'host/rules': 'table inet none {\n}\n',
      },
      { client: { address: '198.51.100.23' } },
    );
    const target = parseTarget('203.0.113.140:5432/tcp')!;
    const t = trace(site, {
      transport: 'tcp',
      source: parseEndpoint('198.51.100.23:40000')!,
      destination: { address: target.address, port: 5432 },
    });
    expect(t.outcome).to.equal('unknown');
    const rows = exposures(site).filter((e) => e.family === 4 && e.transport === 'tcp');
    expect(rows.map((e) => [e.program, e.maybe, e.outsidePorts])).to.deep.equal([
      ['postgres', true, [{ first: 5432, last: 5432 }]],
    ]);
    expect(rows[0]!.needs.map((n) => n.need)).to.include('dual-stack');
  });

  it('a translation to the loopback of a gateway that routes it is open, in both', () => {
    const site = testSite({
      client: {
        role: 'client',
        interfaces: { eth0: ['198.51.100.23/24'] },
        routes: ['default via 198.51.100.1 dev eth0'],
      },
      gateway: {
        role: 'gateway',
        interfaces: { lo: ['127.0.0.1/8'], wan: ['198.51.100.1/24', '203.0.113.50/32'] },
        sockets: ['tcp 127.0.0.1:5432'],
        settings: { 'net.ipv4.conf.all.route_localnet': '1' },
        rules:
          'table ip nat {\n' +
          ' chain pre {\n' +
          '  type nat hook prerouting priority dstnat; policy accept;\n' +
          '  tcp dport 5432 dnat to 127.0.0.1\n' +
          ' }\n' +
          '}\n',
      },
    });
    expect(trace(site, packet('198.51.100.23', 5432)).outcome).to.equal('answered');
    const { deliveries } = floodSite(site, 4, 'tcp');
    const hit = deliveries.filter((d) => holdsPacket(d.set, packet('198.51.100.23', 5432)));
    expect(hit.map((d) => [d.machine.id, d.socket?.port, d.set.given])).to.deep.equal([
      ['gateway', 5432, null],
    ]);
  });
});

function coversText(prefixText: string, address: string): boolean {
  const bits = (text: string): number => text.split('.').reduce((n, x) => n * 256 + Number(x), 0);
  const [base = '', length = '32'] = prefixText.split('/');
  const size = 2 ** (32 - Number(length));
  return Math.floor(bits(base) / size) === Math.floor(bits(address) / size);
}
