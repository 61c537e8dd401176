import { expect } from 'chai';
import { readText } from '../recognise.ts';
import { printed } from '../../facts/index.ts';

const FIELDS = (dpt: number, more = '') =>
  `IN=eth0 OUT=${more} MAC=f2:99:99:35:ea:8d:fe:8c:3c:51:a4:a4:08:00 SRC=198.51.100.23 ` +
  `DST=203.0.113.50 LEN=60 TOS=0x00 PREC=0x00 TTL=62 ID=50198 DF PROTO=TCP SPT=40112 DPT=${dpt} ` +
  'WINDOW=64240 RES=0x00 SYN URGP=0';
const noted = (text: string, topic: string) =>
  readText(text)!
    .facts.flatMap((f) => printed(f) ?? [])
    .filter((p) => p.group === topic)
    .map((p) => p.value as Record<string, unknown>);

describe('packets that a filter logged', () => {
  const HEADS: Readonly<Record<string, string>> = {
    'the system log': 'Nov 24 02:51:25 plover kernel: ',
    'with a single-digit day': 'Nov  4 02:51:25 plover kernel: ',
    'ISO times': '2026-11-24T02:51:25.213571+00:00 plover kernel: ',
    'the kernel’s ring': '[ 3576.748442] ',
    'with times of day': '[Tue Nov 24 02:51:24 2026] ',
    'system log and seconds since boot': 'Nov 24 02:51:25 plover kernel: [ 3576.748442] ',
    'with its level': '<4>[ 3576.748442] ',
    bare: '',
  };
  for (const [title, head] of Object.entries(HEADS)) {
    it(`heads its lines as ${title} does`, () => {
      const text =
        `${head}QUAY-IN-DENY: ${FIELDS(8299)}\n` +
        `${head}QUAY-IN-DENY: ${FIELDS(8299)}\n` +
        `${head}QUAY-IN-DENY: ${FIELDS(8214)}\n`;
      expect(readText(text)!.format).to.equal('packet-log');
      expect(noted(text, 'lines')).to.deep.equal([{ 'QUAY-IN-DENY: ': 3 }]);
      expect(noted(text, 'tries')).to.deep.equal([
        {
          protocol: 'tcp',
          from: '198.51.100.23:40112',
          to: '203.0.113.50:8299',
          count: 2,
          prefix: 'QUAY-IN-DENY:',
          in: 'eth0',
        },
        {
          protocol: 'tcp',
          from: '198.51.100.23:40112',
          to: '203.0.113.50:8214',
          count: 1,
          prefix: 'QUAY-IN-DENY:',
          in: 'eth0',
        },
      ]);
    });
  }

  it('reads lines without MAC (point to point) and IPv6 in full', () => {
    const line =
      'DENY IN=ppp0 OUT=eth1 MAC= SRC=2001:0db8:00c1:0000:0000:0000:0000:0023 ' +
      'DST=2001:0db8:0050:0000:0000:0000:0000:0020 LEN=48 TC=0 HOPLIMIT=62 FLOWLBL=0 PROTO=UDP ' +
      'SPT=40120 DPT=28410 LEN=8\n';
    expect(noted(line, 'tries')).to.deep.equal([
      {
        protocol: 'udp',
        from: '[2001:db8:c1::23]:40120',
        to: '[2001:db8:50::20]:28410',
        count: 1,
        prefix: 'DENY',
        in: 'ppp0',
        out: 'eth1',
      },
    ]);
  });

  it('a line that was cut is a problem, the others stand', () => {
    const reading = readText(`DENY ${FIELDS(8299)}\nDENY IN=eth0 OUT= MAC=f2:99:99:35 SRC=198.51.1\n`)!;
    expect(reading.problems.map((p) => p.line)).to.deep.equal([2]);
    expect(reading.facts.filter((f) => f.kind === 'try')).to.have.length(1);
  });

  it('counts all packets of a large log, and lists as many as can be looked through', () => {
    const text = Array.from({ length: 5000 }, (_, i) => `DENY ${FIELDS(1 + i)}`).join('\n');
    expect(noted(text, 'lines')).to.deep.equal([{ 'DENY ': 5000 }]);
    expect(noted(text, 'tries')).to.have.length(2000);
    expect(readText(text)!.problems[0]!.why).to.deep.equal({ is: 'not-listed', what: 'packets', more: 3000 });
  });
});
