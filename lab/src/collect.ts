import type { Network } from './namespaces.ts';

/** What a technician would ask for on a Linux machine: file name and command. */
const LISTINGS: readonly (readonly [string, string])[] = [
  ['addresses.json', 'ip -j addr'],
  ['routes.json', 'ip -4 -j route show table all'],
  ['routes6.json', 'ip -6 -j route show table all'],
  ['policy.json', 'ip -4 -j rule'],
  ['neighbours.json', 'ip -j neigh'],
  ['sockets.txt', 'ss -tulpn'],
  ['settings.txt', 'sysctl net.ipv4.ip_forward net.ipv6.conf.all.forwarding $(sysctl -N -a 2>/dev/null | grep -E "^net.ipv4.conf.*.(rp_filter|route_localnet)$")'],
  ['rules.json', 'nft -j list ruleset'],
];

/** Collects a machine's evidence as files below `evidence/<stop>/`. */
export function collect(network: Network, machine: string, listings = LISTINGS): Map<string, string> {
  return new Map(listings.map(([file, command]) => [`evidence/${machine}/${file}`, network.run(machine, command)]));
}
