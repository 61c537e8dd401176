import { expect } from 'chai';
import type { CaseDocument } from '../../case/index.ts';
import { DOCUMENT, NAME, FORWARDS, SOCKETS, WHOLE, facts, bench } from '../../testing/index.ts';
import { handover } from '../handover/handover.ts';
import { handoverMarkdown } from '../handover/markdown.ts';
import { benchView } from './view.ts';
import { readCase } from '../../ledger/index.ts';
import { strToU8 } from 'fflate';

describe('the bench, once more is known', () => {
  it('knows a machine by its link address under the names that others have for it', () => {
    const view = bench({
      ...WHOLE,
      'gateway/devices':
        'Device\tIP\tMAC\nreef-pc\t192.168.50.44\t02-48-4E-00-00-20\n' +
        'printer\t192.168.50.31\t02-48-4e-00-01-31\n',
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
