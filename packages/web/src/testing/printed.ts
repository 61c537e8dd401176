/** What programs print, in short forms for tests. */

export const prompted = (prompt: string, command: string, output: string): string =>
  `${prompt}:~$ ${command}\n${output}`;

/** `ip addr`: interfaces with their addresses; without a link where that is said. */
export function interfaces(list: Readonly<Record<string, readonly string[]>>, linked = true): string {
  const flags = linked ? 'BROADCAST,MULTICAST,UP,LOWER_UP' : 'NO-CARRIER,BROADCAST,MULTICAST,UP';
  const own = Object.entries(list).map(
    ([name, addresses], i) =>
      `${i + 2}: ${name}: <${flags}> mtu 1500 qdisc fq_codel state ${linked ? 'UP' : 'DOWN'} group ` +
      'default qlen 1000\n' +
      `    link/ether ${linkAddress(addresses[0] ?? name)} brd ff:ff:ff:ff:ff:ff\n` +
      addresses
        .map((a) => `    inet ${a} scope global ${name}\n       valid_lft forever preferred_lft forever\n`)
        .join(''),
  );
  const loopback =
    '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 qdisc noqueue state UNKNOWN group default qlen 1000\n' +
    '    link/loopback 00:00:00:00:00:00 brd 00:00:00:00:00:00\n' +
    '    inet 127.0.0.1/8 scope host lo\n' +
    '       valid_lft forever preferred_lft forever\n';
  return loopback + own.join('');
}

/** A locally administered link address (IEEE 802), another one for every address. */
const linkAddress = (address: string): string => {
  const [, , third = '0', fourth = '0'] = address.split(/[./]/);
  return `02:48:4e:00:${[third, fourth].map((n) => Number(n).toString(16).padStart(2, '0')).join(':')}`;
};

/** `ip route`: a default route, and the network of an address of 24 bits. */
export const routes = (gateway: string, device: string, address: string): string =>
  `default via ${gateway} dev ${device}\n` +
  `${address.replace(/\.\d+\/24$/, '.0/24')} dev ${device} proto kernel scope link src ` +
  `${address.replace(/\/\d+$/, '')}\n`;

/** `ss -tulpn`: `tcp 0.0.0.0:80 pages`. */
export const listeners = (...list: readonly string[]): string =>
  `Netid State  Recv-Q Send-Q Local Address:Port  Peer Address:PortProcess\n${list
    .map((line, i) => {
      const [protocol, at, program] = line.split(' ');
      const state = protocol === 'tcp' ? 'LISTEN' : 'UNCONN';
      return (
        `${protocol}   ${state} 0      128          ${at}       0.0.0.0:*    ` +
        `users:(("${program}",pid=${i + 100},fd=3))\n`
      );
    })
    .join('')}`;

export const OPEN_FILTER =
  'table inet filter {\n\tchain input {\n' +
  '\t\ttype filter hook input priority filter; policy accept;\n\t}\n}\n';

const RULER = '-'.repeat(70);

/** One row of `netsh advfirewall firewall show rule name=all verbose`, in the fields that it prints. */
export function netshRow(row: {
  readonly name: string;
  readonly port: number;
  readonly action: 'Allow' | 'Block';
  readonly from?: string;
  readonly profiles?: string;
}): string {
  const field = (name: string, value: string): string => `${`${name}:`.padEnd(38)}${value}\n`;
  return [
    field('Rule Name', row.name),
    `${RULER}\n`,
    field('Enabled', 'Yes'),
    field('Direction', 'In'),
    field('Profiles', row.profiles ?? 'Domain,Private,Public'),
    field('Grouping', ''),
    field('LocalIP', 'Any'),
    field('RemoteIP', row.from ?? 'Any'),
    field('Protocol', 'TCP'),
    field('LocalPort', String(row.port)),
    field('RemotePort', 'Any'),
    field('Edge traversal', 'No'),
    field('Program', 'Any'),
    field('Service', 'Any'),
    field('InterfaceTypes', 'Any'),
    field('Security', 'NotRequired'),
    field('Action', row.action),
  ].join('');
}

/** `netsh advfirewall show allprofiles`: on, and nothing comes in that no row lets in. */
export const netshProfiles = (): string =>
  `\n${['Domain', 'Private', 'Public']
    .map(
      (name) =>
        `${name} Profile Settings: \n${RULER}\nState                                 ON\n` +
        'Firewall Policy                       BlockInbound,AllowOutbound\n',
    )
    .join('\n')}Ok.\n`;
