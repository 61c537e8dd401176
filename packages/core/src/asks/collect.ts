import { SETTINGS_SHELL } from './settings.ts';

/** Read-only commands that together tell everything about a machine that can be asked for. */
const POSIX: readonly (readonly [string, string])[] = [
  ['ip addr', 'ip addr'],
  ['ip route show table all', 'ip route show table all'],
  ['ip -6 route show table all', 'ip -6 route show table all'],
  ['ip rule', 'ip rule'],
  ['ip neigh', 'ip neigh'],
  ['sysctl (forwarding, reverse path)', SETTINGS_SHELL],
  ['ss -tulpn', 'ss -tulpn'],
  ['nft list ruleset', 'nft list ruleset'],
  ['iptables-save', 'iptables-save'],
  ['ip6tables-save', 'ip6tables-save'],
  ['cat /etc/resolv.conf', 'cat /etc/resolv.conf'],
  ['docker ps', 'docker ps'],
  ['podman ps', 'podman ps'],
  ['leases', 'cat /var/lib/misc/dnsmasq.leases'],
];

/** A script for a POSIX shell: says what it runs, runs it, changes nothing, leaves nothing out. Its output is one paste. */
export function posixCollector(): string {
  const steps = POSIX.map(([title, command]) => `run ${quoted(title)} ${command}`).join('\n');
  return `#!/bin/sh
# Gathers what is needed to find out why a server cannot be reached. It only reads: every command is printed before it runs.
# Run it as root (sudo sh collect.sh), or firewall rules and program names stay hidden. Send everything that it prints.
PATH="$PATH:/usr/sbin:/sbin"
export PATH
LC_ALL=C
export LC_ALL
run() {
  title=$1
  shift
  if command -v "$1" >/dev/null 2>&1; then
    printf '\\n= %s =\\n' "$title"
    "$@" 2>&1
  else
    printf '\\n= %s =\\n%s: not on this machine\\n' "$title" "$1"
  fi
}
${steps}
printf '\\n= end =\\n'
`;
}

const quoted = (text: string): string => `'${text.replaceAll("'", "'\\''")}'`;

/** The same for PowerShell. */
export function powershellCollector(): string {
  const steps: readonly (readonly [string, string])[] = [
    ['ipconfig /all', 'ipconfig /all'],
    ['route print', 'route print'],
    ['netstat -ano', 'netstat -ano'],
    ['network profiles', 'Get-NetConnectionProfile | Format-List Name,InterfaceAlias,NetworkCategory'],
    ['firewall rules', 'netsh advfirewall firewall show rule name=all verbose'],
    ['firewall profiles', 'netsh advfirewall show allprofiles'],
  ];
  return `# Gathers what is needed to find out why a server cannot be reached. It only reads: every command is printed before it runs.
# Run it in an administrator's PowerShell, or some rules stay hidden. Send everything that it prints.
${steps.map(([title, command]) => `Write-Output ''\nWrite-Output '= ${title} ='\n${command} | Out-String -Width 400`).join('\n')}
Write-Output ''
Write-Output '= end ='
`;
}
