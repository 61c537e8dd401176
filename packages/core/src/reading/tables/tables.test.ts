import { expect } from 'chai';
import { printed } from '../../facts/index.ts';
import { caseFacts, forwardLines } from '../../testing/index.ts';
import { readText } from '../recognise.ts';
import { buildSite } from '../../model/index.ts';
import type { LeaseFact } from '../../facts/index.ts';
import { readTable, tableShape } from './index.ts';

const leases = (text: string): string[] =>
  (readText(text)?.facts ?? [])
    .filter((f): f is LeaseFact => f.kind === 'lease')
    .map((l) => `${l.name} ${l.address} ${l.mac}`);
const forwards = forwardLines;
const WANTED = ['heron 192.168.50.20 02:48:4e:00:00:20', 'printer-hall 192.168.50.31 02:48:4e:00:01:31'];

describe('lists of devices and leases, copied from a page', () => {
  const layouts: Readonly<Record<string, string>> = {
    'with tabs and a heading':
      'Device\tIP address\tMAC address\tConnection\n' +
      'heron\t192.168.50.20\t02:48:4e:00:00:20\tEthernet\n' +
      'printer-hall\t192.168.50.31\t02:48:4e:00:01:31\tWi-Fi\n',
    'with semicolons, link addresses with dashes, and times':
      'Name;IPv4;MAC;Lease ends\n' +
      'heron;192.168.50.20;02-48-4E-00-00-20;23 h\n' +
      'printer-hall;192.168.50.31;02-48-4E-00-01-31;11 h\n',
    'as CSV with quotes':
      '"Host name","MAC","IP","Seconds"\n' +
      '"heron","02:48:4E:00:00:20","192.168.50.20","82800"\n' +
      '"printer-hall","02:48:4E:00:01:31","192.168.50.31","39600"\n',
    'with blanks and no heading':
      'heron 192.168.50.20 02:48:4e:00:00:20\nprinter-hall 192.168.50.31 02:48:4e:00:01:31\n',
    'as Markdown, in German':
      '| Gerät | IP-Adresse | MAC |\n' +
      '| --- | --- | --- |\n' +
      '| heron | 192.168.50.20 | 02:48:4e:00:00:20 |\n' +
      '| printer-hall | 192.168.50.31 | 02:48:4e:00:01:31 |\n',
  };
  for (const [title, text] of Object.entries(layouts))
    it(title, () => expect(leases(text)).to.deep.equal(WANTED));

  it('a row that does not fit is a problem, not a guess', () => {
    const reading = readText(
      'Name\tIP\tMAC\nheron\t192.168.50.20\t02:48:4e:00:00:20\n' +
        'printer\t192.168.50.31\t02:48:4e:00:01:31\ntotal\t2\n',
    )!;
    expect(reading.facts).to.have.length(2);
    expect(reading.problems.map((p) => p.line)).to.deep.equal([4]);
  });
});

describe('long tables', () => {
  it('are read to their last row', () => {
    const rows = Array.from(
      { length: 12_000 },
      (_, i) => `udp\t${1000 + i}\t192.168.50.20\t${1000 + i}\n`,
    ).join('');
    expect(rows.length).to.be.greaterThan(200_000);
    expect(readText(rows)!.facts).to.have.length(12_000);
  });
});

describe('what is no forward table', () => {
  it('a list with lifetimes is what programs asked for, and replaces no table of forwards', () => {
    const list =
      'Proto,External,Internal IP,Internal,Lifetime,Description\n' +
      'UDP,28410,192.168.50.20,28410,3600,reef\n' +
      'TCP,8214,192.168.50.20,8214,0,gullcast\n';
    expect(readText(list)?.covers).to.deep.equal(['mappings']);
    expect(readText(list)?.facts.map((f) => (f.kind === 'mapping' ? f.value : f.kind))).to.deep.equal([
      {
        protocol: 'UDP',
        externalPort: 28410,
        internalAddress: '192.168.50.20',
        internalPort: 28410,
        description: 'reef',
        lease: 3600,
      },
      {
        protocol: 'TCP',
        externalPort: 8214,
        internalAddress: '192.168.50.20',
        internalPort: 8214,
        description: 'gullcast',
        lease: 0,
      },
    ]);
  });

  const LEFT: readonly (readonly [string, number])[] = [
    ['341', 341],
    ['341 s', 341],
    ['5 min', 300],
    ['1h 2m', 3720],
    ['0:05:41', 341],
    ['12 seconds left', 12],
  ];
  for (const [text, lease] of LEFT)
    it(`what is left of a mapping: ${text}`, () => {
      const list =
        'Mappings asked for by programs\n' +
        'Protocol\tExternal port\tInternal IP\tInternal port\tTime left\n' +
        `UDP\t28410\t192.168.50.20\t28410\t${text}\n`;
      const [fact] = readText(list)?.facts ?? [];
      expect(fact?.kind === 'mapping' ? fact.value.lease : fact?.kind).to.equal(lease);
      expect(readText(list)?.problems).to.deep.equal([]);
    });

  it('a table of which no row runs out is one of forwards', () =>
    expect(
      readText(
        'Protocol\tExternal port\tInternal IP\tInternal port\tLifetime\n' +
          'UDP\t28410\t192.168.50.20\t28410\tpermanent\n',
      )?.covers,
    ).to.deep.equal(['forwards']));

  it('words of a line that another reader could not take', () =>
    expect(readText('default via 192.168.50.1 dev eno1 proto dhcp metric 100 extra\n')?.format).to.not.equal(
      'forward-table',
    ));

  const RULES =
    'Action\tProtocol\tSource\tDestination\tPort\nallow\ttcp\tany\t192.168.50.20\t8214\n' +
    'deny\tany\tany\tany\tany\n';
  it('a table that allows and refuses', () => {
    expect(readText(RULES)).to.include({ format: 'rule-table' });
    expect(readText(RULES)!.facts.map((f) => printed(f)?.text)).to.deep.equal([
      'allow · tcp · any · 192.168.50.20 · 8214',
      'deny · any · any · any · any',
    ]);
  });

  it('beside forwards it leaves open what gets through', () => {
    const path = [
      { id: 'client', role: 'client' as const },
      { id: 'gateway', role: 'gateway' as const },
      { id: 'host', role: 'host' as const },
    ];
    const files = {
      'gateway/forwards': 'tcp 8214 192.168.50.20 8214\nudp 28410 192.168.50.20 28410\n',
      'gateway/status': 'WAN IP 203.0.113.50\n',
    };
    const chains = (more: Record<string, string>): string[] =>
      buildSite(caseFacts(path, { ...files, ...more }))
        .machines.find((m) => m.id === 'gateway')!
        .program[4]!.baseChains.filter((b) => b.hook === 'forward')
        .map((b) => b.chain.name);
    expect(chains({})).to.deep.equal(['passing']);
    expect(chains({ 'gateway/rules': RULES })).to.deep.equal(['passing', 'filter table']);
  });
});

