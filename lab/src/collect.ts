import { COMMANDS, type AskKind } from '@bright-ferry/core/asks';
import type { Network } from './namespaces.ts';

type Listings = readonly (readonly [string, string])[];

/** What the tool asks owners for, each with the very command that it gives them. */
const ASKED: readonly AskKind[] = ['addresses', 'routes', 'neighbours', 'sockets', 'rules'];

const asked: Listings = ASKED.flatMap((ask) =>
  (COMMANDS[ask].linux ?? []).map(({ text }, i): readonly [string, string] => [`${ask}${i}.txt`, text]),
);

const SETTINGS = COMMANDS.routes.linux?.find((c) => c.text.startsWith('sysctl'))?.text ?? '';

/**
 * The listings of a Linux machine: as the tool asks for them, and as JSON where programs print it, with the
 * rule set as people read it. An empty rule set prints nothing as text, which says nothing; as JSON it says
 * that it is empty.
 */
export const LISTINGS: Readonly<Record<'json' | 'text', Listings>> = {
  json: [
    ['addresses.json', 'ip -j addr'],
    ['routes.json', 'ip -4 -j route show table all'],
    ['routes6.json', 'ip -6 -j route show table all'],
    ['policy.json', 'ip -4 -j rule'],
    ['neighbours.json', 'ip -j neigh'],
    ['sockets.txt', 'ss -tulpn'],
    ['settings.txt', SETTINGS],
    [
      'rules.txt',
      'rules=$(nft -a list ruleset); if [ -n "$rules" ]; then echo "$rules"; else nft -j list ruleset; fi',
    ],
  ],
  text: asked,
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

/** The entry of a case for a collected piece: with the command that printed it. */
export function entryOf(file: string): { stop: string; file: string; command?: string } {
  const [, stop = '', name = ''] = file.split('/');
  const command = [...LISTINGS.json, ...LISTINGS.text, ...IPTABLES].find(([own]) => own === name)?.[1];
  return { stop, file, ...(command === undefined ? {} : { command }) };
}
