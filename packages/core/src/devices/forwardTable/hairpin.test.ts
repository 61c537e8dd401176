import { expect } from 'chai';
import { forwardingGateway, outcome, run, caseSite, serverEvidence } from '../../testing/index.ts';

describe('a forward table, from inside', () => {
  it('an inside client by the outside address: turned round, not turned round, not known', () => {
    const of = (hairpin: boolean | undefined): string => {
      const s = caseSite(
        [
          { id: 'inside', role: 'client' },
          forwardingGateway(hairpin === undefined ? {} : { hairpin }),
          { id: 'host', role: 'host' },
        ],
        {
          ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214']),
          'inside/a':
            '2: wlp2s0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
            '    inet 192.168.50.77/24 scope global wlp2s0\n',
          'inside/r': 'default via 192.168.50.1 dev wlp2s0\n192.168.50.0/24 dev wlp2s0 scope link\n',
          'inside/n': 'table inet none {\n}\n',
        },
      );
      return outcome(run(s, '192.168.50.77', '203.0.113.50:8214/tcp'));
    };
    expect(of(true)).to.equal('answered at host');
    expect(of(false)).to.equal('refused at gateway');
    expect(of(undefined)).to.equal('unknown');
  });
});
