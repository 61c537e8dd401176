import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { writing } from '../../testing/index.ts';
import { parseAddress, parsePrefix } from '../../net/index.ts';
import { bsdFilterProgram, writeRule, type RuleWish } from '../index.ts';
import { bsdRule } from './bsd.ts';

/** Stands in for the filter’s own tool, which Debian does not have: it lists what it loaded (pfctl(8)). */
const TOOL = `#!/bin/sh
case "$*" in
  -sr) cat "$RULES" ;;
  '-R -f -') cat > "$RULES.new" && mv "$RULES.new" "$RULES" ;;
  *) exit 64 ;;
esac
`;

function loaded(rules: string, commands: readonly string[]): string {
  const folder = mkdtempSync(join(tmpdir(), 'bsd-'));
  try {
    const [tool, file] = [join(folder, 'pfctl'), join(folder, 'rules')];
    writeFileSync(tool, TOOL);
    chmodSync(tool, 0o755);
    writeFileSync(file, rules);
    const env = { ...process.env, PATH: `${folder}:${process.env['PATH'] ?? ''}`, RULES: file };
    for (const line of commands) {
      const { status, stderr } = spawnSync('sh', ['-c', line], { env, encoding: 'utf8' });
      expect([status, stderr]).to.deep.equal([0, '']);
    }
    return readFileSync(file, 'utf8');
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const wish = (more: Partial<RuleWish> = {}): RuleWish => ({ ...writing.WISH, ...more });
const peers = ['198.51.100.23/32', '192.0.2.0/24'].map((text) => parsePrefix(text)).filter((p) => p !== null);

describe('a rule of the BSD packet filter (pf.conf(5))', () => {
  const NORMAL = 'scrub-anchor "front/*" all fragment reassemble\n';
  const RULES = 'anchor "front/*" all\nblock drop in quick all\n';
  const MADE = 'pass in quick inet proto tcp from any to any port 8214';

  it('above all others, behind what is said of fragments; and away again', () => {
    const made = bsdRule(wish());
    expect(made?.text).to.equal(MADE);
    if (!made) return;
    const after = loaded(NORMAL + RULES, made.commands);
    expect(after).to.equal(`${NORMAL}${MADE} label "bright-ferry-tcp-8214"\n${RULES}`);
    expect(loaded(after, made.undo)).to.equal(NORMAL + RULES);
  });

  it('where nothing was loaded', () =>
    expect(loaded('', bsdRule(wish())?.commands ?? [])).to.equal(`${MADE} label "bright-ferry-tcp-8214"\n`));

  it('for some senders, the other protocol and family, one address', () => {
    expect(bsdRule(wish({ peers, transport: 'udp' }))?.text).to.equal(
      'pass in quick inet proto udp from { 198.51.100.23, 192.0.2.0/24 } to any port 8214',
    );
    const six = parseAddress('2001:db8:50::20');
    expect(bsdRule(wish({ family: 6, peers: peers.slice(0, 1), destination: six }))?.text).to.equal(
      'pass in quick inet6 proto tcp from 198.51.100.23 to 2001:db8:50::20 port 8214',
    );
  });

  it('answers pass by their state, and nothing is translated', () => {
    const to = parseAddress('192.168.50.20');
    expect(bsdRule(wish({ side: 'answer' }))).to.equal(null);
    expect(to && bsdRule(wish({ then: { do: 'translate', to } }))).to.equal(null);
  });

  it('a chain of that filter is written so', () => {
    const program = bsdFilterProgram([], { enabled: true, interfaces: null });
    const chain = program.chains.find((c) => c.origin.program === 'bsd');
    expect(chain && writeRule(wish(), { chain, above: null })?.text).to.equal(MADE);
  });
});
