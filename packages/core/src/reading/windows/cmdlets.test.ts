import { expect } from 'chai';
import type { Fact } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

const facts = (text: string, command?: string): readonly Fact[] => readText(text, command)?.facts ?? [];
const sockets = (text: string, command?: string): string[] =>
  facts(text, command).flatMap((f) =>
    f.kind === 'socket'
      ? [`${f.protocol} ${f.address}:${f.port} ${f.state}${f.peer ? ` to ${f.peer}` : ''}`]
      : [],
  );
const reasons = (text: string): unknown[] => (readText(text)?.problems ?? []).map((p) => p.why);

const RULE = `Name                    : {8214}
DisplayName             : Moorhen 8214
Enabled                 : True
Profile                 : Domain, Private
Direction               : Inbound
Action                  : Allow
Protocol                : UDP
LocalPort               : 8214
RemotePort              : Any
LocalAddress            : Any
RemoteAddress           : 198.51.100.0/24
Program                 : Any
`;
const row = (text: string) => {
  const [found] = facts(text).filter((f) => f.kind === 'host-row');
  if (found?.kind !== 'host-row') throw new Error('no row');
  return found.value;
};

describe('objects that the shell of Windows prints', () => {
  it('sockets of TCP, as a list and as JSON', () => {
    expect(
      sockets(
        'LocalAddress   : 0.0.0.0\n' +
          'LocalPort      : 8211\n' +
          'RemoteAddress  : 0.0.0.0\n' +
          'RemotePort     : 0\n' +
          'State          : Listen\n' +
          '\n' +
          'LocalAddress   : 192.168.50.20\n' +
          'LocalPort      : 8211\n' +
          'RemoteAddress  : 198.51.100.23\n' +
          'RemotePort     : 50123\n' +
          'State          : Established\n',
      ),
    ).to.deep.equal(['tcp 0.0.0.0:8211 LISTEN', 'tcp 192.168.50.20:8211 ESTAB to 198.51.100.23']);
    expect(
      sockets(
        '[{"LocalAddress":"::","LocalPort":8211,"RemoteAddress":"::","RemotePort":0,"State":2},' +
          '{"LocalAddress":"192.168.50.20","LocalPort":8211,"RemoteAddress":"198.51.100.23",' +
          '"RemotePort":50123,"State":5}]',
      ),
    ).to.deep.equal(['tcp :::8211 LISTEN', 'tcp 192.168.50.20:8211 ESTAB to 198.51.100.23']);
  });

  it('sockets without a state are those of the command that printed them', () => {
    const text = 'LocalAddress : 0.0.0.0\nLocalPort    : 8214\n\nLocalAddress : ::\nLocalPort    : 8214\n';
    expect(sockets(text, 'Get-NetUDPEndpoint | fl LocalAddress,LocalPort')).to.deep.equal([
      'udp 0.0.0.0:8214 UNCONN',
      'udp :::8214 UNCONN',
    ]);
    expect(sockets(text, 'Get-NetTCPConnection -State Listen | fl LocalAddress,LocalPort')).to.deep.equal([
      'tcp 0.0.0.0:8214 LISTEN',
      'tcp :::8214 LISTEN',
    ]);
    // Without the state that was asked for they may listen, or be one connection of many.
    expect(sockets(text, 'Get-NetTCPConnection | fl LocalAddress,LocalPort')).to.deep.equal([]);
    // Without the command nobody can tell which of the two they are.
    expect(sockets(text)).to.deep.equal([]);
    expect(reasons(text)).to.deep.equal(['socket-protocol', 'socket-protocol']);
  });

  it('a socket with a port that is none is a problem, and no socket', () => {
    const text =
      'LocalAddress   : 0.0.0.0\n' +
      'LocalPort      : http\n' +
      'RemoteAddress  : 0.0.0.0\n' +
      'RemotePort     : 0\n' +
      'State          : Listen\n';
    expect(sockets(text)).to.deep.equal([]);
    expect(reasons(text)).to.deep.equal(['socket-unreadable']);
  });

  it('a row of the firewall', () => {
    const own = row(RULE);
    expect(own.name).to.equal('Moorhen 8214');
    expect(own.enabled).to.deep.equal({ is: true });
    expect(own.action).to.deep.equal({ is: 'allow' });
    expect(own.direction).to.deep.equal({ is: 'in' });
    expect(own.protocol).to.deep.equal({ is: 'udp' });
    expect(own.localPorts).to.deep.equal({ is: '8214' });
  });

  const words: readonly (readonly [string, string, string, unknown])[] = [
    ['the action as a number', 'Action                  : Allow', 'Action                  : 2', 'allow'],
    ['a row that blocks', 'Action                  : Allow', 'Action                  : Block', 'block'],
  ];
  for (const [title, from, to, value] of words)
    it(title, () => expect(row(RULE.replace(from, to)).action).to.deep.equal({ is: value }));

  it('a word that is not known leaves its field open, never the whole row', () => {
    const own = row(RULE.replace('Action                  : Allow', 'Action                  : Notify'));
    expect(own.action).to.have.property('open');
    expect(own.protocol).to.deep.equal({ is: 'udp' });
  });

  it('what is not shown is open: rows print without their ports and addresses', () => {
    const own = row(RULE.split('\n').slice(0, 6).join('\n'));
    for (const field of ['protocol', 'localPorts', 'remoteAddresses', 'program'] as const)
      expect(own[field], field).to.have.property('open');
  });

  it('addresses: those that are still tried, or held twice, are not used', () => {
    const text = (state: string): string =>
      'IPAddress      : 192.168.50.20\nInterfaceAlias : Ethernet\nPrefixLength   : 24\n' +
      `AddressState   : ${state}\n`;
    const usable = (state: string): boolean[] =>
      facts(text(state)).flatMap((f) => (f.kind === 'address' ? [f.unusable !== true] : []));
    expect(usable('Preferred')).to.deep.equal([true]);
    for (const state of ['Tentative', 'Duplicate', 'Invalid'])
      expect(usable(state), state).to.deep.equal([false]);
  });

  it('addresses as a table: the number of their interface stands for its name', () => {
    const text =
      'ifIndex IPAddress        PrefixLength PrefixOrigin SuffixOrigin AddressState PolicyStore\n' +
      '------- ---------        ------------ ------------ ------------ ------------ -----------\n' +
      '11      192.168.50.20              24 Dhcp         Dhcp         Preferred    ActiveStore\n' +
      '12      169.254.7.7                16 WellKnown    Link         Tentative    ActiveStore\n';
    expect(
      facts(text).flatMap((f) =>
        f.kind === 'address' ? [`${f.interface} ${f.address}/${f.prefix} ${f.unusable ?? false}`] : [],
      ),
    ).to.deep.equal(['11 192.168.50.20/24 false', '12 169.254.7.7/16 true']);
  });
});
