import type { Network, Row } from './network.ts';

/** What the pages of routers, firewalls and clouds show, copied as text. */

const table = (rows: readonly (readonly (string | number)[])[]): string =>
  `${rows.map((r) => r.join('\t')).join('\n')}\n`;

export const pageOf = (wan: string, router: string): string =>
  table([
    ['Connection', 'connected'],
    ['WAN IP address', wan],
    ['DNS server', '192.0.2.53'],
    ['LAN IP address', router],
  ]);

export const status = (n: Network): string =>
  pageOf(n.surroundings === 'office' ? `${n.wan}/29` : n.wan, n.router);

export const rowsOf = (rows: readonly Row[]): string =>
  table([
    ['Name', 'Protocol', 'External port', 'Internal IP', 'Internal port', 'Allowed source', 'Enabled'],
    ...rows.map((r) => [
      r.name,
      r.protocol.toUpperCase(),
      r.port,
      r.to,
      r.toPort,
      r.source ?? 'any',
      r.enabled ? 'yes' : 'no',
    ]),
  ]);

export const forwards = (n: Network): string =>
  n.surroundings === 'office'
    ? table([
        ['Name', 'External IP', 'Internal IP', 'State'],
        [n.mapping.name, n.mapping.outside, n.mapping.inside, n.mapping.enabled ? 'on' : 'off'],
      ])
    : rowsOf(n.rows);

/** A firewall's page says in which order it looks at zones, addresses and translations. */
export const zoneRules = (n: Network): string =>
  'Rules are matched on zone and address after translation\n' +
  table([
    ['Name', 'From zone', 'To zone', 'Source', 'Destination', 'Service', 'Action', 'Enabled'],
    ...n.zoneRules.map((r) => [
      r.name,
      'outside',
      r.toZone ?? 'inside',
      r.source ?? 'any',
      'any',
      `${r.protocol} ${r.port}`,
      r.action,
      'yes',
    ]),
  ]);

export const zoneLines = (n: Network): string =>
  table([
    ['Interface', 'Zone', 'Address', 'State'],
    ['port1', 'outside', `${n.wan}/29`, 'up'],
    ['port2', 'inside', `${n.router}/24`, 'up'],
    ['port3', 'dmz', '10.99.0.1/24', 'up'],
  ]);

export const leases = (n: Network): string =>
  table([
    ['Device', 'MAC address', 'IP address'],
    ['server', n.system === 'mac' ? '3c:22:fb:10:20:30' : '52:54:00:12:34:56', n.server],
    ...Object.entries(n.others).map(([name, address], i) => [name, `52:54:00:12:35:0${i}`, address]),
  ]);

export const allowList = (n: Network): string =>
  table([
    ['Name', 'Direction', 'Protocol', 'Port range', 'Source'],
    ...n.allow.map((r) => [r.name, 'inbound', r.protocol.toUpperCase(), r.port, r.source ?? '0.0.0.0/0']),
  ]);

export const lookup = (n: Network): string =>
  `; <<>> DiG 9.18.28 <<>> ${n.name}\n;; ANSWER SECTION:\n` +
  `${n.name}.\t\t300\tIN\tA\t${n.answer}\n\n;; Query time: 11 msec\n`;
