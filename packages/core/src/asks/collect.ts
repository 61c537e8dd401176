import { COMMANDS, type Command, type Shell } from './commands.ts';
import type { AskKind } from './kinds.ts';
import { SETTINGS_SHELL } from './settings.ts';

/** What the scripts ask a machine for, in this order. */
const GATHERED: readonly AskKind[] = ['addresses', 'routes', 'neighbours', 'sockets', 'rules', 'leases'];

/** What belongs to no ask and often tells something: name servers and published ports of containers. */
const BESIDES: Readonly<Record<Shell, readonly Command[]>> = {
  linux: [{ text: 'cat /etc/resolv.conf' }, { text: 'docker ps' }, { text: 'podman ps' }],
  windows: [],
  macos: [],
};

/** Every command once, with those that stand in for one that may be missing. */
function commandsFor(shell: Shell): string[] {
  const all = GATHERED.flatMap((ask) => COMMANDS[ask][shell] ?? []);
  return [
    ...new Set([...all, ...BESIDES[shell]].flatMap((c) => [c.text, ...(c.orElse ?? []).map((o) => o.text)])),
  ];
}

/** The heading under which the output of a command stands. */
const titleOf = (command: string): string =>
  command === SETTINGS_SHELL ? 'sysctl (forwarding, reverse path)' : command;

/**
 * A script for a POSIX shell: says what it runs, runs it, changes nothing, leaves nothing out. Its output is
 * one paste.
 */
export function posixCollector(): string {
  const steps = commandsFor('linux')
    .map((command) => `run ${quoted(titleOf(command))} ${command}`)
    .join('\n');
  return `#!/bin/sh
# Gathers what is needed to find out why a server cannot be reached.
# It only reads: every command is printed before it runs.
# Run it as root (sudo sh collect.sh), or firewall rules and program names stay hidden.
# Send everything that it prints.
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
  const steps = commandsFor('windows')
    .map((c) => `Write-Output ''\nWrite-Output '= ${c} ='\n${c} | Out-String -Width 400`)
    .join('\n');
  return `# Gathers what is needed to find out why a server cannot be reached.
# It only reads: every command is printed before it runs.
# Run it in an administrator's PowerShell, or some rules stay hidden. Send everything that it prints.
${steps}
Write-Output ''
Write-Output '= end ='
`;
}
