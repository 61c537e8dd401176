import { expect } from 'chai';
import { caseFacts, serverEvidence } from '../../testing/index.ts';
import { handover } from './handover.ts';
import { handoverMarkdown } from './markdown.ts';
import { handoverPage } from './page.ts';

const PATH = [
  { id: 'client', role: 'client', name: 'Outside client' },
  { id: 'carrier', role: 'carrier', name: 'Carrier' },
  { id: 'gateway', role: 'gateway', name: 'Gateway' },
  { id: 'host', role: 'host', name: 'Heron' },
];
const WHOLE = {
  'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n',
  'gateway/forwards': 'tcp 8214 192.168.50.20 8214\n',
  ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']),
};
const of = (files: Readonly<Record<string, string>>, more: Record<string, unknown> = {}) =>
  handover(
    caseFacts(PATH, files, {
      title: 'Gullcast',
      service: {
        name: 'Gullcast',
        kind: 'media',
        audience: 'anyone',
        endpoints: [{ protocol: 'tcp', port: 8214 }],
      },
      client: { address: '198.51.100.23', dials: '203.0.113.50:8214', says: 'nothing | happens' },
      ...more,
    }),
    '26 Nov 2026, 10:00',
  );
const section = (h: ReturnType<typeof of>, heading: string) =>
  h.sections.find((s) => s.heading === heading)?.blocks ?? [];
const text = (h: ReturnType<typeof of>, heading: string): string => JSON.stringify(section(h, heading));

