import { expect } from 'chai';
import { caseFacts, serverEvidence } from '../testing/index.ts';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import { announcedMend, nextConnection } from './announced.ts';
import { formatAddress } from '../net/index.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'carrier', role: 'carrier' },
  { id: 'host', role: 'host' },
];
const SERVER = serverEvidence('203.0.113.80/24', '203.0.113.1', ['tcp 0.0.0.0:21 vsftpd']);
/** The passive answer of file transfer (RFC 959 §4.1.2): address, then the port as two bytes. */
const SAID = (address: string): string =>
  '220 welcome\n331 password?\n230 logged in\n' +
  `227 Entering Passive Mode (${address.replaceAll('.', ',')},156,64).\n`;
/** The extended answer (RFC 2428 §3): a port alone. */
const PORT_ALONE = '220 welcome\n230 logged in\n229 Entering Extended Passive Mode (|||40000|)\n';
const SET = (address: string): string =>
  `listen=YES\npasv_enable=YES\npasv_address=${address}\npasv_min_port=40000\npasv_max_port=40100\n`;

const facts = (
  files: Readonly<Record<string, string>>,
  endpoints: readonly unknown[] = [{ protocol: 'tcp', port: 21 }],
) => caseFacts(PATH, { ...SERVER, ...files }, { service: { name: 'Archive', endpoints } });
const mend = (
  files: Readonly<Record<string, string>>,
  {
    to = '203.0.113.80:21/tcp',
    from = '198.51.100.23:40000',
    endpoints,
  }: { to?: string; from?: string; endpoints?: readonly unknown[] } = {},
) => {
  const [target, source] = [parseTarget(to), parseEndpoint(from)];
  if (!target || !source) throw new Error('no packet');
  const destination = { address: target.address, port: target.port };
  return announcedMend(facts(files, endpoints), { transport: target.transport, source, destination });
};

describe('where a program sends its clients after its first answer', () => {
  it('as it said to a client', () => {
    const next = nextConnection(facts({ 'client/dial': SAID('192.168.50.20') }));
    expect(next && formatAddress(next.address)).to.equal('192.168.50.20');
    expect(next).to.include({ port: 156 * 256 + 64, key: null });
    expect(next?.source.line).to.equal(4);
  });

  it('as it is set', () => {
    const next = nextConnection(facts({ 'host/configuration': SET('192.168.50.20') }));
    expect(next).to.deep.include({ port: null, key: 'pasv_address' });
  });

  it('what was said names the port, and the file the setting', () => {
    const next = nextConnection(
      facts({ 'client/dial': SAID('192.168.50.20'), 'host/configuration': SET('192.168.50.20') }),
    );
    expect(next).to.include({ port: 40000, key: 'pasv_address' });
  });

  it('of two addresses the newest counts, with what belongs to it alone', () => {
    const next = nextConnection(
      facts({ 'client/dial': SAID('192.168.50.20'), 'host/configuration': SET('192.168.50.99') }),
    );
    expect(next && formatAddress(next.address)).to.equal('192.168.50.99');
    expect(next).to.include({ port: null, key: 'pasv_address' });
  });

  it('told a port alone it stays where it is', () =>
    expect(
      nextConnection(facts({ 'host/configuration': SET('192.168.50.20'), 'client/dial': PORT_ALONE })),
    ).to.equal(null));

  it('nothing said', () => expect(nextConnection(facts({}))).to.equal(null));
});

describe('an announced address that this client does not reach', () => {
  const INSIDE = { 'client/dial': SAID('192.168.50.20') };
  it('is mended to what was dialled', () => {
    const made = mend({ ...INSIDE, 'host/configuration': SET('192.168.50.20') });
    expect(made).to.deep.include({ fault: 'announces-inside', stop: 'host', apply: null });
    const finding = made?.finding.found === 'announces' ? made.finding : null;
    expect(finding).to.deep.include({
      port: 40000,
      key: 'pasv_address',
      dataPorts: { first: 40000, last: 40100 },
    });
    expect(finding && [finding.now, finding.mended].map(formatAddress)).to.deep.equal([
      '192.168.50.20',
      '203.0.113.80',
    ]);
    expect(made?.evidence.map((e) => e.file)).to.deep.equal(['evidence/host/configuration.txt']);
  });

  it('without its data ports, where nobody has told them', () => {
    const finding = mend(INSIDE)?.finding;
    expect(finding?.found === 'announces' && finding.dataPorts).to.equal(null);
  });

  it('nothing where it is what was dialled', () =>
    expect(mend({ 'client/dial': SAID('203.0.113.80') })).to.equal(null));
  it('nothing for a client inside', () =>
    expect(mend(INSIDE, { from: '192.168.50.77:40000' })).to.equal(null));
  it('nothing for UDP', () => expect(mend(INSIDE, { to: '203.0.113.80:21/udp' })).to.equal(null));

  const TWO = [
    { protocol: 'tcp', port: 2121 },
    { protocol: 'tcp', port: 8214 },
  ];
  it('nothing for another service of the same machine', () =>
    expect(mend(INSIDE, { to: '203.0.113.80:8214/tcp', endpoints: TWO })).to.equal(null));
  it('for the port that such programs answer first on', () =>
    expect(mend(INSIDE, { endpoints: TWO })?.fault).to.equal('announces-inside'));
  it('for the port that the program is set to', () => {
    const files = { ...INSIDE, 'host/configuration': `${SET('192.168.50.20')}listen_port=2121\n` };
    expect(mend(files, { to: '203.0.113.80:2121/tcp', endpoints: TWO })?.fault).to.equal('announces-inside');
    expect(mend(files, { to: '203.0.113.80:8214/tcp', endpoints: TWO })).to.equal(null);
  });
  it('for the only port of the service', () =>
    expect(
      mend(INSIDE, { to: '203.0.113.80:990/tcp', endpoints: [{ protocol: 'tcp', port: 990 }] })?.fault,
    ).to.equal('announces-inside'));
});
