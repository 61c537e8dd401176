import { expect } from 'chai';
import { address } from '../../net/index.ts';
import type { Origin, Rule } from '../../rules/index.ts';
import { writing } from '../../testing/index.ts';
import { writeFirstRule, writeRule, type RuleWish } from './index.ts';

const { BOX, chain, HANDLE, IPTABLES, lines, MARK, NFT, prefixes, PROFILE, rule, UFW, WISH, ZONE } = writing;

describe('commands for a new rule (nft(8), iptables(8), ufw(8), firewall-cmd(1))', () => {
  const table: readonly (readonly [
    string,
    Origin,
    Partial<RuleWish>,
    Rule | null,
    readonly string[] | null,
  ])[] = [
    [
      'nft, at the head of the chain',
      NFT,
      {},
      null,
      [
        `nft insert rule inet guard input tcp dport 8214 accept ${MARK}`,
        '—',
        `nft delete rule inet guard input handle ${HANDLE}`,
      ],
    ],
    [
      'nft, above a rule whose handle is known',
      NFT,
      { peers: prefixes('198.51.100.0/24', '192.0.2.7/32'), destination: address('192.168.50.20') },
      rule('drop', { handle: 9 }),
      [
        'nft insert rule inet guard input handle 9 ip saddr { 198.51.100.0/24, 192.0.2.7 } ' +
          `ip daddr 192.168.50.20 tcp dport 8214 accept ${MARK}`,
        '—',
        `nft delete rule inet guard input handle ${HANDLE}`,
      ],
    ],
    [
      'nft, for answers in IPv6',
      NFT,
      { family: 6, peers: prefixes('2001:db8:23::/64'), side: 'answer' },
      null,
      [
        `nft insert rule inet guard input ip6 daddr 2001:db8:23::/64 tcp sport 8214 accept ${MARK}`,
        '—',
        `nft delete rule inet guard input handle ${HANDLE}`,
      ],
    ],
    [
      'iptables, at the head of the chain',
      IPTABLES,
      {},
      null,
      [
        'iptables -t filter -I INPUT -p tcp --dport 8214 -j ACCEPT',
        '—',
        'iptables -t filter -D INPUT -p tcp --dport 8214 -j ACCEPT',
      ],
    ],
    [
      'iptables, above a numbered rule',
      IPTABLES,
      { peers: prefixes('198.51.100.0/24', '192.0.2.7/32'), destination: address('192.168.50.20') },
      rule('-A INPUT -j DROP', { number: 3 }),
      [
        'iptables -t filter -I INPUT 3 -s 198.51.100.0/24,192.0.2.7 -d 192.168.50.20 -p tcp --dport ' +
          '8214 -j ACCEPT',
        '—',
        'iptables -t filter -D INPUT -s 198.51.100.0/24,192.0.2.7 -d 192.168.50.20 -p tcp ' +
          '--dport 8214 -j ACCEPT',
      ],
    ],
    [
      'iptables, for answers',
      IPTABLES,
      { peers: prefixes('198.51.100.0/24'), side: 'answer' },
      null,
      [
        'iptables -t filter -I INPUT -d 198.51.100.0/24 -p tcp --sport 8214 -j ACCEPT',
        '—',
        'iptables -t filter -D INPUT -d 198.51.100.0/24 -p tcp --sport 8214 -j ACCEPT',
      ],
    ],
    ['ufw, for anyone', UFW, {}, null, ['ufw allow 8214/tcp', '—', 'ufw delete allow 8214/tcp']],
    [
      'ufw, above the others',
      UFW,
      { peers: prefixes('198.51.100.23/32') },
      rule('deny 8214'),
      [
        'ufw prepend allow from 198.51.100.23 to any port 8214 proto tcp',
        '—',
        'ufw delete allow from 198.51.100.23 to any port 8214 proto tcp',
      ],
    ],
    ['ufw, for answers: it has no rows for them', UFW, { side: 'answer' }, null, null],
    [
      'firewalld, for anyone',
      ZONE,
      {},
      null,
      [
        'firewall-cmd --zone=public --add-port=8214/tcp',
        'firewall-cmd --permanent --zone=public --add-port=8214/tcp',
        '—',
        'firewall-cmd --zone=public --remove-port=8214/tcp',
        'firewall-cmd --permanent --zone=public --remove-port=8214/tcp',
      ],
    ],
    ['a device that takes no commands', BOX, {}, null, null],
    ['the firewall for programs', { program: 'applications' }, {}, null, null],
  ];
  for (const [title, origin, change, above, expected] of table)
    it(title, () =>
      expect(lines(writeRule({ ...WISH, ...change }, { chain: chain(origin), above }))).to.deep.equal(
        expected,
      ),
    );

  it('firewalld without a zone, for one sender', () => {
    const wish = { ...WISH, peers: prefixes('198.51.100.23/32') };
    const rich =
      `rich-rule='rule family="ipv4" source address="198.51.100.23" port port="8214" ` +
      `protocol="tcp" accept'`;
    const made = writeRule(wish, { chain: chain({ program: 'firewalld', zone: null }), above: null });
    expect(made?.commands).to.deep.equal([
      `firewall-cmd --add-${rich}`,
      `firewall-cmd --permanent --add-${rich}`,
    ]);
    const six = writeRule({ ...wish, family: 6 }, { chain: chain(ZONE), above: null });
    expect(six?.commands[0]).to.include('family="ipv6"');
  });

  it('Windows, on one profile', () => {
    const wish = { ...WISH, peers: prefixes('198.51.100.23/32') };
    expect(lines(writeRule(wish, { chain: chain(PROFILE), above: null }))).to.deep.equal([
      "New-NetFirewallRule -DisplayName 'TCP 8214 from 198.51.100.23' -Direction Inbound -Action Allow " +
        "-Protocol TCP -LocalPort 8214 -RemoteAddress 198.51.100.23 -Profile 'Private'",
      '—',
      "Remove-NetFirewallRule -DisplayName 'TCP 8214 from 198.51.100.23'",
    ]);
  });
});

