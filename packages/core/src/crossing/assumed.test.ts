import { expect } from 'chai';
import { assumptionText } from '../words/index.ts';
import { HOME, caseSite, outcome, run, serverEvidence, testSite } from '../testing/index.ts';

const named = (id: string | null): string => ({ client: 'Client', carrier: 'Carrier' })[id ?? ''] ?? id ?? '';
const FILES = {
  ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']),
  'gateway/table':
    'Name\tProtocol\tExternal port\tInternal IP\tInternal port\ngullcast\tTCP\t8214\t192.168.50.20\t8214\n',
};
const assumedOf = (site: Parameters<typeof run>[0], to: string): string[] =>
  run(site, '198.51.100.23', to).assumed.map((a) => assumptionText(a, named));

describe('what a verdict takes for granted (law 8)', () => {
  it('is the client’s own machine and the carriers, where neither was looked at', () => {
    const site = caseSite(HOME, FILES);
    expect(outcome(run(site, '198.51.100.23', '203.0.113.50:8214/tcp'))).to.equal('answered at host');
    expect(assumedOf(site, '203.0.113.50:8214/tcp')).to.deep.equal([
      'the client’s own machine lets its call out and the answer in',
      'the carrier and the routers beyond pass 8214/tcp',
    ]);
  });

  it('is said of a verdict that stands against the client, too', () => {
    const site = caseSite(HOME, {
      ...FILES,
      'gateway/table': FILES['gateway/table'].replace(/8214/g, '8215'),
    });
    expect(assumedOf(site, '203.0.113.50:8214/tcp')).to.have.length(2);
  });

  it('is nothing where every machine on the way is known', () => {
    const site = testSite({
      client: { role: 'client', interfaces: { eth0: ['198.51.100.23/24'] } },
      host: { interfaces: { eth0: ['198.51.100.20/24'] }, sockets: ['tcp 0.0.0.0:8214'] },
    });
    expect(assumedOf(site, '198.51.100.20:8214/tcp')).to.deep.equal([]);
  });

  it('is the client’s own rules where its addresses and routes were listed and no rules', () => {
    const own = {
      'client/addresses':
        '2: eth0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 198.51.100.23/24 scope global eth0\n',
      'client/routes': 'default via 198.51.100.1 dev eth0\n198.51.100.0/24 dev eth0 scope link\n',
    };
    const to = '203.0.113.50:8214/tcp';
    const listed = caseSite(HOME, { ...FILES, ...own });
    expect(outcome(run(listed, '198.51.100.23', to))).to.equal('answered at host');
    expect(assumedOf(listed, to)[0]).to.match(/own machine lets its call out/);
    const rules = 'table inet f {\n chain out {\n  type filter hook output priority 0; policy drop;\n }\n}\n';
    const files = { ...FILES, ...own, 'client/rules': rules };
    const evidence = Object.keys(files).map((name) => ({
      stop: name.split('/')[0],
      file: `evidence/${name}.txt`,
      ...(name === 'client/rules' ? { part: true } : { whole: true }),
    }));
    expect(outcome(run(caseSite(HOME, files, { evidence }), '198.51.100.23', to))).to.equal('unknown');
  });

  it('is a next hop that is no stop of the case', () => {
    const site = testSite(
      {
        client: {
          role: 'client',
          interfaces: { eth0: ['198.51.100.23/24'] },
          routes: ['default via 198.51.100.1 dev eth0'],
        },
        host: {
          interfaces: { eth0: ['203.0.113.20/24'] },
          routes: ['default via 203.0.113.1 dev eth0'],
          sockets: ['tcp 0.0.0.0:8214'],
        },
        net: { role: 'carrier', interfaces: {} },
      },
      { internet: 'net' },
    );
    expect(assumedOf(site, '203.0.113.20:8214/tcp')).to.include.members([
      '198.51.100.1, the next hop of the client, is a router that works',
      '203.0.113.1, the next hop of the host, is a router that works',
    ]);
  });
});
