import { expect } from 'chai';
import { ASKS, COMMANDS, isAskKind, posixCollector, powershellCollector, shellLine } from './index.ts';

describe('the table of asks', () => {
  it('names every kind once', () => {
    expect(new Set(ASKS).size).to.equal(ASKS.length);
    expect(Object.keys(COMMANDS).sort()).to.deep.equal([...ASKS].sort());
    expect(isAskKind('sockets')).to.equal(true);
    expect(isAskKind('constructor')).to.equal(false);
  });

  it('gives one line for a shell, with the right to see everything where that is needed', () => {
    expect(shellLine('sockets', 'linux')).to.equal('sudo ss -tulpn');
    expect(shellLine('addresses', 'linux')).to.equal('ip addr; ip route');
    expect(shellLine('rules', 'linux')).to.equal(
      'sudo nft -j list ruleset || { sudo iptables-save; sudo ip6tables-save; }',
    );
    expect(shellLine('forwards', 'linux')).to.equal('sudo nft -j list ruleset || sudo iptables-save');
    expect(shellLine('sockets', 'windows')).to.equal('netstat -abno');
    expect(shellLine('rules', 'windows')).to.match(/^netsh advfirewall show allprofiles; netsh .*; Get-Net/);
    expect(shellLine('leases', 'macos')).to.equal(null);
    expect(shellLine('allow-list', 'linux')).to.equal(null);
  });

  it('asks of the reverse-path check for every interface, since the larger of two values counts', () =>
    expect(shellLine('routes', 'linux')).to.contain('rp_filter'));

  it('holds commands alone that only read', () => {
    for (const ask of ASKS)
      for (const commands of Object.values(COMMANDS[ask]))
        for (const { text, orElse = [] } of commands)
          for (const line of [text, ...orElse.map((o) => o.text)])
            expect(line, ask).to.not.match(/\b(?:add|del|delete|flush|insert|set|rm|restore|reset)\b|>/);
  });
});

describe('the collect scripts', () => {
  it('run every command of the asks that tell about a machine, once', () => {
    const script = posixCollector();
    for (const ask of ['addresses', 'routes', 'neighbours', 'sockets', 'rules', 'leases'] as const)
      for (const { text, orElse = [] } of COMMANDS[ask].linux ?? [])
        for (const command of [text, ...orElse.map((o) => o.text)]) {
          const times = script
            .split('\n')
            .filter((l) => l.startsWith('run ') && l.endsWith(` ${command}`)).length;
          expect(times, command).to.equal(1);
        }
    expect(script).to.contain("run 'sysctl (forwarding, reverse path)' sysctl -a");
  });

  it('say what they run, where they end, and that they only read', () => {
    expect(posixCollector())
      .to.match(/^#!\/bin\/sh\n(?:# .*\n)*# .*only reads/)
      .and.to.contain('= end =');
    const windows = powershellCollector();
    for (const command of [
      'ipconfig /all',
      'route print',
      'arp -a',
      'netstat -abno',
      'Get-NetConnectionProfile',
    ])
      expect(windows, command).to.contain(`Write-Output '= ${command} ='\n${command} | Out-String`);
    expect(windows).to.contain("Write-Output '= end ='");
  });
});
