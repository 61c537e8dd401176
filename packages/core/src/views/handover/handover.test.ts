import { expect } from 'chai';
import { caseFacts, serverEvidence } from '../../testing/index.ts';
import { handover, handoverMarkdown } from './handover.ts';

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
      'What it rests on',
      'Made',
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
});
