import { expect } from 'chai';
import { caseFacts, HOME } from '../testing/index.ts';
import { benchView } from '../views/index.ts';
import { countedBetween } from './index.ts';

const HEARD = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
};
/** As `nft list ruleset` prints it (nftables 1.0.6). */
const nft = (forward: number, other: number): string =>
  'table ip nat {\n' +
  '\tchain pre {\n' +
  '\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
  `\t\ttcp dport 443 counter packets ${other} bytes ${other * 60} dnat to 192.168.50.21\n` +
  `\t\ttcp dport { 8210-8214, 9000 } counter packets ${forward} bytes ${forward * 60} dnat to ` +
  '192.168.50.20\n' +
  '\t}\n' +
  '}\n';
/** As `iptables-save -c` prints it. */
const saved = (forward: number): string =>
  '*nat\n' +
  ':PREROUTING ACCEPT [10:600]\n' +
  `[${forward}:${forward * 60}] -A PREROUTING -p tcp -m tcp --dport 8200:8299 -j DNAT --to-destination ` +
  '192.168.50.20\n' +
  '[1:60] -A PREROUTING -p tcp -m tcp --dport 22 -j DNAT --to-destination 192.168.50.20\n' +
  '[2:120] -A PREROUTING -p tcp -m tcp --dport 22 -j DNAT --to-destination 192.168.50.20\n' +
  'COMMIT\n';
const facts = (before: string, after: string) =>
  caseFacts(HOME, { 'gateway/before': before, 'gateway/then': after }, HEARD);
const lines = (before: string, after: string): string[] =>
  benchView(facts(before, after)).records.map((r) => r.text);

describe('counters of rules, before and after a try', () => {
  it('each rule with both counts, without its counter in its text', () => {
    const counted = countedBetween(facts(nft(4, 7), nft(5, 7)));
    expect(counted.map((c) => [c.before, c.after])).to.deep.equal([
      [7, 7],
      [4, 5],
    ]);
    expect(counted[1]?.ports).to.deep.equal([
      { first: 8210, last: 8214 },
      { first: 9000, last: 9000 },
    ]);
    expect(counted[1]?.rule).to.not.match(/packets/);
    expect(counted[1]?.source).to.deep.include({ file: 'evidence/gateway/then.txt', line: 5 });
  });

  it('on the bench the rule for the service says what came to it', () => {
    expect(lines(nft(4, 7), nft(5, 9))).to.deep.equal([
      'Gateway: “tcp dport { 8210-8214, 9000 } counter dnat to 192.168.50.20” counted 1 packet between ' +
        'its two listings (4 → 5)',
    ]);
    expect(lines(saved(0), saved(3))[0]).to.match(/--dport 8200:8299 .* counted 3 packets .* \(0 → 3\)$/);
  });

  it('that nothing came to it is said too', () => {
    expect(lines(nft(4, 7), nft(4, 9))[0]).to.match(/counted nothing between its two listings/);
  });

  it('a port that a rule leaves out is none of its ports', () => {
    const all = (n: number): string =>
      saved(n).replace('-m tcp --dport 8200:8299', '-m tcp ! --dport 8200:8299');
    expect(countedBetween(facts(all(1), all(2)))[0]?.ports).to.deep.equal([]);
  });

  it('a rounded number that stayed tells nothing: 120K may be any of a thousand', () => {
    const shown = (n: string): string =>
      'Chain PREROUTING (policy ACCEPT 10 packets, 600 bytes)\n' +
      '    pkts      bytes target     prot opt in     out     source               destination         \n' +
      `    ${n}  7200K DNAT       tcp  --  *      *       0.0.0.0/0            0.0.0.0/0            ` +
      'tcp dpt:8214 to:192.168.50.20\n';
    expect(countedBetween(facts(shown('120K'), shown('120K')))).to.deep.equal([]);
    expect(countedBetween(facts(shown('120K'), shown('121K'))).map((c) => c.after)).to.deep.equal([121_000]);
  });

  it('rows of a router’s page that count their packets tell it as well', () => {
    const page = (hits: string, heading = 'Hits'): string =>
      `Name\tProtocol\tExternal port\tInternal IP\tInternal port\t${heading}\n` +
      `gullcast\tTCP\t8210-8214\t192.168.50.20\t8210-8214\t${hits}\nmap\tTCP\t9000\t192.168.50.20\t9000\t4\n`;
    expect(lines(page('17'), page('19'))).to.deep.equal([
      'Gateway: “gullcast: tcp 8210-8214 to 192.168.50.20” counted 2 packets between its two ' +
        'listings (17 → 19)',
    ]);
    expect(lines(page('17', 'Pkts'), page('17', 'Pkts'))[0]).to.match(/counted nothing between/);
    // Bytes are no packets, and a rounded number tells nothing exact.
    expect(lines(page('17', 'Bytes'), page('19', 'Bytes'))).to.deep.equal([]);
    expect(lines(page('17K'), page('19K'))).to.deep.equal([]);
  });

  it('equal rules are told apart by their order', () => {
    const same = countedBetween(facts(saved(0), saved(3))).filter((c) => c.rule.includes('--dport 22 '));
    expect(same.map((c) => c.after)).to.deep.equal([1, 2]);
  });

  it('counters that went back were set anew, and tell nothing', () => {
    expect(countedBetween(facts(nft(9, 9), nft(0, 12)))).to.deep.equal([]);
  });

  it('one listing alone, or of another machine, tells nothing', () => {
    expect(countedBetween(caseFacts(HOME, { 'gateway/a': nft(1, 1) }, HEARD))).to.deep.equal([]);
    expect(
      countedBetween(caseFacts(HOME, { 'gateway/a': nft(1, 1), 'host/b': nft(2, 2) }, HEARD)),
    ).to.deep.equal([]);
  });

  it('a rule for the other protocol is none of the service', () => {
    const udp = (n: number): string => nft(n, 1).replaceAll('tcp', 'udp');
    expect(lines(udp(1), udp(2))).to.deep.equal([]);
  });
});