describe('commands for a first translation', () => {
  const to = address('192.168.50.20');
  it('nft makes the table and the chain for it', () => {
    expect(lines(writeFirstRule({ ...WISH, then: { do: 'translate', to } }, 'nft'))).to.deep.equal([
      'nft add table ip nat',
      "nft add chain ip nat prerouting '{ type nat hook prerouting priority dstnat; }'",
      'nft add rule ip nat prerouting tcp dport 8214 dnat to 192.168.50.20',
      '—',
      'nft flush chain ip nat prerouting',
      'nft delete chain ip nat prerouting',
    ]);
    const out = writeFirstRule({ ...WISH, family: 6, then: { do: 'masquerade' } }, 'nft');
    expect(out.commands).to.deep.equal([
      'nft add table ip6 nat',
      "nft add chain ip6 nat postrouting '{ type nat hook postrouting priority srcnat; }'",
      'nft add rule ip6 nat postrouting tcp dport 8214 masquerade',
    ]);
  });

  it('iptables has the chains', () => {
    const port = { ...WISH, then: { do: 'translate', to, port: 5432 } } as const;
    expect(lines(writeFirstRule(port, 'iptables'))).to.deep.equal([
      'iptables -t nat -I PREROUTING -p tcp --dport 8214 -j DNAT --to-destination 192.168.50.20:5432',
      '—',
      'iptables -t nat -D PREROUTING -p tcp --dport 8214 -j DNAT --to-destination 192.168.50.20:5432',
    ]);
    const six = {
      ...port,
      family: 6,
      then: { do: 'translate', to: address('2001:db8::20'), port: 1 },
    } as const;
    expect(writeFirstRule(six, 'iptables').commands).to.deep.equal([
      "ip6tables -t nat -I PREROUTING -p tcp --dport 8214 -j DNAT --to-destination '[2001:db8::20]:1'",
    ]);
    const behind = writeFirstRule({ ...WISH, then: { do: 'masquerade' } }, 'iptables');
    expect(behind.commands).to.deep.equal([
      'iptables -t nat -I POSTROUTING -p tcp --dport 8214 -j MASQUERADE',
    ]);
  });

  it('nft writes an IPv6 target with a port in brackets', () => {
    const wish = {
      ...WISH,
      family: 6,
      then: { do: 'translate', to: address('2001:db8::20'), port: 1 },
    } as const;
    expect(writeFirstRule(wish, 'nft').text).to.equal('tcp dport 8214 dnat to [2001:db8::20]:1');
  });
});
