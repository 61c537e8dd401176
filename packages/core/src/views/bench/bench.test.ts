import { expect } from 'chai';
import type { CaseDocument } from '../../case/index.ts';
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
  facts,
  bench,
  lamps,
} from '../../testing/index.ts';
import { handover } from '../handover/handover.ts';
import { handoverMarkdown } from '../handover/markdown.ts';
import { benchView } from './view.ts';
import { readCase } from '../../ledger/index.ts';
import { strToU8 } from 'fflate';

describe('the bench: verdict and next step from pieces of evidence', () => {
  it('begins in fog and asks for the name first', () => {
    const view = bench({});
    expect(view.verdict.lamp).to.equal('fogged');
    expect(view.next).to.include({ kind: 'check', id: 'client/name' });
    expect(view.later.map((l) => l.id).slice(0, 2)).to.deep.equal(['gateway/status', 'gateway/forwards']);
  });

  it('goes on asking in the order in which practitioners work', () => {
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
      'client/name',
      'gateway/status',
      'gateway/forwards',
      'server/addresses',
    ]);
    expect(order).to.include.members(['server/sockets', 'server/rules', 'server/routes']);
    expect(bench(pieces).verdict.lamp).to.equal('lit');
  });

  it('does not ask again for what the owner cannot do', () => {
    expect(bench({}, { ...DOCUMENT, declined: ['client/name'] }).next).to.include({
      kind: 'check',
      id: 'gateway/status',
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

  it('knows a machine by its link address under the names that others have for it', () => {
    const view = bench({
      ...WHOLE,
      'gateway/devices':
        'Device\tIP\tMAC\nreef-pc\t192.168.50.44\t02-48-4E-00-00-20\nprinter\t192.168.50.31\t02-48-4e-00-01-31\n',
      'gateway/leases': '0 02:48:4e:00:00:20 192.168.50.20 Server *\n',
    });
    expect(view.stops.find((s) => s.id === 'server')!.alsoCalled.map((a) => a.name)).to.deep.equal([
      'reef-pc',
    ]);
    expect(view.stops.find((s) => s.id === 'gateway')!.alsoCalled).to.deep.equal([]);
  });

  it('once a mend was made, the listing from before decides nothing any more', () => {
    const stray = { ...WHOLE, 'gateway/forwards': 'tcp 8214 192.168.50.31 8214\n' };
    const before = bench(stray);
    if (before.next.kind !== 'mend') throw new Error('no mend');
    const { stop, shownBy, title } = before.next.mend;
    if (shownBy === null) throw new Error('nothing would show it');
    const made: CaseDocument = {
      ...DOCUMENT,
      changes: [{ stop, yields: shownBy, title, at: '2026-11-01T10:30:00Z' }],
    };
    const after = bench(stray, made);
    expect(after.verdict).to.include({ lamp: 'lit', sure: false });
    expect(after.next).to.include({ kind: 'done' });
    expect(after.crossing.stops.filter((s) => s.ends)).to.deep.equal([]);
    expect(
      after.stops
        .find((s) => s.id === 'gateway')!
        .facts.filter((f) => f.stale)
        .map((f) => f.label),
    ).to.deep.equal(['Forward']);
    const anew = benchView(
      readCase({
        document: {
          ...made,
          evidence: [
            ...Object.keys(stray).map((p) => ({
              stop: p.split('/')[0]!,
              file: `evidence/${p}.txt`,
              whole: true,
            })),
            {
              stop: 'gateway',
              file: 'evidence/gateway/new.txt',
              at: '2026-11-01T10:31:00Z',
              whole: true,
            },
          ],
        },
        files: new Map(
          Object.entries({ ...stray, 'gateway/new': FORWARDS }).map(([p, t]) => [
            `evidence/${p}.txt`,
            strToU8(t),
          ]),
        ),
      }),
    );
    expect(anew.verdict.lamp).to.equal('lit');
  });

  it('a rehearsal of the forward keeps the doubt that a table of filter rules beside it brings', () => {
    const RULES_TABLE = 'Action\tProtocol\tSource\tPort\ndeny\ttcp\tany\t8214\n';
    const { next } = bench({
      ...WHOLE,
      'gateway/forwards': 'udp 28410 192.168.50.20 28410\n',
      'gateway/filter': RULES_TABLE,
    });
    if (next.kind !== 'mend') throw new Error('no mend');
    expect(next.mend.rehearsal?.after.verdict.lamp).to.equal('fogged');
  });

  it('who was let in on purpose stays let in; a slip is put right', () => {
    const scoped = (source: string) =>
      'table inet f {\n' +
      ' chain i {\n' +
      '  type filter hook input priority 0; policy drop;\n' +
      `  ip saddr ${source} tcp dport 8214 accept\n` +
      ' }\n' +
      '}\n';
    const few: CaseDocument = { ...DOCUMENT, service: { ...DOCUMENT.service!, audience: ['198.51.100.23'] } };
    const mendOf = (rules: string, document: CaseDocument = few) => {
      const { next } = bench({ ...WHOLE, 'server/rules': rules }, document);
      if (next.kind !== 'mend') throw new Error('no mend');
      return next.mend;
    };
    const added = mendOf(scoped('192.168.50.0/24'));
    expect(added.values[0]!.mended).to.contain('192.168.50.0/24').and.to.contain('198.51.100.23');
    expect(added.opens).to.not.contain('no longer');
    expect(added.commands).to.have.length(1);
    expect(added.commands[0]).to.match(
      /^nft insert rule inet f i .*ip saddr 198\.51\.100\.23 tcp dport 8214 accept/,
    );
    expect(mendOf(scoped('192.168.50.0/24'), DOCUMENT).commands[0])
      .to.match(/^nft insert rule inet f i [^"]*tcp dport 8214 accept/)
      .and.to.not.contain('saddr');
    const corrected = mendOf(scoped('198.51.100.33'));
    expect(corrected.values[0]).to.include({ now: '198.51.100.33', mended: '198.51.100.23' });
    expect(corrected.opens).to.contain('no longer for 198.51.100.33');
  });

  it('asks for the rows of a host firewall, not for counters that it does not have', () => {
    const RULER = '-'.repeat(70);
    const view = bench({
      ...WHOLE,
      'server/rules':
        'Private Profile Settings: \n' +
        `${RULER}\n` +
        'State                                 ON\n' +
        'Firewall Policy                       BlockInbound,AllowOutbound\n',
    });
    expect(view.verdict.lamp).to.equal('fogged');
    expect(view.next).to.include({ kind: 'check', id: 'server/rules' });
    // The listing is of a system of its own kind: its command comes first.
    expect(
      view.next.kind === 'check' && view.next.words.commands.map((c) => c.system).slice(0, 3),
    ).to.deep.equal(['windows', 'linux', 'macos']);
  });

  it('shows what would stop the packet next: two faults in a row', () => {
    const view = bench({
      ...WHOLE,
      'gateway/forwards': 'udp 28410 192.168.50.20 28410\n',
      'server/sockets': SOCKETS.replace('0.0.0.0:8214', '127.0.0.1:8214'),
    });
    expect(view.verdict.detail).to.contain('not enough');
    expect(view.crossing.stops.map((s) => s.word)).to.deep.equal([
      'lit',
      'lit · turned',
      'lit',
      'shut',
      'would pass',
      'would end',
    ]);
    if (view.next.kind !== 'mend') throw new Error('no mend');
    expect(view.next.mend.then[0]!.text).to.contain('loopback');
  });

  it('reads a typed line like evidence, and prefers the printed one', () => {
    const typed = {
      ...DOCUMENT,
      path: DOCUMENT.path.map((s) =>
        s.id === 'gateway' ? { ...s, typed: [{ text: 'WAN IP 203.0.113.99' }] } : s,
      ),
    };
    expect(bench({ 'client/name': NAME, 'gateway/forwards': FORWARDS }, typed).verdict.headline).to.contain(
      '203.0.113.99',
    );
    expect(bench(WHOLE, typed).verdict.lamp).to.equal('lit');
  });

  it('keeps what it does not understand as a note', () => {
    const view = bench({ ...WHOLE, 'server/strange': 'lorem ipsum dolor' });
    expect(
      view.stops.find((s) => s.id === 'server')!.files.find((f) => f.file.includes('strange')),
    ).to.include({ format: null, facts: 0 });
  });

  it('tells the story in Markdown', () => {
    const text = handoverMarkdown(
      handover(facts({ ...WHOLE, 'gateway/forwards': 'tcp 8214 192.168.50.31 8214\n' }), 'today'),
    );
    expect(text).to.match(/^# Gullcast\n/);
    for (const part of [
      '## Verdict',
      'Astray at the gateway',
      '| Inside address | 192.168.50.31 | 192.168.50.20 |',
      'evidence/gateway/forwards.txt: a table of port forwards, 1 facts',
    ])
      expect(text).to.contain(part);
  });
});
