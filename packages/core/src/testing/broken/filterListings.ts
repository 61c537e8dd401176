import { lines } from './listings.ts';
import type { FilterRow, Network } from './network.ts';

/** The server's filter; null: nobody can be asked for one there. */
export function rules(n: Network): Readonly<Record<string, string>> {
  switch (n.system) {
    case 'windows':
      return {
        'rules.txt': n.rules.map(windowsRow).join('\n') + '\nOk.\n',
        'profiles.txt': WINDOWS_PROFILES,
        'category.txt': CATEGORY,
      };
    case 'nft':
      return {
        'rules.txt': lines(
          'table inet filter {',
          '\tchain input {',
          '\t\ttype filter hook input priority filter; policy drop;',
          '\t\tct state established,related accept',
          '\t\tiif "lo" accept',
          ...n.rules.map(
            (r) =>
              `\t\t${r.source ? `ip saddr ${r.source} ` : ''}${r.protocol} dport ${r.port} ` +
              `${r.action === 'allow' ? 'accept' : 'drop'}`,
          ),
          '\t}',
          '}',
        ),
      };
    case 'iptables':
      return {
        'rules.txt': lines(
          '*filter',
          ':INPUT DROP [12:840]',
          ':FORWARD DROP [0:0]',
          ':OUTPUT ACCEPT [40:3200]',
          '-A INPUT -i lo -j ACCEPT',
          '-A INPUT -m conntrack --ctstate RELATED,ESTABLISHED -j ACCEPT',
          ...n.rules.map(
            (r) =>
              `-A INPUT ${r.source ? `-s ${r.source} ` : ''}-p ${r.protocol} -m ${r.protocol} --dport ` +
              `${r.port} -j ${r.action === 'allow' ? 'ACCEPT' : 'DROP'}`,
          ),
          'COMMIT',
        ),
      };
    case 'front-end':
      return {
        'rules.txt': lines(
          'Status: active',
          'Logging: on (low)',
          'Default: deny (incoming), allow (outgoing), disabled (routed)',
          'New profiles: skip',
          '',
          'To                         Action      From',
          '--                         ------      ----',
          ...n.rules.map(
            (r) =>
              `${r.port}/${r.protocol}`.padEnd(27) +
              `${r.action === 'allow' ? 'ALLOW IN' : 'DENY IN'}    ${r.source ?? 'Anywhere'}`,
          ),
        ),
      };
    case 'mac':
      return {
        'rules.txt': 'Firewall is disabled. (State = 0)\n',
        'filter.txt': 'Status: Disabled for 0 days 02:11:54           Debug: Urgent\n',
      };
  }
}

const windowsRow = (r: FilterRow): string =>
  lines(
    '',
    `Rule Name:                            ${r.name}`,
    '----------------------------------------------------------------------',
    'Enabled:                              Yes',
    'Direction:                            In',
    `Profiles:                             ${r.profiles ?? 'Domain,Private,Public'}`,
    'Grouping:                             ',
    'LocalIP:                              Any',
    `RemoteIP:                             ${r.source ?? 'Any'}`,
    `Protocol:                             ${r.protocol.toUpperCase()}`,
    `LocalPort:                            ${r.port}`,
    'RemotePort:                           Any',
    'Edge traversal:                       No',
    ...(r.program ? [`Program:                              ${r.program}`] : []),
    'InterfaceTypes:                       Any',
    'Security:                             NotRequired',
    'Rule source:                          Local Setting',
    `Action:                               ${r.action === 'allow' ? 'Allow' : 'Block'}`,
  ).trimEnd() + '\n';

const WINDOWS_PROFILES = ['Domain', 'Private', 'Public']
  .map((p) =>
    lines(
      '',
      `${p} Profile Settings: `,
      '----------------------------------------------------------------------',
      'State                                 ON',
      'Firewall Policy                       BlockInbound,AllowOutbound',
      'LocalFirewallRules                    N/A (GPO-store only)',
      'LocalConSecRules                      N/A (GPO-store only)',
      'InboundUserNotification               Enable',
      'RemoteManagement                      Disable',
      'UnicastResponseToMulticast            Enable',
      '',
      'Logging:',
      'LogAllowedConnections                 Disable',
      'LogDroppedConnections                 Disable',
      'FileName                              %systemroot%\\system32\\LogFiles\\Firewall\\pfirewall.log',
      'MaxFileSize                           4096',
      '',
    ),
  )
  .join('')
  .concat('Ok.\n');

const CATEGORY = lines(
  '',
  'Name                     : Pier',
  'InterfaceAlias           : Ethernet',
  'InterfaceIndex           : 12',
  'NetworkCategory          : Private',
  'DomainAuthenticationKind : None',
  'IPv4Connectivity         : Internet',
  'IPv6Connectivity         : NoTraffic',
  '',
);
