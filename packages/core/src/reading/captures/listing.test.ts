import { expect } from 'chai';
import { printed } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

const said = (text: string): string[] => {
  const reading = readText(text);
  expect(reading?.format).to.equal('capture-listing');
  return reading!.facts
    .flatMap((f) => printed(f) ?? [])
    .filter((p) => p.group === 'conversations' || p.group === 'icmp')
    .map((f) => f.text);
};

describe('listings of captured packets', () => {
  const TCP = 'Flags [S], seq 2884942783, win 64240, length 0';
  it('with interfaces and directions: answered', () => {
    expect(
      said(
        `02:51:39.076470 eno1  In  IP 198.51.100.23.40132 > 192.168.50.20.8213: ${TCP}\n` +
          '02:51:39.076496 eno1  Out IP 192.168.50.20.8213 > 198.51.100.23.40132: Flags [S.], seq 1, ' +
          'ack 2, length 0\n',
      ),
    ).to.deep.equal(['TCP 198.51.100.23:40132 → 192.168.50.20:8213: 1 out, 1 back, answered']);
  });

  it('repeated without an answer, with the lines around them that the program prints', () => {
    const line = `02:51:39.076470 IP 198.51.100.23.40132 > 192.168.50.20.8213: ${TCP}\n`;
    expect(
      said(
        'listening on eno1, link-type EN10MB (Ethernet), snapshot length 262144 bytes\n' +
          `${line}${line}${line}3 packets captured\n`,
      ),
    ).to.deep.equal(['TCP 198.51.100.23:40132 → 192.168.50.20:8213: 3 out, nothing back']);
  });

  it('details in a second line, link-layer headers, dumps', () => {
    expect(
      said(
        '2026-11-24 02:51:52.855244 fe:8c:3c:51:a4:a4 > f2:99:99:35:ea:8d, ethertype IPv4 (0x0800), ' +
          'length 74: (tos 0x0, ttl 62, id 43716, offset 0, flags [DF], proto TCP (6), length 60)\n' +
          '    198.51.100.23.40003 > 203.0.113.50.8214: Flags [S], cksum 0xb818 (correct), seq 1, ' +
          'length 0\n' +
          '2026-11-24 02:51:52.855320 f2:99:99:35:ea:8d > fe:8c:3c:51:a4:a4, ethertype IPv4 (0x0800), ' +
          'length 54: (tos 0x0, ttl 63, id 0, offset 0, flags [DF], proto TCP (6), length 40)\n' +
          '    203.0.113.50.8214 > 198.51.100.23.40003: Flags [R.], cksum 0x2aff (correct), seq 0, ack ' +
          '2, win 0, length 0\n' +
          '\t0x0000:  4500 0022 1b95 4000 3d11 052f c633 6417  E.."..@.=../.3d.\n',
      ),
    ).to.deep.equal(['TCP 198.51.100.23:40003 → 203.0.113.50:8214: refused with a reset']);
  });

  it('errors name the packet that they answer', () => {
    expect(
      said(
        '02:52:26.009723 IP 198.51.100.23.40008 > 203.0.113.50.27016: UDP, length 6\n' +
          '02:52:26.009889 IP 203.0.113.50 > 198.51.100.23: ICMP 203.0.113.50 udp port 27016 ' +
          'unreachable, length 42\n',
      ),
    ).to.deep.equal([
      'UDP 198.51.100.23:40008 → 203.0.113.50:27016: 1 out, nothing back',
      '203.0.113.50 says “port unreachable” to 198.51.100.23 about udp to 203.0.113.50:27016',
    ]);
    expect(
      said(
        '02:52:26.009723 IP6 2001:db8:c1::23.40120 > 2001:db8:50::20.9999: Flags [S], seq 1, length 0\n' +
          '02:52:26.009889 IP6 2001:db8:0:49::50 > 2001:db8:c1::23: ICMP6, destination unreachable, ' +
          'unreachable prohibited 2001:db8:50::20, admin prohibited, length 88\n',
      )[1],
    ).to.contain('administratively prohibited');
  });

  it('numbered listings with arrows', () => {
    expect(
      said(
        '    1   0.000000 198.51.100.23 → 203.0.113.50 UDP 48 40007 → 27015 Len=6\n' +
          '    2   0.003707 203.0.113.50 → 198.51.100.23 UDP 50 27015 → 40007 Len=8\n' +
          '    3   0.263670 203.0.113.50 → 198.51.100.23 TCP 74 8211 → 40006 [SYN, ACK] Seq=0 Ack=1\n',
      ),
    ).to.deep.equal([
      'UDP 198.51.100.23:40007 → 203.0.113.50:27015: 1 out, 1 back',
      'TCP 198.51.100.23:40006 → 203.0.113.50:8211: 0 out, 1 back, answered',
    ]);
  });

  it('a translation on the way through is not seen without times', () =>
    expect(readText('02:51:39.07 IP 10.0.0.1.1 > 10.0.0.2.2: UDP, length 6\n')!.facts[0]).to.deep.include({
      topic: 'packets',
      value: 1,
    }));

  it('a line that is cut is a problem', () => {
    const reading = readText(
      `02:51:39.076470 IP 198.51.100.23.40132 > 192.168.50.20.8213: ${TCP}\n` +
        '02:51:39.076496 IP 192.168.5\n' +
        'something else\n',
    )!;
    expect(reading.problems.map((p) => p.line)).to.deep.equal([2, 3]);
  });
});
