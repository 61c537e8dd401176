import { expect } from 'chai';
import { address, parsePrefix, type Prefix } from '../../net/index.ts';
import type { Chain, Origin, Rule } from '../../rules/index.ts';
import {
  writeEdited,
  writeFirstRule,
  writeHostRow,
  writeMoved,
  writeOff,
  writeRule,
  writeSources,
  type RuleWish,
} from './index.ts';

const prefixes = (...texts: readonly string[]): Prefix[] =>
  texts.map((text) => parsePrefix(text)).filter((p) => p !== null);
const WISH: RuleWish = {
  family: 4,
  transport: 'tcp',
  peers: null,
  destination: null,
  port: 8214,
  side: 'question',
  then: { do: 'accept' },
};
const rule = (text: string, more: Partial<Rule> = {}): Rule => ({
  id: text,
  text,
  source: null,
  steps: [],
  ...more,
});
const chain = (origin: Origin, rules: Rule[] = []): Chain => ({
  id: 'c',
  name: 'c',
  origin,
  rules,
  source: null,
});
const NFT: Origin = { program: 'nft', family: 'inet', table: 'guard', chain: 'input' };
const IPTABLES: Origin = { program: 'iptables', command: 'iptables', table: 'filter', chain: 'INPUT' };
const UFW: Origin = { program: 'ufw' };
const ZONE: Origin = { program: 'firewalld', zone: 'public' };
const PROFILE: Origin = { program: 'profiles', profile: 'Private' };
const BOX: Origin = { program: 'device' };
const NONE = { commands: [], undo: [] };
const HANDLE = "$(nft -a list chain inet guard input | sed -n '/bright-ferry-tcp-8214/{s/.*# handle //p;q}')";
const MARK = 'comment bright-ferry-tcp-8214';

/** The commands of a change, and under a line those that take it back. */
const lines = (made: { commands: readonly string[]; undo: readonly string[] } | null): string[] | null =>
  made && [...made.commands, '—', ...made.undo];

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
        'iptables -t filter -I INPUT 3 -s 198.51.100.0/24,192.0.2.7 -d 192.168.50.20 -p tcp --dport 8214 -j ACCEPT',
        '—',
        'iptables -t filter -D INPUT -s 198.51.100.0/24,192.0.2.7 -d 192.168.50.20 -p tcp --dport 8214 -j ACCEPT',
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
      'rich-rule=\'rule family="ipv4" source address="198.51.100.23" port port="8214" protocol="tcp" accept\'';
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

