import { execFileSync } from 'node:child_process';
import { expect } from 'chai';
import fc from 'fast-check';
import { iptablesShell, nftShell, shellWord } from './shell.ts';

/** What a real shell makes of the words of a command. */
const words = (command: string): string[] =>
  execFileSync('sh', ['-c', `for word in ${command}; do printf '%s\\0' "$word"; done`], { encoding: 'utf8' })
    .split('\0')
    .slice(0, -1);

describe('words from evidence in commands for a shell', () => {
  it('reach the program as they are, whatever stands in them', function () {
    this.timeout(60_000);
    const word = fc
      .string({ minLength: 1, maxLength: 12 })
      .map((t) => t.replaceAll('\0', '').replace(/^$/, 'x'));
    fc.assert(
      fc.property(fc.array(word, { minLength: 1, maxLength: 20 }), (list) => {
        expect(words(list.map(shellWord).join(' '))).to.deep.equal(list);
      }),
      { numRuns: 60 },
    );
  });

  const table: readonly (readonly [string, string, readonly string[]])[] = [
    [
      'a plain nft rule',
      nftShell('ip saddr { 192.0.2.1, 192.0.2.2 } tcp dport != 80 accept'),
      ['ip', 'saddr', '{', '192.0.2.1,', '192.0.2.2', '}', 'tcp', 'dport', '!=', '80', 'accept'],
    ],
    [
      'a comment keeps its quotes for nft',
      nftShell('tcp dport 80 accept comment "harbour radio"'),
      ['tcp', 'dport', '80', 'accept', 'comment', '"harbour radio"'],
    ],
    [
      'a comment is one word for iptables',
      iptablesShell('-m comment --comment "it\\"s $(touch pwned)" -j ACCEPT'),
      ['-m', 'comment', '--comment', 'it"s $(touch pwned)', '-j', 'ACCEPT'],
    ],
    ['a name that a shell would run', nftShell('input$(touch pwned)'), ['input$(touch', 'pwned)']],
    ['a name that ends a command', shellWord('f; touch pwned #'), ['f; touch pwned #']],
  ];
  for (const [title, command, expected] of table)
    it(title, () => expect(words(command)).to.deep.equal(expected));

  it('leaves plain rules as people read them', () =>
    expect(nftShell('ip saddr 198.51.100.23 tcp dport 5432 accept')).to.equal(
      'ip saddr 198.51.100.23 tcp dport 5432 accept',
    ));
});
