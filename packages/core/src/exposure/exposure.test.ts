import { expect } from 'chai';
import { nftProgram, caseSite, forwardingGateway, serverEvidence } from '../testing/index.ts';
import { formatPorts } from '../net/index.ts';
import { deadRules } from './deadRules.ts';
import { exposureChange } from './difference.ts';
import { listenerText } from '../words/index.ts';
import { exposures, type Exposure } from './exposure.ts';

const site = (rows: readonly object[], rules?: string, more: object = {}) =>
  caseSite(
    [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      forwardingGateway({ rows, ...more }),
      { id: 'host', role: 'host' },
    ],
    serverEvidence(
      '192.168.50.20/24',
      '192.168.50.1',
      [
        'tcp 0.0.0.0:8214 gullcast',
        'tcp 0.0.0.0:5432 postgres',
        'tcp 127.0.0.1:6379 redis',
        'udp 0.0.0.0:28410 lanternd',
      ],
      rules,
    ),
  );
const text = (e: Exposure): string =>
  `${e.transport} ${formatPorts(e.outsidePorts)} at ${e.outsideAddresses.join('+')} → ` +
  `${e.program ?? '?'}@${e.stop} for ${e.sources.join(' ')}${e.maybe ? ' (perhaps)' : ''}`;
const shown = (list: readonly Exposure[]): string[] => list.map(text).sort();

