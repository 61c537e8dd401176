import { expect } from 'chai';
import { parseEndpoint, parseAddress, type Header } from '../net/index.ts';
import type { TrafficRecord } from '../ledger/index.ts';
import { mendCases, serverEvidence, caseFacts } from '../testing/index.ts';
import { commandsOf, keptOutMend, sceneFrom } from './index.ts';

const { CARRIER, CLIENT, HOST, nft } = mendCases;
const SOURCE = { file: 'evidence/host/log.txt', line: 7 };

const at = (text: string) => {
  const parsed = parseEndpoint(text);
  if (!parsed) throw new Error(text);
  return parsed;
};
const PACKET: Header = {
  transport: 'tcp',
  source: at('198.51.100.23:40000'),
  destination: at('203.0.113.80:8214'),
};
const record = (more: Partial<TrafficRecord> = {}): TrafficRecord => ({
  stop: 'host',
  by: 'log',
  became: 'kept-out',
  transport: 'tcp',
  from: at('198.51.100.23:40000').address,
  to: at('203.0.113.80:8214').address,
  port: 8214,
  count: 3,
  last: null,
  ways: null,
  source: SOURCE,
  ...more,
});
const profiles = {
  kind: 'host-profiles',
  active: 'private',
  profiles: { private: { in: 'block', out: 'allow' } },
  rows: [],
};
const scene = (rules: string, settings?: unknown) => {
  const host = settings === undefined ? HOST : { ...HOST, settings };
  const files = serverEvidence('203.0.113.80/24', '203.0.113.1', ['tcp 0.0.0.0:8214 gullcast'], rules);
  if (settings !== undefined) delete files['host/rules'];
  return sceneFrom(caseFacts([CLIENT, CARRIER, host], files), PACKET);
};

describe('a log shows that a machine kept a packet out: the narrowest row that lets exactly it in', () => {
  it('at the head of the chain that it came through', () => {
    const before = scene(nft('ip saddr 198.51.100.0/24 tcp dport 8000-9000 drop'));
    const mend = keptOutMend(before, record(), PACKET);
    expect(mend).to.deep.include({ fault: 'host-drop', stop: 'host', evidence: [SOURCE] });
    expect(mend && commandsOf(mend).commands).to.deep.equal([
      'nft insert rule inet guard input ip saddr 198.51.100.23 tcp dport 8214 accept comment ' +
        'bright-ferry-tcp-8214',
    ]);
    const rules = mend?.apply?.(before).site.machines.find((m) => m.id === 'host')?.program[4]
      ?.chains[0]?.rules;
    expect(rules?.map((r) => r.id.startsWith('mend/logged/tcp/8214'))).to.deep.equal([true, false]);
  });

  it('for whoever was kept out, at the port that was tried', () => {
    const from = parseAddress('192.0.2.7');
    if (!from) return;
    const mend = keptOutMend(scene(nft('accept')), record({ from, transport: 'udp', port: 9000 }), PACKET);
    expect(mend && commandsOf(mend).commands.join()).to.contain('ip saddr 192.0.2.7 udp dport 9000 accept');
    // Somebody else than the client of the case: its own packet would not be let in by that.
    expect(mend?.apply).to.equal(null);
  });

  it('on Windows in the list of its profile', () => {
    const mend = keptOutMend(scene('', profiles), record(), PACKET);
    expect(mend && commandsOf(mend).commands.join()).to.match(
      /^New-NetFirewallRule .*-LocalPort 8214 -RemoteAddress 198\.51\.100\.23 -Profile 'private'$/,
    );
  });

  it('where its rules are not known nothing is rehearsed, and no command is guessed', () => {
    const before = sceneFrom(caseFacts([CLIENT, CARRIER, HOST], {}), PACKET);
    const mend = keptOutMend(before, record(), PACKET);
    expect(mend).to.include({ fault: 'host-drop', apply: null });
    expect(mend && commandsOf(mend).commands).to.deep.equal([]);
  });

  it('a chain that no hook asks is not the one', () => {
    const mend = keptOutMend(
      scene('table inet guard {\n\tchain extra {\n\t\taccept\n\t}\n}\n'),
      record(),
      PACKET,
    );
    expect(mend?.apply).to.equal(null);
  });

  it('only a server has such a row', () => {
    expect(keptOutMend(scene(nft('accept')), record({ stop: 'carrier' }), PACKET)).to.equal(null);
    expect(keptOutMend(scene(nft('accept')), record({ stop: 'nobody' }), PACKET)).to.equal(null);
  });
});
