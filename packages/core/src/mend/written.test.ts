import { expect } from 'chai';
import { mendCases } from '../testing/index.ts';

const { direct, linuxGateway, mendSteps, nft, SAVED, told } = mendCases;
type Given = mendCases.Given;

const TO = '192.168.50.20';

/** A gateway whose one translation is written so. */
const nftGateway = (rule: string): Given =>
  linuxGateway({
    'gateway/rules':
      'table ip nat {\n\tchain pre {\n\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
      `\t\t${rule}\n\t}\n}\n` +
      'table ip f {\n\tchain i {\n\t\ttype filter hook input priority filter; policy drop;\n\t}\n}\n',
  });
const savedGateway = (rule: string): Given =>
  linuxGateway({
    'gateway/rules':
      `*nat\n:PREROUTING ACCEPT [0:0]\n:POSTROUTING ACCEPT [0:0]\n${rule}\nCOMMIT\n` +
      '*filter\n:INPUT DROP [0:0]\n:FORWARD ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\nCOMMIT\n',
  });
const savedHost = (rule: string): Given => direct('', SAVED(`${rule}\n`));
const nftHost = (rule: string): Given => direct(nft(rule));

/** The rule as the first mend writes it; null: it is written by hand, or another one beside it. */
function rewritten(given: Given): string | null {
  const finding = mendSteps(given)[0]?.mend?.finding;
  if (!finding || !('written' in finding) || finding.found === 'not-allowed') return null;
  const { written } = finding;
  return written && 'text' in written ? written.text : null;
}

/**
 * What a mend does to its copy and what it prints are made apart: the printed rule, read again in the place
 * of the old one, has to let the client in as the copy did.
 */
