import { expect } from 'chai';
import { readText } from '../reading/index.ts';
import { problemText } from './problems.ts';

const said = (text: string): string[] =>
  (readText(text)?.problems ?? []).map((p) => `${p.line}: ${problemText(p.why)}`);

describe('what could not be read, in words', () => {
  const table: readonly (readonly [string, string, string])[] = [
    [
      'a rule set that breaks off says which table',
      'table inet f {\n chain i {\n  type filter hook input priority 0; policy drop;\n' +
        '  tcp dport 443 accept\n }\n',
      '1: table inet f is not closed: the listing is cut off',
    ],
    [
      'two listings in one text: which part is there twice, and what to do',
      '*filter\n:INPUT ACCEPT [0:0]\nCOMMIT\n*filter\n:INPUT DROP [0:0]\nCOMMIT\n',
      '4: table filter stands here twice: two listings in one text; send the newer one alone',
    ],
    [
      'rules of IPv6 among those of IPv4',
      '*filter\n:INPUT DROP [0:0]\n-A INPUT -s 192.0.2.0/24 -j ACCEPT\n' +
        '-A INPUT -s 2001:db8::/32 -j DROP\nCOMMIT\n',
      '3: an IPv4 rule in an IPv6 listing: two listings are mixed; send iptables-save and ' +
        'ip6tables-save one after the other',
    ],
    [
      'a listing that begins like JSON',
      '[{"ifindex":1,"ifname":"lo","flags":["LOOPBACK","UP"],"mtu":655',
      '1: this begins like a JSON listing but is not whole; copy it again from the first to the last bracket',
    ],
    [
      'letters that look like digits',
      'WAN IP 203.0.113.50\nLAN IP 192.168.5O.1\n',
      '2: “192.168.5O.1” looks like 192.168.50.1 (“O” for 0); it is not taken for it before somebody says so',
    ],
  ];
  for (const [title, text, line] of table) it(title, () => expect(said(text)).to.include(line));

  it('counts what is not listed', () => {
    expect(problemText({ is: 'not-listed', what: 'packets', more: 3000 })).to.equal(
      '3000 further packets are counted, not listed',
    );
    expect(problemText({ is: 'not-listed', what: 'lines', more: 7 })).to.equal(
      '7 further lines are not understood',
    );
  });

  it('tells a damaged capture from one that only breaks off', () => {
    const cut = { is: 'capture-cut', packets: 9, byte: 1200 } as const;
    expect(problemText({ ...cut, damaged: true })).to.contain('is damaged or breaks off at byte 1200');
    expect(problemText({ ...cut, damaged: false })).to.not.contain('damaged');
  });
});
