import { expect } from 'chai';
import { mendCases } from '../testing/index.ts';
import { commandsOf } from './index.ts';

const { direct, linuxGateway, mendSteps, nft, SAVED } = mendCases;

describe('mends of a packet filter, in its own syntax', () => {
  for (const [title, given, fault, commands] of [
    [
      'nft: nothing lets it in',
      direct(nft('tcp dport 22 accept')),
      'host-drop',
      ['nft insert rule inet guard input tcp dport 8214 accept comment bright-ferry-tcp-8214'],
    ],
    [
      'nft: above the rule that ends it, by its handle',
      direct(nft('tcp dport 8214 drop', 'accept', ' # handle 7')),
      'host-block-wins',
      ['nft insert rule inet guard input handle 7 tcp dport 8214 accept comment bright-ferry-tcp-8214'],
    ],
    [
      'nft: for the audience alone',
      { ...direct(nft('tcp dport 22 accept')), audience: ['198.51.100.0/24', '192.0.2.7'] },
      'host-drop',
      [
        'nft insert rule inet guard input ip saddr { 198.51.100.0/24, 192.0.2.7 } tcp dport 8214 ' +
          'accept comment bright-ferry-tcp-8214',
      ],
    ],
    [
      'nft: one digit off in the source is put right where it stands',
      direct(nft('ip saddr 198.51.100.33 tcp dport 8214 accept', 'drop', ' # handle 9')),
      'host-scope',
      [
        'nft replace rule inet guard input handle 9 ip saddr 198.51.100.23 tcp dport 8214 accept ' +
          'comment bright-ferry-tcp-8214',
      ],
    ],
    [
      'iptables: nothing lets it in',
      direct('', SAVED('-A INPUT -p tcp -m tcp --dport 22 -j ACCEPT\n')),
      'host-drop',
      ['iptables -t filter -I INPUT -p tcp --dport 8214 -j ACCEPT'],
    ],
    [
      'iptables: above the rule that ends it, by its number',
      direct('', SAVED('-A INPUT -i lo -j ACCEPT\n-A INPUT -p tcp -m tcp --dport 8214 -j DROP\n')),
      'host-block-wins',
      ['iptables -t filter -I INPUT 2 -p tcp --dport 8214 -j ACCEPT'],
    ],
    [
      'iptables: one digit off in the source is put right at its number',
      direct(
        '',
        SAVED(
          '-A INPUT -i lo -j ACCEPT\n' +
            '-A INPUT -s 198.51.100.33/32 -p tcp -m tcp --dport 8214 -m comment --comment "it\'s $(date)" ' +
            '-j ACCEPT\n',
        ),
      ),
      'host-scope',
      [
        'iptables -t filter -R INPUT 2 -s 198.51.100.23 -p tcp -m tcp --dport 8214 -m comment ' +
          "--comment 'it'\\''s $(date)' -j ACCEPT",
      ],
    ],
  ] as const)
    it(title, () => {
      const [first, second] = mendSteps(given);
      expect(first?.mend?.fault).to.equal(fault);
      expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal(commands);
      expect(second?.trace.outcome).to.equal('answered');
    });
});

describe('mends of a gateway’s packet filter', () => {
  it('nft without a translation chain: table and chain are made first', () => {
    const [first, second] = mendSteps(
      linuxGateway({
        'gateway/rules':
          'table inet guard {\n' +
          '\tchain forward {\n' +
          '\t\ttype filter hook forward priority filter; policy accept;\n' +
          '\t}\n' +
          '}\n',
      }),
    );
    expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal([
      'nft add table ip nat',
      "nft add chain ip nat prerouting '{ type nat hook prerouting priority dstnat; }'",
      'nft add rule ip nat prerouting ip daddr 203.0.113.50 tcp dport 8214 dnat to 192.168.50.20',
    ]);
    expect(second?.trace.outcome).to.equal('answered');
  });

  it('iptables: the translation in its own words', () => {
    const [first, second] = mendSteps(
      linuxGateway({
        'gateway/rules':
          '*nat\n' +
          ':PREROUTING ACCEPT [0:0]\n' +
          ':INPUT ACCEPT [0:0]\n' +
          ':OUTPUT ACCEPT [0:0]\n' +
          ':POSTROUTING ACCEPT [0:0]\n' +
          'COMMIT\n' +
          '*filter\n' +
          ':INPUT ACCEPT [0:0]\n' +
          ':FORWARD ACCEPT [0:0]\n' +
          ':OUTPUT ACCEPT [0:0]\n' +
          'COMMIT\n',
      }),
    );
    expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal([
      'iptables -t nat -I PREROUTING -d 203.0.113.50 -p tcp --dport 8214 -j DNAT ' +
        '--to-destination 192.168.50.20',
    ]);
    expect(second?.trace.outcome).to.equal('answered');
  });

  it('forwarding is off: the setting, and the command for it', () => {
    const given = linuxGateway({
      'gateway/rules':
        'table ip nat {\n' +
        '\tchain pre {\n' +
        '\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
        '\t\ttcp dport 8214 dnat to 192.168.50.20\n' +
        '\t}\n' +
        '}\n',
    });
    const [first, second] = mendSteps({
      files: {
        ...given.files,
        'gateway/settings':
          'net.ipv4.ip_forward = 0\n' +
          'net.ipv4.conf.all.rp_filter = 0\n' +
          'net.ipv4.conf.wan.rp_filter = 0\n' +
          'net.ipv4.conf.lan.rp_filter = 0\n',
      },
    });
    expect(first?.mend?.fault).to.equal('forwarding-off');
    expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal(['sysctl -w net.ipv4.ip_forward=1']);
    expect(second?.trace.outcome).to.equal('answered');
  });
});
