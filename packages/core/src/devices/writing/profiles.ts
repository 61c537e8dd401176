import { formatPrefix } from '../../net/index.ts';
import type { Rule } from '../../rules/index.ts';
import type { HostRow } from '../hostProfiles/settings.ts';
import type { Commands, RuleWish, Written } from './wish.ts';

/** One word for PowerShell: a quote inside single quotes is written twice (about_Quoting_Rules). */
export const powerShellWord = (text: string): string => `'${text.replaceAll(/['‘’]/g, '$&$&')}'`;

/** A row of the host firewall of Windows, for an administrator's PowerShell (NetSecurity module). */
export function profileRow({ transport, peers, port, side }: RuleWish, profile: string): Written | null {
  if (side === 'answer') return null;
  const from = peers ? ` from ${peers.map(formatPrefix).join(', ')}` : '';
  const name = powerShellWord(`${transport.toUpperCase()} ${port}${from}`);
  const scope = peers ? ` -RemoteAddress ${peers.map(formatPrefix).join(',')}` : '';
  return {
    text: `allow inbound ${transport.toUpperCase()} ${port}${from || ' from any'}, profile ${profile}`,
    commands: [
      `New-NetFirewallRule -DisplayName ${name} -Direction Inbound -Action Allow -Protocol ` +
        `${transport.toUpperCase()} -LocalPort ${port}${scope} -Profile ${powerShellWord(profile)}`,
    ],
    undo: [`Remove-NetFirewallRule -DisplayName ${name}`],
  };
}

/** A row whose addresses are others; its name is what the listing calls it. */
export function profileSources(name: string, now: readonly string[], mended: readonly string[]): Commands {
  const set = (list: readonly string[]): string =>
    `Set-NetFirewallRule -DisplayName ${powerShellWord(name)} -RemoteAddress ${list.join(',')}`;
  return { commands: [set(mended)], undo: [set(now)] };
}

/** One value of a row: what stands there now, and what belongs there. */
export interface HostRowChange {
  readonly part: 'profiles' | 'program' | 'protocol' | 'ports';
  readonly now: readonly string[];
  readonly mended: readonly string[];
}

const PARAMETER: Readonly<Record<HostRowChange['part'], string>> = {
  profiles: '-Profile',
  program: '-Program',
  protocol: '-Protocol',
  ports: '-LocalPort',
};

/** A row with one value changed, by its name; null where it has none. */
export function writeHostRow({ name }: HostRow, { part, now, mended }: HostRowChange): Commands | null {
  if (name === undefined) return null;
  const set = (list: readonly string[]): string =>
    `Set-NetFirewallRule -DisplayName ${powerShellWord(name)} ` +
    `${PARAMETER[part]} ${list.map(powerShellWord).join(',')}`;
  return { commands: [set(mended)], undo: [set(now)] };
}

/** A row that blocks wins over all that allow; it is switched off. */
export function profileOff(name: string): Commands {
  return {
    commands: [`Disable-NetFirewallRule -DisplayName ${powerShellWord(name)}`],
    undo: [`Enable-NetFirewallRule -DisplayName ${powerShellWord(name)}`],
  };
}

/** The name of a row in the text of its rule; null where it has none. */
export const rowName = ({ text }: Rule): string | null => /^row \d+ \((.+)\): /.exec(text)?.[1] ?? null;
