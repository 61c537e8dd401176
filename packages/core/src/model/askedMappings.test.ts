import { expect } from 'chai';
import { outcome, run, caseFacts, caseSite, serverEvidence } from '../testing/index.ts';
import { assignStop } from '../ledger/index.ts';
import { readText } from '../reading/index.ts';

const CLIENT_LIST = (lease: number): string =>
  'upnpc : miniupnpc library test client, version 2.2.4.\n' +
  'Local LAN ip address : 192.168.50.77\n' +
  ' i protocol exPort->inAddr:inPort description remoteHost leaseTime\n' +
  ` 0 TCP  8214->192.168.50.20:8214  'radio' '' ${lease}\n`;
const path = [
  { id: 'client', role: 'client' as const },
  { id: 'carrier', role: 'carrier' as const },
  { id: 'gateway', role: 'gateway' as const },
  { id: 'host', role: 'host' as const },
];
const PAGE = {
  'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n',
  'gateway/table': 'Protocol\tOutside port\tInside address\tInside port\nUDP\t28410\t192.168.50.20\t28410\n',
};
const HOST = serverEvidence('192.168.50.20/24', '192.168.50.1', [
  'tcp 0.0.0.0:8214 gullcast',
  'udp 0.0.0.0:28410 lanternd',
]);
const tried = (files: Record<string, string>): string =>
  outcome(run(caseSite(path, { ...PAGE, ...HOST, ...files }), '198.51.100.23', '203.0.113.50:8214/tcp'));

describe('mappings that programs asked a gateway for', () => {
  it('count beside the rows of its table', () => {
    expect(tried({})).to.not.equal('answered at host');
    expect(tried({ 'gateway/asked': CLIENT_LIST(0) })).to.equal('answered at host');
    expect(tried({ 'gateway/asked': 'TCP:8214:192.168.50.20:8214:0:radio\n' })).to.equal('answered at host');
  });
  it('with a lifetime may have ended since they were listed', () =>
    expect(tried({ 'gateway/asked': CLIENT_LIST(900) })).to.equal('unknown'));
  it('of which nobody could read one leave the gateway open', () =>
    expect(tried({ 'gateway/asked': CLIENT_LIST(0).replace(/ 0\n$/, ' 0 later\n') })).to.equal('unknown'));
  it('to another machine do not help', () =>
    expect(
      tried({ 'gateway/asked': CLIENT_LIST(0).replace('192.168.50.20:', '192.168.50.99:') }),
    ).to.not.equal('answered at host'));
  it('are a gateway’s, whoever listed them', () =>
    expect(assignStop(readText(CLIENT_LIST(0))!, caseFacts(path, { ...PAGE, ...HOST }))).to.include({
      stop: 'gateway',
      sure: true,
    }));
});
