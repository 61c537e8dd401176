import { expect } from 'chai';
import { caseFacts, HOME, serverEvidence } from '../../testing/index.ts';
import { diagnosis } from '../diagnosis/diagnosis.ts';
import { benchView } from './view.ts';

const DIALOGUE =
  '220 Welcome.\n' +
  '331 Please specify the password.\n' +
  '230 Login successful.\n' +
  '227 Entering Passive Mode (192,168,50,20,156,66).\n';
const SETTINGS =
  'listen_port=21\npasv_enable=YES\npasv_min_port=40000\npasv_max_port=40010\npasv_address=192.168.50.20\n';

/** A file transfer behind a router that forwards its first port. */
function facts(files: Record<string, string>, rows = '', dials = '203.0.113.50:21') {
  return caseFacts(
    HOME,
    {
      ...serverEvidence('192.168.50.20/24', '192.168.50.1', [
        'tcp 0.0.0.0:21 transferd',
        'tcp 0.0.0.0:80 webd',
      ]),
      'gateway/table':
        'Name\tProtocol\tExternal port\tInternal IP\tInternal port\n' +
        'web\tTCP\t80\t192.168.50.20\t80\n' +
        'files\tTCP\t21\t192.168.50.20\t21\n' +
        `${rows}`,
      'gateway/page': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n',
      ...files,
    },
    {
      service: {
        name: 'Pictures',
        endpoints: [
          { protocol: 'tcp', port: 80 },
          { protocol: 'tcp', port: 21 },
        ],
      },
      client: {
        address: '198.51.100.23',
        dials,
        says: 'logs in, then the listing hangs',
        symptom: 'connects-then-fails',
      },
    },
  );
}
const view = (files: Record<string, string>, rows?: string) => benchView(facts(files, rows), 'tcp/21');

describe('a connection that follows the first one', () => {
  it('goes to the inside address that the server told its client', () => {
    const { verdict, afterwards, next } = view({ 'host/dialogue': DIALOGUE });
    expect(verdict.lamp).to.equal('lit');
    expect(afterwards?.text).to.equal(
      'The first connection is answered; the next one goes to 192.168.50.20:40002, an inside ' +
        'address, and TCP 40002 does not get through to the one dialled',
    );
    expect(afterwards?.source).to.deep.include({ file: 'evidence/host/dialogue.txt', line: 4 });
    expect(next.kind === 'mend' && next.mend.title).to.equal('Let the program announce 203.0.113.50');
  });

  it('the settings name the key to change, and the ports that have to be let through', () => {
    const { afterwards, next } = view({ 'host/dialogue': DIALOGUE, 'host/settings': SETTINGS });
    expect(afterwards?.text).to.contain('TCP 40000–40010 does not get through');
    expect(next.kind === 'mend' && next.mend.values).to.deep.equal([
      { label: 'pasv_address', now: '192.168.50.20', mended: '203.0.113.50' },
      { label: 'Data ports', now: null, mended: 'TCP 40000–40010' },
    ]);
  });

  it('with a row for the ports only the address is wrong; nothing listening there proves nothing', () => {
    const row = 'data\tTCP\t40000-40010\t192.168.50.20\t40000-40010\n';
    const { afterwards } = view({ 'host/dialogue': DIALOGUE, 'host/settings': SETTINGS }, row);
    expect(afterwards?.text).to.equal(
      'The first connection is answered; the next one goes to 192.168.50.20:40002, an inside address',
    );
  });

  it('is right where the server names the dialled address, or none', () => {
    const said = (line: string): string => DIALOGUE.replace(/^227.*$/m, line);
    for (const line of [
      '227 Entering Passive Mode (203,0,113,50,156,66).',
      '229 Entering Extended Passive Mode (|||40002|)',
    ])
      expect(view({ 'host/dialogue': said(line) }).afterwards, line).to.equal(null);
    expect(view({}).afterwards).to.equal(null);
  });

  it('the client was told a port alone: what the settings would announce plays no part', () => {
    const told = DIALOGUE.replace(/^227.*$/m, '229 Entering Extended Passive Mode (|||40002|)');
    expect(view({ 'host/dialogue': told, 'host/settings': SETTINGS }).afterwards).to.equal(null);
  });

  it('says nothing of another service on the same machine', () =>
    expect(benchView(facts({ 'host/dialogue': DIALOGUE }), 'tcp/80').afterwards).to.equal(null));

  it('its ports are proposed for the service', () => {
    const { proposals } = view({ 'host/settings': SETTINGS });
    expect(
      proposals.flatMap(({ proposal }) => (proposal.kind === 'endpoint' ? proposal.endpoints : [])),
    ).to.deep.equal([{ protocol: 'tcp', port: 40000, portEnd: 40010 }]);
  });

  it('is the fault that the diagnosis names', () => {
    const { faults, mends } = diagnosis(facts({ 'host/dialogue': DIALOGUE }));
    expect(faults[0]?.id).to.equal('announces-inside');
    expect(mends.map((m) => m.words.title)).to.deep.equal(['Let the program announce 203.0.113.50']);
  });
});