describe('exposure: what the outside reaches', () => {
  it('one forward, anyone', () =>
    expect(shown(exposures(site([{ protocol: 'tcp', ports: 8214, to: '192.168.50.20' }])))).to.deep.equal([
      'tcp 8214 at 203.0.113.50 → gullcast@host for 0.0.0.0/0',
    ]));

  it('nothing where nothing is forwarded', () => expect(exposures(site([]))).to.deep.equal([]));

  it('forwards to machines that are no stops, marked: who takes it is not known', () => {
    const rows = [{ protocol: 'tcp', ports: 8214, to: '192.168.50.31' }];
    const [only, ...more] = exposures(site(rows));
    expect(more).to.deep.equal([]);
    expect(only).to.include({ stop: 'gateway', maybe: true, program: null });
    expect(only?.outsidePorts).to.deep.equal([{ first: 8214, last: 8214 }]);
    expect(listenerText(only!, (id) => id ?? '')).to.equal('192.168.50.31, which is no stop of this case');
  });

  it('rows of a table that is perhaps not whole: any port may lead anywhere', () => {
    const table = 'Protocol\tExternal port\tInternal IP\tInternal port\nTCP\t8214\t192.168.50.20\t8214\n';
    const wan = [{ text: 'WAN IP 203.0.113.50' }, { text: 'LAN IP 192.168.50.1' }];
    const files = { ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']) };
    const path = [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      { id: 'gateway', role: 'gateway', typed: wan },
      { id: 'host', role: 'host' },
    ];
    const evidence = [
      ...Object.keys(files).map((f) => ({ stop: 'host', file: `evidence/${f}.txt`, whole: true })),
      { stop: 'gateway', file: 'evidence/gateway/table.txt', part: true },
    ];
    const at = caseSite(path, { ...files, 'gateway/table': table }, { evidence });
    const perhaps = exposures(at).filter((e) => e.beyond !== null && e.transport === 'tcp');
    expect(perhaps.length).to.be.greaterThan(0);
    expect(perhaps.every((e) => e.maybe && e.stop === 'gateway')).to.equal(true);
    expect(listenerText(perhaps[0]!, (id) => id ?? '')).to.match(/^nobody knows who: /);
    expect(shown(exposures(at).filter((e) => e.beyond === null && e.transport === 'tcp'))).to.include(
      'tcp 8214 at 203.0.113.50 → gullcast@host for 0.0.0.0/0',
    );
  });

  it('an exposed host lays open everything that listens, but not what listens on loopback', () => {
    expect(shown(exposures(site([], undefined, { exposedHost: '192.168.50.20' })))).to.deep.equal([
      'tcp 5432 at 203.0.113.50 → postgres@host for 0.0.0.0/0',
      'tcp 8214 at 203.0.113.50 → gullcast@host for 0.0.0.0/0',
      'udp 28410 at 203.0.113.50 → lanternd@host for 0.0.0.0/0',
    ]);
  });

  it('a range that is sent to one port shows the outside ports', () => {
    const rows = [{ protocol: 'tcp', ports: '9000-9002', to: '192.168.50.20', toPort: 8213 }];
    expect(shown(exposures(site(rows)))).to.deep.equal([
      'tcp 9001 at 203.0.113.50 → gullcast@host for 0.0.0.0/0',
    ]);
  });

  it('the smallest prefixes of two rules on the host', () => {
    const rules =
      'table inet f {\n' +
      ' chain i {\n' +
      '  type filter hook input priority 0; policy drop;\n' +
      '  ip saddr { 198.51.100.0/25, 198.51.100.128/25 } tcp dport 8214 accept\n' +
      '  ip saddr 192.0.2.1-192.0.2.2 tcp dport 8214 accept\n' +
      ' }\n' +
      '}\n';
    expect(
      shown(exposures(site([{ protocol: 'tcp', ports: 8214, to: '192.168.50.20' }], rules))),
    ).to.deep.equal([
      'tcp 8214 at 203.0.113.50 → gullcast@host for 192.0.2.1/32 192.0.2.2/32 198.51.100.0/24',
    ]);
  });

  it('ports with different audiences stand apart', () => {
    const rows = [
      { protocol: 'tcp', ports: 8214, to: '192.168.50.20' },
      { protocol: 'tcp', ports: 80, to: '192.168.50.20', toPort: 8214, sources: ['198.51.100.0/24'] },
    ];
    expect(shown(exposures(site(rows)))).to.deep.equal([
      'tcp 80 at 203.0.113.50 → gullcast@host for 198.51.100.0/24',
      'tcp 8214 at 203.0.113.50 → gullcast@host for 0.0.0.0/0',
    ]);
  });

  it('what is not known is marked, not left out', () => {
    const rules =
      'table inet f {\n' +
      ' chain i {\n' +
      '  type filter hook input priority 0; policy drop;\n' +
      '  tcp dport 8214 meta cpu 1 accept\n' +
      ' }\n' +
      '}\n';
    expect(
      shown(exposures(site([{ protocol: 'tcp', ports: 8214, to: '192.168.50.20' }], rules))),
    ).to.deep.equal(['tcp 8214 at 203.0.113.50 → gullcast@host for 0.0.0.0/0 (perhaps)']);
  });

  it('names the rules that let it through', () => {
    const [only] = exposures(site([{ name: 'radio', protocol: 'tcp', ports: 8214, to: '192.168.50.20' }]));
    expect(only!.why.map((w) => w.stop)).to.deep.equal(['gateway', 'gateway']);
    expect(only!.why[0]!.text).to.contain('radio');
  });

  it('tells what an edit opens and closes, and nothing else', () => {
    const before = site([
      { protocol: 'tcp', ports: 8214, to: '192.168.50.20', sources: ['198.51.100.33'] },
      { protocol: 'tcp', ports: 5432, to: '192.168.50.20' },
    ]);
    const after = site([
      { protocol: 'tcp', ports: 8214, to: '192.168.50.20', sources: ['198.51.100.23'] },
      { protocol: 'tcp', ports: 5432, to: '192.168.50.20' },
    ]);
    const change = exposureChange(before, after);
    expect(shown(change.opened)).to.deep.equal([
      'tcp 8214 at 203.0.113.50 → gullcast@host for 198.51.100.23/32',
    ]);
    expect(shown(change.closed)).to.deep.equal([
      'tcp 8214 at 203.0.113.50 → gullcast@host for 198.51.100.33/32',
    ]);
  });
});

describe('rules that can never match', () => {
  const dead = (rules: string): string[] =>
    deadRules(
      nftProgram(
        'table inet f {\n chain more {\n  tcp dport 99 accept\n }\n' +
          ' chain i {\n  type filter hook input priority 0; policy drop;\n' +
          rules
            .split('\n')
            .map((r) => `  ${r}\n`)
            .join('') +
          ' }\n}\n',
      ),
      4,
      ['eno1', 'lo'],
    ).rules.map((d) => `${d.rule.text} < ${d.shadowedBy.map((s) => s.text).join(' + ')}`);

  it('one wider rule above', () =>
    expect(
      dead('ip saddr 198.51.100.0/24 drop\nip saddr 198.51.100.23 tcp dport 5432 accept\njump more'),
    ).to.deep.equal(['ip saddr 198.51.100.23 tcp dport 5432 accept < ip saddr 198.51.100.0/24 drop']));
  it('two rules that cover it together', () =>
    expect(
      dead('tcp dport 1-100 drop\ntcp dport 101-200 drop\ntcp dport 50-150 accept\njump more'),
    ).to.include('tcp dport 50-150 accept < tcp dport 1-100 drop + tcp dport 101-200 drop'));
  it('a rule that contradicts itself', () =>
    expect(dead('tcp dport 80 tcp dport 81 accept\njump more')).to.deep.equal([
      'tcp dport 80 tcp dport 81 accept < ',
    ]));
  it('a chain that nothing jumps to', () =>
    expect(dead('tcp dport 80 accept')).to.deep.equal(['tcp dport 99 accept < ']));
  it('a narrower rule above does not shadow', () =>
    expect(dead('ip saddr 198.51.100.23 drop\nip saddr 198.51.100.0/24 accept\njump more')).to.deep.equal(
      [],
    ));
  it('the same source in another connection state', () =>
    expect(dead('ct state established accept\nct state new tcp dport 80 accept\njump more')).to.deep.equal(
      [],
    ));
  it('a condition that is not modelled is never called dead', () =>
    expect(dead('tcp dport 80 drop\ntcp dport 80 meta cpu 1 accept\njump more')).to.deep.equal([]));
});
