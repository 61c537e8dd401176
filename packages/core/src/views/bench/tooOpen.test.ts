import { expect } from 'chai';
import { caseFacts, HOME, serverEvidence } from '../../testing/index.ts';
import { benchView } from './view.ts';

/** What is warned of where a service is answered through a table of one row. */
function warned(
  port: number,
  sources: string,
  audience?: unknown,
  more: Record<string, string> = {},
): readonly string[] {
  const files = {
    ...serverEvidence('192.168.50.20/24', '192.168.50.1', [`tcp 0.0.0.0:${port} served`]),
    'gateway/table':
      'Name\tProtocol\tExternal port\tInternal IP\tInternal port\tSource\n' +
      `row\tTCP\t${port}\t192.168.50.20\t${port}\t${sources}\n`,
    'gateway/page': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n',
    ...more,
  };
  const view = benchView(
    caseFacts(HOME, files, {
      service: { name: 'Service', endpoints: [{ protocol: 'tcp', port }], ...(audience ? { audience } : {}) },
      client: { address: '198.51.100.23', dials: `203.0.113.50:${port}` },
    }),
  );
  expect(view.verdict.lamp, view.verdict.headline).to.equal('lit');
  return view.warnings;
}

describe('what lets more people in than was asked for', () => {
  it('remote administration and databases that everyone reaches', () => {
    expect(warned(3389, 'any')[0]).to.match(/^Remote administration is open to everyone: port 3389/);
    expect(warned(5432, 'any')[0]).to.match(/^A database is open to everyone/);
  });

  it('everyone, where some are meant', () =>
    expect(warned(8214, 'any', ['198.51.100.23/32'])).to.deep.equal([
      'Open to everyone, asked for one address',
    ]));

  it('a wider prefix than is meant', () => {
    expect(warned(22, '198.51.100.0/24')).to.deep.equal(['Lets in 256 addresses, asked for one address']);
    expect(warned(22, '198.51.100.0/24', ['198.51.100.0/24'])).to.deep.equal([]);
    expect(warned(22, '198.51.100.23/32')).to.deep.equal([]);
  });

  it('nothing where anyone is meant, or nobody has said and it is no administration', () => {
    expect(warned(5432, 'any', 'anyone')).to.deep.equal([]);
    expect(warned(8214, 'any')).to.deep.equal([]);
  });

  it('an exposed host, whatever the row', () =>
    expect(
      warned(8214, 'any', 'anyone', { 'gateway/exposed': 'Exposed host: 192.168.50.31\n' }),
    ).to.deep.equal(['192.168.50.31 is an exposed host: every port that no row takes goes to it']));
});