describe('a rule as a mend prints it', () => {
  const D = '-j DNAT --to-destination';
  const forms: readonly (readonly [(rule: string) => Given, string, string])[] = [
    [nftGateway, `udp dport 8214 dnat to ${TO}`, 'fwd-protocol at gateway'],
    [nftGateway, `meta l4proto udp th dport 8214 dnat to ${TO}`, 'fwd-protocol at gateway'],
    [nftGateway, `ip protocol udp udp dport 8214 dnat to ${TO}`, 'fwd-protocol at gateway'],
    [nftGateway, `ip saddr 192.0.2.0/24 tcp dport 8214 dnat to ${TO}`, 'fwd-source at gateway'],
    [nftGateway, `ip saddr { 192.0.2.1, 192.0.2.2 } tcp dport 8214 dnat to ${TO}`, 'fwd-source at gateway'],
    [nftGateway, `tcp dport 8214 ip saddr 192.0.2.1-192.0.2.9 dnat to ${TO}`, 'fwd-source at gateway'],
    [nftGateway, `iifname "lan" tcp dport 8214 dnat to ${TO}`, 'fwd-line at gateway'],
    [nftGateway, `iifname { "lan", "dmz" } tcp dport 8214 dnat to ${TO}`, 'fwd-line at gateway'],
    [nftGateway, `iif "lan" tcp dport 8214 dnat to ${TO}`, 'fwd-line at gateway'],
    [nftGateway, `ip daddr 203.0.113.51 tcp dport 8214 dnat to ${TO}`, 'fwd-wan-literal at gateway'],
    [
      nftGateway,
      `ip daddr { 203.0.113.51, 203.0.113.52 } tcp dport 8214 dnat to ${TO}`,
      'fwd-wan-literal at gateway',
    ],
    [nftGateway, 'tcp dport 8214 dnat to 192.168.50.31', 'fwd-target-stale at gateway'],
    [nftGateway, 'tcp dport 8214 dnat to 192.168.50.31:8214', 'fwd-target-stale at gateway'],
    [nftGateway, 'tcp dport 8214 dnat ip to 192.168.50.31', 'fwd-target-stale at gateway'],
    [nftGateway, `tcp dport 8214 dnat to ${TO}:9000`, 'fwd-inside-port at gateway'],
    [
      nftGateway,
      `tcp dport 8214 counter packets 12 bytes 720 dnat to ${TO}:9000`,
      'fwd-inside-port at gateway',
    ],
    [savedGateway, `-A PREROUTING -p udp -m udp --dport 8214 ${D} ${TO}`, 'fwd-protocol at gateway'],
    [
      savedGateway,
      `-A PREROUTING -s 192.0.2.0/24 -p tcp -m tcp --dport 8214 ${D} ${TO}`,
      'fwd-source at gateway',
    ],
    [savedGateway, `-A PREROUTING -i lan -p tcp -m tcp --dport 8214 ${D} ${TO}`, 'fwd-line at gateway'],
    [
      savedGateway,
      `-A PREROUTING -d 203.0.113.51/32 -p tcp -m tcp --dport 8214 ${D} ${TO}`,
      'fwd-wan-literal at gateway',
    ],
    [
      savedGateway,
      `-A PREROUTING -p tcp -m tcp --dport 8214 ${D} 192.168.50.31`,
      'fwd-target-stale at gateway',
    ],
    [
      savedGateway,
      `-A PREROUTING -p tcp -m tcp --dport 8214 ${D} 192.168.50.31:8214`,
      'fwd-target-stale at gateway',
    ],
    [savedGateway, `-A PREROUTING -p tcp -m tcp --dport 8214 ${D} ${TO}:9000`, 'fwd-inside-port at gateway'],
    [nftHost, 'ip saddr 198.51.100.33 tcp dport 8214 accept', 'host-scope at host'],
    [nftHost, 'ip saddr { 198.51.100.33, 192.0.2.1 } tcp dport 8214 accept', 'host-scope at host'],
    [savedHost, '-A INPUT -s 198.51.100.33/32 -p tcp -m tcp --dport 8214 -j ACCEPT', 'host-scope at host'],
  ];
  for (const [of, rule, fault] of forms)
    it(`${rule}: ${fault}`, () => {
      const given = of(rule);
      const before = told(mendSteps(given));
      expect(before).to.deep.equal([fault, 'answered']);
      const printed = rewritten(given);
      expect(told(mendSteps(of(printed ?? rule)))).to.deep.equal(['answered']);
    });

  const wider: readonly (readonly [(rule: string) => Given, string])[] = [
    [nftHost, 'tcp dport { 22, 8214 } ip saddr 192.0.2.0/24 accept'],
    [nftHost, 'ip saddr 192.0.2.0/24 tcp dport 8000-8999 accept'],
    [savedHost, '-A INPUT -s 192.0.2.0/24 -p tcp -m multiport --dports 22,8214 -j ACCEPT'],
    [nftHost, 'ip saddr 192.0.2.0/24 tcp dport != 22 accept'],
    [savedHost, '-A INPUT -s 192.0.2.0/24 -p tcp -m tcp ! --dport 22 -j ACCEPT'],
  ];
  for (const [of, rule] of wider)
    it(`${rule}: its other ports stay closed, and the service gets a rule of its own`, () => {
      const [first, second] = mendSteps(of(rule));
      expect(first?.mend).to.include({ fault: 'host-scope', stop: 'host' });
      expect(second?.trace.outcome).to.equal('answered');
      const finding = first?.mend?.finding;
      expect(finding?.found).to.equal('not-allowed');
      expect(finding?.found === 'not-allowed' && finding.wish).to.include({ port: 8214, transport: 'tcp' });
    });

  for (const [of, rule] of [
    [nftGateway, `ip saddr 192.0.2.0/24 tcp dport 8000-8999 dnat to ${TO}`],
    [savedGateway, `-A PREROUTING -s 192.0.2.0/24 -p tcp -m tcp --dport 8000:8999 ${D} ${TO}`],
  ] as const)
    it(`${rule}: the service gets a translation of its own`, () => {
      const [first, second] = mendSteps(of(rule));
      expect(first?.mend).to.include({ fault: 'fwd-source', stop: 'gateway' });
      expect(first?.mend?.finding.found).to.equal('translation-missing');
      expect(second?.trace.outcome).to.equal('answered');
    });
});
