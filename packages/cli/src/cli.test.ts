import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { packCase, type CaseDocument } from '@bright-ferry/core/case';
import { loadCase } from './loadCase.ts';

const BIN = fileURLToPath(new URL('../bin/bright-ferry.mjs', import.meta.url));
const DEMO = fileURLToPath(new URL('../../web/demo/', import.meta.url));

function ferry(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8' });
  return {
    status,
    stdout,
    stderr,
    json: () => JSON.parse(stdout) as Record<string, unknown> & { outcome: string; stop: string | null }[],
  };
}

describe('the command line, as the contract has it', () => {
  let folder = '';
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'bright-ferry-cli-'))));
  afterEach(() => rmSync(folder, { recursive: true, force: true }));
  const file = (name: string, text: string | Uint8Array): string => {
    writeFileSync(join(folder, name), text);
    return join(folder, name);
  };

  it('read: format, facts with their lines, and a problem for what is not understood', () => {
    const sockets = file('a', 'tcp LISTEN 0 16 0.0.0.0:8214 0.0.0.0:* users:(("gullcast",pid=7,fd=3))\n');
    const strange = file('b', 'nothing that any program prints\n');
    const { status, json } = ferry('read', sockets, strange, '--json');
    expect(status).to.equal(0);
    const [a, b] = json() as unknown as {
      file: string;
      format: string | null;
      facts: { sockets: { port: number; line: number }[] };
      problems: { line: number; why: string }[];
    }[];
    expect(a).to.include({ file: sockets, format: 'ss' });
    expect(a!.facts.sockets[0]).to.include({ port: 8214, line: 1 });
    expect(b!.format).to.equal(null);
    expect(b!.problems).to.have.length(1);
  });

  it('read: every port of a forward, and the counters of every rule', () => {
    const nft = file(
      'n',
      'table ip n {\n' +
        '\tchain p {\n' +
        '\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
        '\t\ttcp dport { 8213, 8214, 8217-8219 } counter packets 2 bytes 120 dnat to 192.168.50.20 # ' +
        'handle 7\n' +
        '\t}\n' +
        '}\n',
    );
    const save = file(
      's',
      '*nat\n' +
        ':PREROUTING ACCEPT [3:180]\n' +
        '[2:120] -A PREROUTING -p tcp -m multiport --dports 443,8443 -j DNAT --to-destination ' +
        '192.168.50.20:8096\n' +
        'COMMIT\n',
    );
    const [a, b] = ferry('read', nft, save, '--json').json() as unknown as {
      facts: { forwards: object[]; counters: unknown };
    }[];
    expect(a!.facts.forwards.map((f) => (f as { outsidePorts: number[] }).outsidePorts)).to.deep.equal([
      [8213, 8213],
      [8214, 8214],
      [8217, 8219],
    ]);
    expect(a!.facts.counters).to.deep.equal([
      { chain: 'ip n p', handle: 7, packets: 2, bytes: 120, line: 4 },
    ]);
    expect(b!.facts.forwards).to.have.length(1);
    expect(b!.facts.forwards[0]).to.deep.include({ outsidePortList: [443, 8443], toPorts: [8096, 8096] });
    expect(b!.facts.counters).to.deep.equal({
      nat: { PREROUTING: { policy: 'ACCEPT', policyPackets: 3, rules: [[2, 120]] } },
    });
  });

  it('read: bytes that are no text are named, not guessed at', () => {
    const [document] = ferry(
      'read',
      file('x', Uint8Array.from([0x7f, 0x45, 0x4c, 0x46, 0, 0, 0, 1, 2, 0])),
      '--json',
    ).json() as unknown as { format: null; problems: { why: string }[] }[];
    expect(document!.format).to.equal(null);
    expect(document!.problems[0]!.why).to.match(/not text/);
  });

  it('trace: one packet on a demo case, and many from a file in their order', () => {
    const one = ferry(
      'trace',
      join(DEMO, 'gullcast'),
      '--from',
      '198.51.100.23',
      '--to',
      '203.0.113.50:8214/tcp',
      '--json',
    ).json() as unknown as { outcome: string; because: { evidence: { file: string }[] }; legs: unknown[] };
    expect(one.outcome).to.be.oneOf(['lost', 'unknown']);
    expect(one.because.evidence[0]!.file).to.match(/^evidence\//);
    expect(one.legs.length).to.be.above(2);
    const packets = file(
      'p.json',
      JSON.stringify([
        { from: '198.51.100.23:40001', to: '203.0.113.50:8214/tcp' },
        { from: '198.51.100.23:40002', to: '203.0.113.50:9/udp' },
      ]),
    );
    const many = ferry('trace', join(DEMO, 'gullcast'), '--packets', packets, '--json').json();
    expect(many).to.have.length(2);
    expect(many[1]).to.include({ outcome: 'lost', stop: 'gateway' });
  });

  it('diagnose: the fault that the evidence decides, what comes after it, and its mend', () => {
    const found = ferry('diagnose', join(DEMO, 'gullcast'), '--json').json() as unknown as {
      verdict: { sure: boolean; fault: string };
      faults: { id: string; stop: string; probability: number; evidence: { file: string }[] }[];
      mends: {
        fault: string;
        values: { now: string; mended: string }[];
        opens: unknown[];
        closes: unknown[];
      }[];
    };
    expect(found.verdict).to.include({ sure: true, fault: 'fwd-target-stale' });
    expect(found.faults.map((f) => [f.id, f.stop])).to.deep.equal([['fwd-target-stale', 'gateway']]);
    expect(found.faults[0]!.evidence[0]!.file).to.match(/^evidence\//);
    expect(found.mends[0]!.values[0]).to.include({ now: '192.168.50.31', mended: '192.168.50.20' });
    expect(found.mends[0]!.opens).to.have.length(1);
    expect(ferry('diagnose', join(DEMO, 'gullcast')).stdout).to.match(/^Astray at the gateway/);
  });

  it('trace: the same answer from the folder and from its zip', () => {
    const packed = file('case.ferry.zip', packCase(loadCase(join(DEMO, 'ebbtide'))));
    const args = ['--from', '198.51.100.23', '--to', '203.0.113.77:5432/tcp', '--json'];
    expect(ferry('trace', packed, ...args).json()).to.deep.equal(
      ferry('trace', join(DEMO, 'ebbtide'), ...args).json(),
    );
  });

  const wrong: readonly (readonly [string, (f: typeof file) => string[], RegExp])[] = [
    [
      'a case that is not there',
      () => ['trace', '/nonexistent', '--from', '192.0.2.1', '--to', '192.0.2.2:80/tcp'],
      /\/nonexistent.*no such/,
    ],
    [
      'a damaged case.json',
      (f) => [
        'trace',
        f('case.json', '{ "format": "bright-ferry-case", ').replace('/case.json', ''),
        '--from',
        '192.0.2.1',
        '--to',
        '192.0.2.2:80/tcp',
      ],
      /case\.json/,
    ],
    [
      'a target without a protocol',
      () => ['trace', join(DEMO, 'gullcast'), '--from', '192.0.2.1', '--to', '192.0.2.2:80'],
      /\/tcp or .*\/udp/,
    ],
    ['neither a packet nor a list', () => ['trace', join(DEMO, 'gullcast')], /--packets/],
    [
      'a list that is no JSON',
      (f) => ['trace', join(DEMO, 'gullcast'), '--packets', f('p', 'hello')],
      /not valid JSON/,
    ],
    ['an unknown command', () => ['sail'], /unknown command/],
    ['a file that is not there', () => ['read', '/nonexistent'], /\/nonexistent/],
    ['a port that is none', () => ['serve', '--port', '99999'], /--port/],
    [
      'a zip that is none',
      (f) => [
        'trace',
        f('x.zip', 'PK\u0003\u0004 broken'),
        '--from',
        '192.0.2.1',
        '--to',
        '192.0.2.2:80/tcp',
      ],
      /x\.zip/,
    ],
  ];
  for (const [title, args, message] of wrong) {
    it(`exit status 2 and one clear line for ${title}`, () => {
      const { status, stdout, stderr } = ferry(...args(file));
      expect(status).to.equal(2);
      expect(stdout).to.equal('');
      expect(stderr).to.match(message);
      expect(stderr.trim().split('\n')).to.have.length(1);
    });
  }

  it('unknown keys of a case survive a read and a write', () => {
    cpSync(join(DEMO, 'ebbtide'), folder, { recursive: true });
    const path = join(folder, 'case.json');
    const document = JSON.parse(readFileSync(path, 'utf8')) as CaseDocument & Record<string, unknown>;
    writeFileSync(
      path,
      JSON.stringify({
        ...document,
        harbour: { berth: 7 },
        path: document.path.map((s) => ({ ...s, colour: 'green' })),
      }),
    );
    const again = loadCase(file('again.zip', packCase(loadCase(folder)))).document;
    expect(again['harbour']).to.deep.equal({ berth: 7 });
    expect(again.path[0]!['colour']).to.equal('green');
  });
});
