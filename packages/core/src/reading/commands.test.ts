import { expect } from 'chai';
import { selectionOf } from './commands.ts';

const said = (command: string): string[] | 'everything' => {
  const left = selectionOf(command);
  return left === 'everything' ? left : [...left].sort();
};

describe('what a command leaves out of what its program could show', () => {
  it('nothing where it asks for all', () => {
    for (const command of [
      'ss -tulpn',
      'sudo ss -lntu',
      'ss -l',
      'tech@server:~$ ss -tulpn',
      'netstat -an',
      'netstat -tulpn',
      'netstat -anp inet',
      'nft list ruleset',
      'sudo /usr/sbin/nft -a list ruleset',
      'iptables -S',
      'iptables-save',
      'ip addr',
      'ip route show table all',
      'ufw status verbose',
      'Get-NetFirewallRule -Enabled True -Direction Inbound',
      'netsh advfirewall firewall show rule name=all dir=in',
    ])
      expect(said(command), command).to.deep.equal([]);
  });

  it('one transport where it asks for the other (ss(8), netstat(8))', () => {
    expect(said('ss -tlnp')).to.deep.equal(['sockets-udp']);
    expect(said('ss -ulnp')).to.deep.equal(['sockets-tcp']);
    expect(said('netstat -anp tcp')).to.deep.equal(['sockets-udp']);
    expect(said('Get-NetTCPConnection -State Listen')).to.deep.equal(['sockets-udp']);
    expect(said('Get-NetTCPConnection | Select-Object LocalAddress,LocalPort')).to.deep.equal([
      'sockets-udp',
    ]);
    expect(said('Get-NetUDPEndpoint')).to.deep.equal(['sockets-tcp']);
    expect(said('ss -tlnp; ip addr')).to.deep.equal(['sockets-udp']);
  });

  it('what listens where neither -l nor -a stands', () => {
    expect(said('ss -tunp')).to.deep.equal(['sockets-tcp', 'sockets-udp']);
    expect(said('netstat -n')).to.deep.equal(['sockets-tcp', 'sockets-udp']);
  });

  it('anything where rows are picked', () => {
    for (const command of [
      'ss -tulpn | grep 8214',
      'netstat -an | findstr LISTENING',
      'ss -4tulpn',
      "ss -tlnp 'sport = :8214'",
      'netstat -ano | Select-String 8214',
      'Get-NetTCPConnection | where State -eq Listen',
      'Get-NetTCPConnection -LocalPort 8214',
      'Get-NetFirewallRule -DisplayName Gullcast',
      'Get-NetFirewallRule | Select-Object -First 5',
      'nft list table inet filter',
      'iptables -S INPUT',
      'ip route get 198.51.100.23',
      'lsof -i :8214',
      'firewall-cmd --list-ports',
      'ip addr && ss -tulpn | head',
    ])
      expect(said(command), command).to.equal('everything');
  });
});