describe('the handover of a case', () => {
  it('tells verdict, what was heard, the crossing, what to do, and what it rests on', () => {
    const told = of(WHOLE);
    expect(told.sections.map((s) => s.heading)).to.deep.equal([
      'Verdict',
      'What was heard',
      'The crossing',
      'What to do',
      'Open from outside',
      'What it rests on',
      'Written',
    ]);
    expect(text(told, 'Verdict')).to.match(/Answered: gullcast on .*takes 203\.0\.113\.50:8214/);
    expect(text(told, 'What was heard')).to.contain('198.51.100.23');
    expect(text(told, 'What it rests on')).to.contain('forward');
  });

  it('a mend with its values, and what comes after it', () => {
    const told = of({
      ...WHOLE,
      'gateway/forwards': 'udp 28410 192.168.50.20 28410\n',
      ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 127.0.0.1:8214 gullcast']),
    });
    expect(text(told, 'What to do')).to.contain(
      'Add a forward for TCP 8214 (Gateway, table of port forwards).',
    );
    expect(text(told, 'What to do')).to.contain('Then, Heron: Let gullcast listen on 192.168.50.20');
  });

  it('something to ask for, with its commands', () =>
    expect(text(of({ 'gateway/status': WHOLE['gateway/status'] }), 'What to do')).to.match(
      /Ask for: .*Web page/,
    ));

  it('of several endpoints the one that fails, and a line for each', () => {
    const endpoints = [
      { protocol: 'tcp', port: 8214 },
      { protocol: 'tcp', port: 8299 },
    ];
    const told = of(WHOLE, { service: { name: 'Gullcast', audience: 'anyone', endpoints } });
    const [headline, , list] = section(told, 'Verdict');
    expect(headline?.is === 'text' && headline.text).to.match(/^(Lost|Refused|Astray)/);
    expect(list?.is === 'list' && list.items).to.have.length(2);
  });

  it('as Markdown: tables keep their cells', () => {
    const made = handoverMarkdown(of(WHOLE));
    expect(made).to.match(/^# Gullcast\n\n## Verdict\n\n/);
    expect(made).to.contain('| Says | nothing \\| happens |');
    expect(made).to.contain('| Stop | State | Why |\n| --- | --- | --- |\n');
  });

  it('changes, what was seen, what is left to do and what was filled in by hand are in it', () => {
    const told = of(WHOLE, {
      path: PATH.map((s) =>
        s.id === 'gateway'
          ? {
              ...s,
              settings: {
                kind: 'forward-table',
                rows: [{ protocol: 'tcp', ports: 8214, to: '192.168.50.20' }],
              },
            }
          : s,
      ),
      changes: [
        {
          stop: 'gateway',
          yields: 'forwards',
          title: 'Add a forward for TCP 8214',
          at: '2026-11-20T10:00:00Z',
        },
      ],
      observations: [
        { vantage: 'lan', to: '192.168.50.20:8214', outcome: 'answered', at: '2026-11-19T08:00:00Z' },
      ],
    });
    expect(text(told, 'Changes made')).to.contain(
      '["2026-11-20 10:00","Gateway","Add a forward for TCP 8214"]',
    );
    expect(text(told, 'What was seen')).to.contain(
      'from inside, by the inside address, 192.168.50.20:8214: answered',
    );
    expect(text(told, 'Still to do'))
      .to.contain('Nobody has tried since')
      .and.contain('Look again on 2027-02-18');
    expect(text(told, 'Filled in by hand')).to.contain('TCP 8214 from anyone to 192.168.50.20');
  });

  it('a try after the change leaves nothing to try', () => {
    const told = of(WHOLE, {
      changes: [{ stop: 'gateway', yields: 'forwards', title: 'x', at: '2026-11-20T10:00:00Z' }],
      observations: [{ vantage: 'client', to: 'x', outcome: 'answered', at: '2026-11-21T08:00:00Z' }],
    });
    expect(text(told, 'Still to do')).to.not.contain('Nobody has tried');
  });

  it('a mend in the words of the owner, at three lengths', () => {
    const told = of({ ...WHOLE, 'gateway/forwards': 'udp 28410 192.168.50.20 28410\n' });
    const blocks = section(told, 'For the owner').map((b) => ('text' in b ? b.text : ''));
    expect(blocks).to.have.length(3);
    expect(blocks[0]!.length).to.be.lessThan(blocks[1]!.length);
    expect(blocks[1]!.length).to.be.lessThan(blocks[2]!.length);
  });
});

describe('the handover, with evidence that would be something else', () => {
  const HOSTILE = '# Verdict\n\n![x](http://198.51.100.9/p.png) <script>alert(1)</script> [a](b) `c` *d* _e_';
  const told = of(WHOLE, { title: HOSTILE, client: { address: '198.51.100.23', says: HOSTILE } });

  it('stays text in Markdown: no heading, link, image or element', () => {
    const made = handoverMarkdown(told);
    expect(made.split('\n').filter((l) => /^#+ Verdict$/.test(l))).to.deep.equal(['## Verdict']);
    expect(made).to.not.match(/(^|[^\\])!\[/);
    expect(made).to.not.match(/(^|[^\\])<script/);
    expect(made).to.not.match(/(^|[^\\])\[a\]/);
  });

  it('stays text in the page', () => {
    const made = handoverPage(told);
    expect(made).to.contain('&lt;script&gt;').and.not.contain('<script');
    expect(made).to.not.contain('<img');
  });

  it('lines to be typed stay as they are, whatever stands in them', () => {
    const blocks = [{ is: 'code' as const, text: 'nft add rule "```" ; echo' }];
    const made = handoverMarkdown({ title: 'x', sections: [{ heading: 'y', blocks }] });
    expect(made).to.contain('````\nnft add rule "```" ; echo\n````');
  });

  it('a line that begins like a list or a number does not become one', () => {
    const blocks = [
      { is: 'text' as const, text: '1. first' },
      { is: 'text' as const, text: '- second' },
    ];
    const made = handoverMarkdown({ title: 'x', sections: [{ heading: 'y', blocks }] });
    expect(made).to.contain('1\\. first').and.contain('\\- second');
  });

  it('what is left to do: the log is switched off again, an address that was lent is reserved', () => {
    const log =
      '#Version: 1.5\n' +
      '#Software: Microsoft Windows Firewall\n' +
      '#Time Format: Local\n' +
      '#Fields: date time action protocol src-ip dst-ip src-port dst-port size\n' +
      '\n' +
      '2026-11-01 14:00:01 DROP TCP 198.51.100.23 192.168.50.20 40001 8214 60\n';
    const leases =
      '1798000000 02:48:4e:00:00:20 192.168.50.20 heron *\n' +
      '1798000000 02:48:4e:00:01:31 192.168.50.31 printer *\n';
    const left = text(of({ ...WHOLE, 'host/log': log, 'gateway/leases': leases }), 'Still to do');
    expect(left).to.contain('Switch the log of Heron off again');
    expect(left).to.contain('Reserve 192.168.50.20 for “heron” on Gateway');
    expect(left).to.not.contain('192.168.50.31');
    expect(text(of(WHOLE), 'Still to do')).to.equal('[]');
  });
});
