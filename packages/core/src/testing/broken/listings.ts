import { withLast } from './lots.ts';
import type { Listener, Network } from './network.ts';

/** What the server's own programs print, by its system. */
export const lines = (...list: readonly string[]): string => `${list.join('\n')}\n`;
const net = (address: string): string => withLast(address, () => 0);

export function addresses(n: Network): string {
  if (n.system === 'windows')
    return lines(
      'Windows IP Configuration',
      '',
      '',
      'Ethernet adapter Ethernet:',
      '',
      '   Connection-specific DNS Suffix  . : ',
      `   IPv4 Address. . . . . . . . . . . : ${n.server}`,
      '   Subnet Mask . . . . . . . . . . . : 255.255.255.0',
      `   Default Gateway . . . . . . . . . : ${n.gateway ?? ''}`,
    );
  if (n.system === 'mac')
    return lines(
      'lo0: flags=8049<UP,LOOPBACK,RUNNING,MULTICAST> mtu 16384',
      '\tinet 127.0.0.1 netmask 0xff000000',
      'en0: flags=8863<UP,BROADCAST,SMART,RUNNING,SIMPLEX,MULTICAST> mtu 1500',
      '\tether 3c:22:fb:10:20:30',
      `\tinet ${n.server} netmask 0xffffff00 broadcast ${withLast(n.server, () => 255)}`,
      '\tmedia: autoselect (1000baseT <full-duplex>)',
      '\tstatus: active',
    );
  return lines(
    '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 qdisc noqueue state UNKNOWN group default qlen 1000',
    '    link/loopback 00:00:00:00:00:00 brd 00:00:00:00:00:00',
    '    inet 127.0.0.1/8 scope host lo',
    '       valid_lft forever preferred_lft forever',
    '2: ens3: <BROADCAST,MULTICAST,UP,LOWER_UP> mtu 1500 qdisc fq_codel state UP group default qlen 1000',
    '    link/ether 52:54:00:12:34:56 brd ff:ff:ff:ff:ff:ff',
    `    inet ${n.server}/24 brd ${withLast(n.server, () => 255)} scope global ens3`,
    '       valid_lft forever preferred_lft forever',
    ...(n.relay
      ? [
          '3: ferry0: <POINTOPOINT,NOARP,UP,LOWER_UP> mtu 1420 qdisc noqueue state UNKNOWN group ' +
            'default qlen 1000',
          '    link/none',
          `    inet ${n.relay.end}/24 scope global ferry0`,
          '       valid_lft forever preferred_lft forever',
        ]
      : []),
  );
}

export function routes(n: Network): string {
  if (n.system === 'windows') {
    const row = (to: string, mask: string, by: string, from: string, metric: number): string =>
      [to, mask, by, from].map((cell) => cell.padStart(17)).join('') + String(metric).padStart(7);
    return lines(
      '===========================================================================',
      'Interface List',
      ' 12...04 42 1a 0b 3c 5d ......Gigabit Network Connection',
      '  1...........................Software Loopback Interface 1',
      '===========================================================================',
      '',
      'IPv4 Route Table',
      '===========================================================================',
      'Active Routes:',
      'Network Destination        Netmask          Gateway       Interface  Metric',
      ...(n.gateway ? [row('0.0.0.0', '0.0.0.0', n.gateway, n.server, 25)] : []),
      row('127.0.0.0', '255.0.0.0', 'On-link', '127.0.0.1', 331),
      row(net(n.server), '255.255.255.0', 'On-link', n.server, 281),
      row(n.server, '255.255.255.255', 'On-link', n.server, 281),
      '===========================================================================',
      'Persistent Routes:',
      '  None',
      '',
    );
  }
  if (n.system === 'mac')
    return lines(
      'Routing tables',
      '',
      'Internet:',
      'Destination        Gateway            Flags               Netif Expire',
      ...(n.gateway ? [`default            ${n.gateway.padEnd(18)} UGScg                 en0`] : []),
      '127                127.0.0.1          UCS                   lo0',
      '127.0.0.1          127.0.0.1          UH                    lo0',
      `${net(n.server).replace(/\.0$/, '').padEnd(18)} link#4             UCS                   en0      !`,
    );
  return lines(
    ...(n.gateway ? [`default via ${n.gateway} dev ens3 proto static`] : []),
    ...(n.relay ? [`${net(n.relay.end)}/24 dev ferry0 proto kernel scope link src ${n.relay.end}`] : []),
    `${net(n.server)}/24 dev ens3 proto kernel scope link src ${n.server}`,
  );
}

export function sockets(n: Network): string {
  if (n.system === 'windows')
    return lines(
      '',
      'Active Connections',
      '',
      '  Proto  Local Address          Foreign Address        State',
      ...n.listeners.flatMap(({ protocol, at, port, program }) => [
        `  ${protocol.toUpperCase().padEnd(7)}${`${at === '*' ? '0.0.0.0' : at}:${port}`.padEnd(23)}` +
          (protocol === 'tcp' ? '0.0.0.0:0              LISTENING' : '*:*'),
        ` [${program}.exe]`,
      ]),
    );
  if (n.system === 'mac')
    return lines(
      'Active Internet connections (including servers)',
      'Proto Recv-Q Send-Q  Local Address          Foreign Address        (state)',
      'udp4       0      0  *.5353                 *.*',
      ...n.listeners.map(
        ({ protocol, at, port }) =>
          `${protocol}4       0      0  ${`${at}.${port}`.padEnd(22)} *.*                    ` +
          `${protocol === 'tcp' ? 'LISTEN' : ''}`,
      ),
    );
  const row = ({ protocol, at, port, program }: Listener, i: number): string =>
    `${protocol.padEnd(5)} ${protocol === 'tcp' ? 'LISTEN' : 'UNCONN'} 0      128    ` +
    `${at === '*' ? '0.0.0.0' : at}:${port}  0.0.0.0:*  users:(("${program}",pid=${800 + i},fd=7))`;
  return lines(
    'Netid State  Recv-Q Send-Q Local Address:Port  Peer Address:Port Process',
    ...n.listeners.map(row),
  );
}
