import { expect } from 'chai';
import { caseFacts, caseSite, outcome, run, serverEvidence } from '../testing/index.ts';
import { benchView } from '../views/index.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'carrier', role: 'carrier' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
const SERVER = serverEvidence('192.168.20.4/24', '192.168.20.1', ['tcp 0.0.0.0:23 gauged']);
const LINES =
  'Interface\tAddress\tMask\tState\n' +
  'WAN1\t203.0.113.66\t255.255.255.252\tup\n' +
  'WAN2\t203.0.113.70\t255.255.255.252\tup\n' +
  'LAN\t192.168.20.1\t255.255.255.0\tup\n';
const table = (line: string): string =>
  'Name\tProtocol\tOutside port\tInside address\tInside port\tLine\n' +
  `gauge\tTCP\t123\t192.168.20.4\t23\t${line}\n`;
const FILES = { ...SERVER, 'gateway/lines': LINES, 'gateway/table': table('WAN2') };

describe('a gateway with several lines', () => {
  const verdict = (address: string, files: Record<string, string> = FILES): string =>
    outcome(run(caseSite(PATH, files), '198.51.100.23', `${address}:123/tcp`));

  it('lets a row take what is dialled by the line that it is bound to', () => {
    expect(verdict('203.0.113.70')).to.equal('answered at host');
    expect(verdict('203.0.113.70', { ...FILES, 'gateway/table': table('WAN1') })).to.equal('lost at gateway');
  });

  it('holds its other address too: nobody is told to dial this one instead', () => {
    expect(verdict('203.0.113.66')).to.equal('unknown');
    const facts = caseFacts(PATH, FILES, {
      service: { name: 'Gauge', endpoints: [{ protocol: 'tcp', port: 123 }] },
      client: { address: '198.51.100.23', dials: '203.0.113.66' },
    });
    expect(benchView(facts).verdict).to.include({ lamp: 'fogged', sure: false });
  });

  it('an address that an older page shows is gone', () => {
    const pages = {
      ...SERVER,
      'gateway/old': 'WAN IP 203.0.113.9\n',
      'gateway/status': 'WAN IP 203.0.113.50\n',
    };
    const facts = caseFacts(PATH, pages, {
      service: { name: 'Gauge', endpoints: [{ protocol: 'tcp', port: 123 }] },
      client: { address: '198.51.100.23', dials: '203.0.113.9' },
    });
    expect(benchView(facts).verdict.headline).to.match(/^Astray: the client dials 203\.0\.113\.9/);
  });
});

describe('an address in the network of a router’s own outside', () => {
  const at = (wan: string, to: string): string =>
    outcome(
      run(
        caseSite(PATH, { ...SERVER, 'gateway/status': `WAN IP ${wan}\nLAN IP 192.168.20.1\n` }),
        '198.51.100.23',
        `${to}:443/tcp`,
      ),
    );
  const need = (wan: string, to: string): string | undefined =>
    run(
      caseSite(PATH, { ...SERVER, 'gateway/status': `WAN IP ${wan}\nLAN IP 192.168.20.1\n` }),
      '198.51.100.23',
      `${to}:443/tcp`,
    ).needs[0]?.need.need;

  it('may be claimed by a mapping that nobody has shown', () => {
    expect(at('203.0.113.114/28', '203.0.113.120')).to.equal('unknown');
    expect(need('203.0.113.114/28', '203.0.113.120')).to.equal('claimed-address');
  });

  it('not in a network that a carrier’s customers share, nor outside its own', () => {
    expect(need('203.0.113.114/24', '203.0.113.120')).to.not.equal('claimed-address');
    expect(need('203.0.113.114/28', '203.0.113.130')).to.not.equal('claimed-address');
  });
});
