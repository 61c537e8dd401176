import { expect } from 'chai';
import type { Prefix } from '../../net/index.ts';
import type { Origin, Rule } from '../../rules/index.ts';
import { writing } from '../../testing/index.ts';
import { writeEdited, writeHostRow, writeMoved, writeOff, writeSources } from './index.ts';

const { BOX, chain, HANDLE, IPTABLES, lines, MARK, NFT, prefixes, PROFILE, rule, UFW, WISH } = writing;
const NONE = { commands: [], undo: [] };

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