describe('commands for a rule that is changed', () => {
  const ONE = { edit: 'port', to: [{ first: 8214, last: 8214 }] } as const;
  it('nft, by its handle, or by its text where that is not known', () => {
    const old = rule('tcp dport 8215 counter packets 7 bytes 420 accept', { handle: 4 });
    expect(lines(writeEdited(old, chain(NFT), ONE, WISH))).to.deep.equal([
      `nft replace rule inet guard input handle 4 tcp dport 8214 counter packets 7 bytes 420 accept ${MARK}`,
      '—',
      `nft replace rule inet guard input handle ${HANDLE} tcp dport 8215 counter packets 7 bytes 420 accept`,
    ]);
    const nameless = rule(old.text);
    expect(writeEdited(nameless, chain(NFT), ONE, WISH)?.commands[0]).to.include(
      "handle $(nft -s -a list chain inet guard input | grep -F -- 'tcp dport 8215 counter accept' | " +
        "sed -n '1s/.*# handle //p') tcp dport 8214",
    );
  });

  it('nft, its own comment kept', () => {
    const old = rule('tcp dport 8215 accept comment "radio"', { handle: 4 });
    expect(writeEdited(old, chain(NFT), ONE, WISH)?.commands[0]).to.include(
      `comment '"radio (bright-ferry-tcp-8214)"'`,
    );
    // A comment has 128 characters at most (nft(8)).
    const long = rule(`tcp dport 8215 accept comment "${'x'.repeat(128)}"`, { handle: 4 });
    const comment = /'"(.*)"'$/.exec(writeEdited(long, chain(NFT), ONE, WISH)?.commands[0] ?? '')?.[1] ?? '';
    expect(comment).to.have.lengthOf(128);
    expect(comment.endsWith('x (bright-ferry-tcp-8214)')).to.equal(true);
  });

  it('iptables, by its number, or in its place', () => {
    const old = rule('-A INPUT -p tcp -m tcp --dport 8215 -j ACCEPT', { number: 5 });
    expect(lines(writeEdited(old, chain(IPTABLES), ONE, WISH))).to.deep.equal([
      'iptables -t filter -R INPUT 5 -p tcp -m tcp --dport 8214 -j ACCEPT',
      '—',
      'iptables -t filter -R INPUT 5 -p tcp -m tcp --dport 8215 -j ACCEPT',
    ]);
    expect(lines(writeEdited(rule(old.text), chain(IPTABLES), ONE, WISH))).to.deep.equal([
      'iptables -t filter -I INPUT -p tcp -m tcp --dport 8214 -j ACCEPT',
      'iptables -t filter -D INPUT -p tcp -m tcp --dport 8215 -j ACCEPT',
      '—',
      'iptables -t filter -I INPUT -p tcp -m tcp --dport 8215 -j ACCEPT',
      'iptables -t filter -D INPUT -p tcp -m tcp --dport 8214 -j ACCEPT',
    ]);
  });

  it('iptables, several rules in place of one: the old one stands behind them', () => {
    const old = rule('-A INPUT -s 192.0.2.1 -p tcp --dport 8214 -j ACCEPT', { number: 5 });
    const two = { edit: 'source', to: prefixes('198.51.100.23/32', '198.51.100.24/32') } as const;
    expect(lines(writeEdited(old, chain(IPTABLES), two, WISH))).to.deep.equal([
      'iptables -t filter -I INPUT 5 -s 198.51.100.23,198.51.100.24 -p tcp --dport 8214 -j ACCEPT',
      'iptables -t filter -D INPUT 7',
      '—',
      'iptables -t filter -I INPUT 5 -s 192.0.2.1 -p tcp --dport 8214 -j ACCEPT',
      'iptables -t filter -D INPUT -s 198.51.100.23,198.51.100.24 -p tcp --dport 8214 -j ACCEPT',
    ]);
  });

  it('nothing where nothing changes, or where no commands are taken', () => {
    const same = rule('tcp dport 8214 accept', { handle: 4 });
    expect(writeEdited(same, chain(NFT), ONE, WISH)).to.equal(null);
    expect(writeEdited(rule('tcp dport 8215 accept'), chain(BOX), ONE, WISH)).to.equal(null);
  });

  it('moved above another one, as a copy', () => {
    const [low, high] = [rule('tcp dport 8214 accept', { handle: 9 }), rule('drop', { handle: 4 })];
    expect(lines(writeMoved(low, high, chain(NFT), WISH))).to.deep.equal([
      `nft insert rule inet guard input handle 4 tcp dport 8214 accept ${MARK}`,
      '—',
      `nft delete rule inet guard input handle ${HANDLE}`,
    ]);
    const [below, above] = [
      rule('-A INPUT -j ACCEPT', { number: 7 }),
      rule('-A INPUT -j DROP', { number: 2 }),
    ];
    expect(lines(writeMoved(below, above, chain(IPTABLES), WISH))).to.deep.equal([
      'iptables -t filter -I INPUT 2 -j ACCEPT',
      '—',
      'iptables -t filter -D INPUT 2',
    ]);
    expect(writeMoved(rule('a'), above, chain(IPTABLES), WISH)).to.deep.equal(NONE);
    expect(writeMoved(below, rule('b'), chain(IPTABLES), WISH)).to.deep.equal(NONE);
    expect(writeMoved(low, high, chain(UFW), WISH)).to.equal(null);
  });
});

