import { expect } from 'chai';
import { readText } from './recognise.ts';
import { stretchesOf } from './split.ts';
import { caseSite } from '../testing/index.ts';

const ADDRESSES =
  '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n';
const ROUTES = 'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 proto kernel scope link\n';
const SOCKETS =
  'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
  'tcp LISTEN 0 16 0.0.0.0:8214 0.0.0.0:* users:(("gullcast",pid=7,fd=3))\n';

describe('several outputs in one paste', () => {
  const kinds = (text: string): string[] => [...new Set(readText(text)!.facts.map((f) => f.kind))].sort();

  for (const [title, prompt] of [
    ['a shell with user and host', 'anna@heron:~$ '],
    ['root', 'root@heron:/# '],
    ['a bare dollar', '$ '],
    ['an older shell', '[root@heron ~]# '],
    ['a heading of a script', '= '],
  ] as const) {
    it(`is split at prompts: ${title}`, () => {
      const line = (command: string): string =>
        prompt === '= ' ? `= ${command} =\n` : `${prompt}${command}\n`;
      const text = line('ip addr') + ADDRESSES + line('ip route') + ROUTES + line('ss -tulpn') + SOCKETS;
      expect(kinds(text)).to.deep.equal(['address', 'interface', 'route', 'socket']);
    });
  }

  it('is split without prompts where the lines begin to be another program’s', () =>
    expect(kinds(ADDRESSES + ROUTES + SOCKETS)).to.deep.equal(['address', 'interface', 'route', 'socket']));

  it('keeps the lines of the whole paste', () => {
    const text = `$ ip addr\n${ADDRESSES}$ ip route\n${ROUTES}`;
    const route = readText(text)!.facts.find((f) => f.kind === 'route' && f.to === 'default')!;
    expect(text.split('\n')[route.at.line - 1]).to.equal('default via 192.168.50.1 dev eno1');
    expect(stretchesOf(text).map((s) => s.from)).to.deep.equal([2, 5]);
  });

  it('does not take a rule set apart for what stands in it', () => {
    const rules =
      'table inet f {\n' +
      '\tchain i {\n' +
      '\t\ttype filter hook input priority filter; policy drop;\n' +
      '\t\ttcp dport 8214 accept comment "default via dev eno1"\n' +
      '\t}\n' +
      '}\n';
    expect(readText(rules)!.format).to.equal('nft');
    expect(stretchesOf(rules)).to.have.length(1);
  });

  it('one output alone keeps its own reader', () => expect(readText(ROUTES)!.format).to.equal('ip-route'));
});

describe('listings that were filtered', () => {
  const path = [
    { id: 'client', role: 'client' as const },
    { id: 'host', role: 'host' as const },
  ];
  const sockets = (text: string) =>
    caseSite(path, { 'host/sockets': text }).machines.find((m) => m.id === 'host')!;
  const ROW = 'tcp LISTEN 0 16 0.0.0.0:8214 0.0.0.0:* users:(("gullcast",pid=7,fd=3))\n';

  it('say what they show and nothing about the rest', () => {
    for (const command of [
      'sudo ss -tulpn | grep 8214',
      'ss -tulpn|head -3',
      'netstat -ano | findstr 8214',
    ]) {
      const machine = sockets(`anna@heron:~$ ${command}\n${ROW}`);
      expect(machine.sockets, command).to.have.length(1);
      expect(machine.presumed.socketsComplete, command).to.deep.equal({ tcp: false, udp: false });
    }
  });

  it('a whole listing says what is closed, for the transports that it lists', () => {
    expect(sockets(`anna@heron:~$ sudo ss -tulpn\n${ROW}`).presumed.socketsComplete).to.deep.equal({
      tcp: true,
      udp: true,
    });
    expect(
      sockets(
        'State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
          'LISTEN 0 16 0.0.0.0:8214 0.0.0.0:*\n',
      ).presumed.socketsComplete,
    ).to.deep.equal({ tcp: true, udp: false });
  });
});

describe('a command that prints nothing', () => {
  const covers = (text: string): readonly string[] => readText(text)?.parts?.flatMap((p) => p.covers) ?? [];
  const ROUTES = 'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link\n';
  const paste = (command: string, next = 'anna@heron:~$ ip route\n'): string =>
    `${command}\n${next}${ROUTES}`;

  it('says that the rule set is empty, where somebody may see it and asked for all of it', () => {
    for (const command of ['anna@heron:~$ sudo nft list ruleset', 'root@heron:~# nft list ruleset'])
      expect(covers(paste(command)), command).to.include.members(['rules4', 'rules6', 'routes4']);
  });

  it('says nothing of one table, without the right to see it, or where the paste ends there', () => {
    for (const text of [
      paste('anna@heron:~$ sudo nft list table inet guard'),
      paste('anna@heron:~$ nft list ruleset'),
      `anna@heron:~$ ip route\n${ROUTES}anna@heron:~$ sudo nft list ruleset\n`,
    ])
      expect(covers(text), text).to.not.include('rules4');
  });
});
