import { expect } from 'chai';
import {
  DOCUMENT,
  NAME,
  STATUS,
  FORWARDS,
  ADDRESSES,
  ROUTES,
  SOCKETS,
  RULES,
  WHOLE,
  bench,
  lamps,
} from '../../testing/index.ts';
import { endingStop } from './ending.ts';

describe('the bench: verdict and next step from pieces of evidence', () => {
  it('begins in fog and asks for the outermost forwards first', () => {
    const view = bench({});
    expect(view.verdict.lamp).to.equal('fogged');
    expect(view.next).to.include({ kind: 'check', id: 'gateway/forwards' });
    expect(view.later.map((l) => l.id).slice(0, 3)).to.deep.equal([
      'server/addresses',
      'gateway/status',
      'client/name',
    ]);
  });

  it('goes on asking for what most often is wrong: the entry, where it leads, the way, the name', () => {
    const order: string[] = [];
    const pieces: Record<string, string> = {};
    const answers: Readonly<Record<string, readonly [string, string]>> = {
      'client/name': ['client/name', NAME],
      'gateway/status': ['gateway/status', STATUS],
      'gateway/forwards': ['gateway/forwards', FORWARDS],
      'server/addresses': ['server/addresses', ADDRESSES],
      'server/sockets': ['server/sockets', SOCKETS],
      'server/rules': ['server/rules', RULES],
      'server/routes': ['server/routes', ROUTES],
    };
    for (let i = 0; i < 10; i++) {
      const { next } = bench(pieces);
      if (next.kind !== 'check') break;
      order.push(next.id);
      const answer = answers[next.id];
      if (!answer) break;
      pieces[answer[0]] = answer[1];
    }
    expect(order.slice(0, 4)).to.deep.equal([
      'gateway/forwards',
      'server/addresses',
      'gateway/status',
      'client/name',
    ]);
    expect(order).to.include.members(['server/sockets', 'server/rules', 'server/routes']);
    expect(bench(pieces).verdict.lamp).to.equal('lit');
  });

  it('does not ask again for what the owner cannot do', () => {
    expect(bench({}, { ...DOCUMENT, declined: ['gateway/forwards'] }).next).to.include({
      kind: 'check',
      id: 'server/addresses',
    });
  });

  it('says so where everything lets the packet through', () => {
    expect(lamps(WHOLE)).to.equal('lit | lit · turned | lit | lit · turned | lit | answers');
    expect(bench(WHOLE).verdict.headline).to.contain('Answered: gullcast on the server');
  });

  const faults: readonly (readonly [
    string,
    Partial<Record<keyof typeof WHOLE | 'gateway/leases', string>>,
    string,
    string,
    string,
  ])[] = [
    [
      'stale forward',
      {
        'gateway/forwards': 'tcp 8214 192.168.50.31 8214\n',
        'gateway/leases': '0 02:48:4e:00:01:31 192.168.50.31 printer-hall *\n',
      },
      'fwd-target-stale',
      'gateway',
      'printer-hall',
    ],
    [
      'forward with a slip of the pen',
      { 'gateway/forwards': 'tcp 8214 192.168.50.26 8214\n' },
      'fwd-target-typo',
      'gateway',
      '192.168.50.26',
    ],
    [
      'no forward',
      { 'gateway/forwards': 'udp 28410 192.168.50.20 28410\n' },
      'fwd-none',
      'gateway',
      'no forward takes TCP 8214',
    ],
    [
      'forward for the other protocol',
      { 'gateway/forwards': 'udp 8214 192.168.50.20 8214\n' },
      'fwd-protocol',
      'gateway',
      'UDP only',
    ],
    [
      'forward switched off',
      { 'gateway/forwards': 'Protocol\tPort\tTo\tOn\ntcp\t8214\t192.168.50.20\tno\n' },
      'fwd-disabled',
      'gateway',
      'switched off',
    ],
    [
      'forward not applied',
      { 'gateway/forwards': 'Protocol\tPort\tTo\tState\ntcp\t8214\t192.168.50.20\tpending\n' },
      'fwd-not-applied',
      'gateway',
      'never applied',
    ],
    [
      'shared by the carrier',
      { 'gateway/status': 'WAN IP 100.72.14.9\nLAN IP 192.168.50.1\nseen from outside 203.0.113.50\n' },
      'carrier-shared',
      'carrier',
      'shared by the carrier',
    ],
    [
      'no IPv4 of its own',
      { 'gateway/status': 'WAN IP 192.0.0.2\nLAN IP 192.168.50.1\nseen from outside 203.0.113.50\n' },
      'carrier-v6-only',
      'carrier',
      'IPv6 tunnel',
    ],
    [
      'stale name',
      { 'client/name': 'radio.example.net has address 203.0.113.9\n' },
      'name-stale',
      'client',
      'resolves to 203.0.113.9',
    ],
    [
      'private address in the name',
      { 'client/name': 'radio.example.net has address 192.168.50.20\n' },
      'name-private',
      'client',
      'RFC 1918',
    ],
    [
      'loopback only',
      { 'server/sockets': SOCKETS.replace('0.0.0.0:8214', '127.0.0.1:8214') },
      'listen-loopback',
      'server',
      'loopback',
    ],
    [
      'not running',
      { 'server/sockets': SOCKETS.replace('8214', '22') },
      'listen-none',
      'server',
      'nothing listens',
    ],
    [
      'other protocol',
      { 'server/sockets': SOCKETS.replace('tcp LISTEN', 'udp UNCONN') },
      'listen-protocol',
      'server',
      'UDP 8214',
    ],
    [
      'host firewall',
      {
        'server/rules':
          'table inet f {\n' +
          ' chain i {\n' +
          '  type filter hook input priority 0; policy drop;\n' +
          '  tcp dport 22 accept\n' +
          ' }\n' +
          '}\n',
      },
      'host-drop',
      'server',
      'lets TCP 8214 in',
    ],
    [
      'host firewall for another source',
      {
        'server/rules':
          'table inet f {\n' +
          ' chain i {\n' +
          '  type filter hook input priority 0; policy drop;\n' +
          '  ip saddr 192.168.50.0/24 tcp dport 8214 accept\n' +
          ' }\n' +
          '}\n',
      },
      'host-scope',
      'server',
      '192.168.50.0/24',
    ],
    [
      'no default gateway on the server',
      { 'server/routes': '192.168.50.0/24 dev eno1 scope link\n' },
      'host-no-gateway',
      'server',
      'no default gateway',
    ],
  ];
  for (const [title, change, fault, stop, words] of faults) {
    it(`${title}: ${fault} at ${stop}, and its mend lets the packet through on a copy`, () => {
      const view = bench({ ...WHOLE, ...change });
      expect(view.verdict.lamp).to.equal('shut');
      expect(view.verdict.headline).to.contain(words);
      if (view.next.kind !== 'mend') throw new Error(`no mend but ${view.next.kind}`);
      expect(view.next.mend).to.include({ fault, stop });
      expect(view.next.mend.rehearsal?.after.verdict.lamp).to.equal('lit');
      expect(view.crossing.stops.filter((s) => s.ends)).to.have.length(1);
    });
  }
});

describe('the stop that the bench shows by itself', () => {
  it('is where the packet ends; where that is not known, the one that is asked next', () => {
    expect(endingStop(bench({}))).to.equal('gateway');
    expect(endingStop(bench({ 'gateway/forwards': FORWARDS }))).to.equal('server');
    expect(
      endingStop(bench({ ...WHOLE, 'server/sockets': 'Netid State Recv-Q Send-Q Local Address:Port\n' })),
    ).to.equal('server');
  });

  it('a stop of which something is known is not called unknown, wherever the packet goes', () => {
    const caption = (pieces: Record<string, string>): string | undefined =>
      bench(pieces).crossing.stops.find((s) => s.id === 'gateway')?.caption;
    expect(caption({})).to.equal('nothing known yet');
    expect(caption({ 'gateway/forwards': FORWARDS })).to.equal('the packet has not come this far');
  });
});
