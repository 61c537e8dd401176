import { caseSite, forwardingGateway, serverEvidence } from './case.ts';

/** A server's host firewall as netsh and the shell's cmdlets print it, behind a gateway with a forward. */

const portLines = (port: string): string =>
  `LocalPort:                            ${port}\nRemotePort:                           Any\n`;

/** A row as the long listing prints it. */
export const row = (
  name: string,
  {
    enabled = 'Yes',
    direction = 'In',
    profiles = 'Domain,Private,Public',
    remote = 'Any',
    protocol = 'TCP',
    port = '8214',
    program = 'Any',
    action = 'Allow',
    security = 'NotRequired',
  } = {},
): string => `
Rule Name:                            ${name}
----------------------------------------------------------------------
Description:                          Radio for the harbour hall
Enabled:                              ${enabled}
Direction:                            ${direction}
Profiles:                             ${profiles}
Grouping:                             
LocalIP:                              Any
RemoteIP:                             ${remote}
Protocol:                             ${protocol}
${protocol === 'TCP' || protocol === 'UDP' ? portLines(port) : ''}Edge traversal:                       No
Program:                              ${program}
InterfaceTypes:                       Any
Security:                             ${security}
Rule source:                          Local Setting
Action:                               ${action}
`;
/** The same without the lines that only the long listing has. */
export const brief = (text: string): string =>
  text
    .split('\n')
    .filter((l) => !/^(Description|Program|InterfaceTypes|Security|Rule source)/.test(l))
    .join('\n');
/** The rest of a whole firewall: rows of other programs. */
export const OTHERS = Array.from({ length: 50 }, (_, i) =>
  row(`Other ${i}`, { port: String(50_000 + i), program: `C:\\Other\\other${i}.exe` }),
).join('');
export const PROFILES = (state: string): string =>
  ['Domain', 'Private', 'Public']
    .map(
      (p) =>
        '\n' +
        `${p} Profile Settings: \n` +
        '----------------------------------------------------------------------\n' +
        `State                                 ${state}\n` +
        'Firewall Policy                       BlockInbound,AllowOutbound\n' +
        'LocalFirewallRules                    N/A (GPO-store only)\n',
    )
    .join('') + 'Ok.\n';
export const PRIVATE =
  'Name             : hall\nInterfaceAlias   : eno1\nNetworkCategory  : Private\n' +
  'IPv4Connectivity : Internet\n';

/** A listing of firewall rows that begins with this is only a part of them. */
export const PART = 'PS C:\\> netsh advfirewall firewall show rule name=Radio verbose\n';

export const at = (files: Record<string, string>) =>
  caseSite(
    [
      { id: 'client', role: 'client' },
      { id: 'carrier', role: 'carrier' },
      forwardingGateway(),
      { id: 'host', role: 'host' },
    ],
    { ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast'], ''), ...files },
  );