describe('commands for who is let in', () => {
  const now = prefixes('192.0.2.0/24');
  const mended = prefixes('198.51.100.23/32');
  const wish = { ...WISH, peers: mended };
  const sources = (origin: Origin, old: Rule, replaces: boolean, to: Prefix[] | null = mended, all = [old]) =>
    lines(writeSources(old, chain(origin, all), { now, mended: to, replaces }, { ...wish, peers: to }));

  it('in place of the old ones, or beside them', () => {
    const old = rule('ip saddr 192.0.2.0/24 tcp dport 8214 accept', { handle: 4 });
    expect(sources(NFT, old, true)?.[0]).to.equal(
      `nft replace rule inet guard input handle 4 ip saddr 198.51.100.23 tcp dport 8214 accept ${MARK}`,
    );
    expect(sources(NFT, old, false)?.[0]).to.equal(
      `nft insert rule inet guard input handle 4 ip saddr 198.51.100.23 tcp dport 8214 accept ${MARK}`,
    );
    const row = rule('-A INPUT -s 192.0.2.0/24 -p tcp --dport 8214 -j ACCEPT', { number: 3 });
    expect(sources(IPTABLES, row, false)?.[0]).to.equal(
      'iptables -t filter -I INPUT 3 -s 198.51.100.23 -p tcp --dport 8214 -j ACCEPT',
    );
    expect(sources(IPTABLES, row, true, null)?.[0]).to.equal(
      'iptables -t filter -R INPUT 3 -p tcp --dport 8214 -j ACCEPT',
    );
    expect(sources(NFT, rule('tcp dport 8214 accept'), false)).to.equal(null);
  });

  it('a row more, where rows stand for themselves', () => {
    expect(sources(UFW, rule('8214/tcp ALLOW IN 192.0.2.0/24'), false)?.[0]).to.equal(
      'ufw allow from 198.51.100.23 to any port 8214 proto tcp',
    );
    expect(sources(BOX, rule('row 1'), true)).to.equal(null);
  });

  it('Windows, by the name of the row', () => {
    const old = rule('row 3 (Harbour’s radio): allow inbound TCP 8214');
    const set = "Set-NetFirewallRule -DisplayName 'Harbour’’s radio' -RemoteAddress";
    expect(sources(PROFILE, old, true)).to.deep.equal([`${set} 198.51.100.23`, '—', `${set} 192.0.2.0/24`]);
    expect(sources(PROFILE, old, false)?.[0]).to.equal(`${set} 198.51.100.23,192.0.2.0/24`);
    expect(sources(PROFILE, old, true, null)?.[0]).to.equal(`${set} Any`);
  });

  it('Windows, a row of its own where the name is no help', () => {
    const old = rule('row 3 (radio): allow inbound TCP 8214');
    const twin = rule('row 9 (radio): allow inbound TCP 8215');
    const isNew = (made: string[] | null): boolean => made?.[0]?.startsWith('New-NetFirewallRule') ?? false;
    expect(isNew(sources(PROFILE, old, true, mended, [old, twin]))).to.equal(true);
    expect(isNew(sources(PROFILE, rule('row 3: allow inbound TCP 8214'), true))).to.equal(true);
    expect(isNew(sources(PROFILE, rule('row 3 (radio): allow from local-subnet'), true))).to.equal(true);
    expect(isNew(sources(PROFILE, old, true))).to.equal(false);
  });
});

describe('commands for rows of host firewalls', () => {
  it('a row that blocks is switched off, by a name that only it has', () => {
    const row = rule('row 2 (radio): block inbound TCP 8214');
    expect(lines(writeOff(row, chain(PROFILE, [row])))).to.deep.equal([
      "Disable-NetFirewallRule -DisplayName 'radio'",
      '—',
      "Enable-NetFirewallRule -DisplayName 'radio'",
    ]);
    const twin = rule('row 4 (radio): allow inbound TCP 80');
    expect(writeOff(row, chain(PROFILE, [row, twin]))).to.equal(null);
    expect(writeOff(row, chain(UFW, [row]))).to.equal(null);
  });

  it('a row with another value', () => {
    const row = { name: 'radio' } as Parameters<typeof writeHostRow>[0];
    const change = { part: 'ports', now: ['8215'], mended: ['8214', '8216'] } as const;
    expect(lines(writeHostRow(row, change))).to.deep.equal([
      "Set-NetFirewallRule -DisplayName 'radio' -LocalPort '8214','8216'",
      '—',
      "Set-NetFirewallRule -DisplayName 'radio' -LocalPort '8215'",
    ]);
    const { name: _, ...nameless } = row;
    expect(writeHostRow(nameless as typeof row, change)).to.equal(null);
  });
});
