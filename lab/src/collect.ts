import { SETTINGS_SHELL } from '@bright-ferry/core/asks';
import type { Network } from './namespaces.ts';

type Listings = readonly (readonly [string, string])[];

/**
 * What a technician would ask for on a Linux machine, as JSON and as people read it: file name and command.
 * An empty rule set prints nothing as text, which says nothing; as JSON it says that it is empty.
 */
export const LISTINGS: Readonly<Record<'json' | 'text', Listings>> = {
  json: [
    ['addresses.json', 'ip -j addr'],
    ['routes.json', 'ip -4 -j route show table all'],
    ['routes6.json', 'ip -6 -j route show table all'],
    ['policy.json', 'ip -4 -j rule'],
    ['neighbours.json', 'ip -j neigh'],
    ['sockets.txt', 'ss -tulpn'],
    ['settings.txt', SETTINGS_SHELL],
    ['rules.json', 'nft -j list ruleset'],
  ],
  text: [
    ['addresses.txt', 'ip addr'],
    ['routes.txt', 'ip route'],
    ['routes6.txt', 'ip -6 route'],
    ['neighbours.txt', 'ip neigh'],
    ['sockets.txt', 'ss -tulpn'],
    ['settings.txt', SETTINGS_SHELL],
    [
      'rules.txt',
      'rules=$(nft -a list ruleset); if [ -n "$rules" ]; then echo "$rules"; else nft -j list ruleset; fi',
    ],
  ],
};

/** Rule sets of machines that are kept with iptables; an empty one of the other family prints nothing. */
export const IPTABLES: Listings = [
  ['iptables.txt', 'iptables-save'],
  ['ip6tables.txt', 'ip6tables-save'],
];

/** Collects a machine's evidence as files below `evidence/<stop>/`. */
export function collect(
  network: Network,
  machine: string,
  listings: Listings = LISTINGS.json,
): Map<string, string> {
  return new Map(
    listings.map(([file, command]) => [`evidence/${machine}/${file}`, network.run(machine, command)]),
  );
}
