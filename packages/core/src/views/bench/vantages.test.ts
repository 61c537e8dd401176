import { expect } from 'chai';
import { caseFacts, HOME, serverEvidence } from '../../testing/index.ts';
import { vantageGrid, type VantageGrid } from './vantages.ts';

const FILES = {
  ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gulld']),
  'gateway/table':
    'Name\tProtocol\tExternal port\tInternal IP\tInternal port\tState\n' +
    'row\tTCP\t8214\t192.168.50.20\t8214\tOff\n',
  'gateway/page': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n',
};
const grid = (more: object = {}, client: object = {}): VantageGrid =>
  vantageGrid(
    caseFacts(HOME, FILES, {
      service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
      client: { address: '198.51.100.23', dials: '203.0.113.50:8214', ...client },
      ...more,
    }),
  );
/** Each place: what is worked out, and what was seen. */
const said = (g: VantageGrid): string[] =>
  g.rows.map(({ label, cells: [c] }) =>
    [
      label,
      c?.to ?? 'nowhere',
      c?.lamp ?? '-',
      c?.seen ? `seen ${c.seen.outcome}${c.seen.disagrees ? '!' : ''}` : '',
    ]
      .join(' | ')
      .replace(/ \| $/, ''),
  );

describe('who tries from where', () => {
  it('near the server it works, past the gateway it does not: the row is off', () =>
    expect(said(grid())).to.deep.equal([
      'on the server itself | 192.168.50.20:8214/tcp | lit',
      'from inside, by the inside address | 192.168.50.20:8214/tcp | lit',
      // Whether the router turns such packets round is not known.
      'from inside, by the outside address | 203.0.113.50:8214/tcp | fogged',
      'from the client, by the address | 203.0.113.50:8214/tcp | shut',
      'from another network | 203.0.113.50:8214/tcp | shut',
    ]));

  it('further clients have places of their own', () =>
    expect(said(grid({}, { others: ['192.0.2.7'] }))).to.include(
      'from 192.0.2.7, by the address | 203.0.113.50:8214/tcp | shut',
    ));

  it('what was seen stands in its place, and what contradicts is marked', () => {
    const seen = (vantage: string, to: string, outcome: string, more = {}) => ({
      vantage,
      to,
      outcome,
      ...more,
    });
    const rows = said(
      grid({
        observations: [
          seen('lan', '192.168.50.20:8214/tcp', 'answered'),
          seen('client', '203.0.113.50:8214/tcp', 'answered', { from: '198.51.100.23' }),
          seen('outside', '203.0.113.50:8214/tcp', 'lost'),
          seen('outside', '203.0.113.50:8214/udp', 'answered'),
        ],
      }),
    );
    expect(rows[1]).to.contain('| seen answered').and.to.not.contain('!');
    // What the client itself saw makes the rules that say otherwise doubtful: nothing is sure of it any more.
    expect(rows[3]).to.contain('| fogged | seen answered').and.to.not.contain('!');
    expect(rows[4]).to.contain('| shut | seen lost').and.to.not.contain('!');
    expect(said(grid({ observations: [seen('lan', '192.168.50.20:8214/tcp', 'lost')] }))[1]).to.contain(
      '| lit | seen lost!',
    );
  });

  it('without a dialled address only what is near the server can be worked out', () => {
    const rows = said(
      vantageGrid(
        caseFacts(
          HOME.map(({ id, role }) => ({ id, role })),
          serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gulld']),
          {
            service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
            client: {},
          },
        ),
      ),
    );
    expect(rows[0]).to.contain('lit');
    expect(rows.at(-1)).to.equal('from another network | nowhere | fogged');
  });

  it('a program that listens elsewhere does not answer on the server itself either', () => {
    const files = {
      ...FILES,
      ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 127.0.0.1:8214 gulld']),
    };
    const [row] = said(
      vantageGrid(
        caseFacts(HOME, files, {
          service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
          client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
        }),
      ),
    );
    expect(row).to.equal('on the server itself | 192.168.50.20:8214/tcp | shut');
  });
});