describe('columns of a copied table, put right', () => {
  const TEXT = 'Rule\tA\tB\tTo\tProto\nreef\t30000\t28410\t192.168.50.20\tUDP\n';

  it('shows its guess, and what stands in the columns', () => {
    const shape = tableShape(TEXT)!;
    expect(shape.columns).to.deep.equal({
      table: 'forwards',
      roles: ['name', 'some-port', 'some-port', 'inside-address', 'protocol'],
    });
    expect(shape.heading).to.deep.equal(['Rule', 'A', 'B', 'To', 'Proto']);
    expect(shape.samples[1]).to.deep.equal(['30000']);
  });

  it('reads it with the columns that were given', () => {
    expect(
      forwards(
        readTable(TEXT, {
          table: 'forwards',
          roles: ['name', 'inside', 'outside', 'inside-address', 'protocol'],
        })!.facts,
      ),
    ).to.deep.equal(['udp 28410 → 192.168.50.20:30000']);
    const left = readTable(TEXT, {
      table: 'forwards',
      roles: ['name', 'other', 'other', 'inside-address', 'protocol'],
    })!;
    expect(forwards(left.facts), 'its ports are open').to.deep.equal(['udp ? → 192.168.50.20:?']);
  });

  it('knows the next table of the same shape by its heading, or by what stands in its columns', () => {
    expect(tableShape(TEXT.replace('reef', 'gull').replace('28410', '28411'))!.signature).to.equal(
      tableShape(TEXT)!.signature,
    );
    const bare = (port: number) => tableShape(`udp\t${port}\t192.168.50.20\t28410\n`)!.signature;
    expect(bare(1000))
      .to.equal(bare(2000))
      .and.to.not.equal(tableShape('udp\t192.168.50.20\t28410\t28410\n')!.signature);
  });
});

describe('states with what limits them', () => {
  const STATES: readonly (readonly [string, boolean | null, 'restart' | undefined])[] = [
    ['enabled', null, undefined],
    ['Enabled (restart required)', false, 'restart'],
    ['enabled, restart required', false, 'restart'],
    ['needs a reboot', false, 'restart'],
    ['aktiv (Neustart erforderlich)', false, 'restart'],
    ['saved, not applied', false, undefined],
    ['pending', false, undefined],
  ];
  for (const [text, applied, waitsFor] of STATES)
    it(text, () => {
      const [fact] =
        readText(
          'Protocol\tExternal port\tInternal IP\tInternal port\tState\n' +
            `TCP\t8214\t192.168.50.20\t8214\t${text}\n`,
        )?.facts ?? [];
      if (fact?.kind !== 'forward') throw new Error('no forward');
      expect(fact.enabled).to.deep.equal({ is: true });
      expect(fact.applied).to.equal(applied);
      expect(fact.waitsFor).to.equal(waitsFor);
    });
});

describe('a row that is on, and not in force', () => {
  for (const [state, expected] of [
    ['active', { enabled: true, applied: true }],
    ['saved, not applied', { enabled: true, applied: false }],
    ['saved, active after restart', { enabled: true, applied: false, waitsFor: 'restart' }],
  ] as const)
    it(`on, and ${state}`, () => {
      const [fact] = readText(
        'Name\tOn\tProtocol\tOutside port\tInside address\tInside port\tState\n' +
          `reef\tyes\tTCP\t28410\t192.168.50.20\t28410\t${state}\n`,
      )!.facts;
      const { enabled, ...rest } = expected;
      expect(fact).to.deep.include({ kind: 'forward', enabled: { is: enabled }, ...rest });
    });
});
