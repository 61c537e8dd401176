import type { BrokenCase, OwnerAnswer } from './owner.ts';
import type { FilterRow, Network, Row } from './network.ts';

/** The same network as somebody would fill it in on forms, instead of copying pages and listings. */

const lines = (wan: string, router: string) => [
  { name: 'wan', side: 'outside', addresses: [wan] },
  { name: 'lan', side: 'inside', addresses: [`${router}/24`] },
];

const forwardTable = (wan: string, router: string, rows: readonly Row[]) => ({
  kind: 'forward-table',
  interfaces: lines(wan, router),
  rows: rows.map((r) => ({
    name: r.name,
    protocol: r.protocol,
    ports: r.port,
    to: r.to,
    toPort: r.toPort,
    enabled: r.enabled,
    ...(r.source === null ? {} : { sources: [r.source] }),
  })),
  ownPorts: [],
});

const zoneFirewall = ({ wan, router, mapping, zoneRules }: Network) => ({
  kind: 'zone-firewall',
  interfaces: [
    { name: 'port1', side: 'outside', zone: 'outside', addresses: [`${wan}/29`] },
    { name: 'port2', side: 'inside', zone: 'inside', addresses: [`${router}/24`] },
    { name: 'port3', side: 'inside', zone: 'dmz', addresses: ['10.99.0.1/24'] },
  ],
  translations: [{ type: 'one-to-one', twoWay: true, ...mapping }],
  rules: zoneRules.map((r) => ({
    name: r.name,
    action: r.action === 'allow' ? 'allow' : 'drop',
    fromZone: 'outside',
    toZone: r.toZone ?? 'inside',
    ...(r.source === null ? {} : { sources: [r.source] }),
    services: [`${r.protocol}/${r.port}`],
  })),
  otherwise: 'drop',
  destinationSeen: 'after',
  zoneSeen: 'after',
});

const allowList = ({ allow }: Network) => ({
  kind: 'allow-list',
  lists: [
    {
      name: 'main',
      rows: allow.map((r) => ({
        name: r.name,
        protocol: r.protocol,
        ports: r.port,
        sources: [r.source ?? 'any'],
      })),
    },
  ],
});

const BLOCK = { in: 'block', out: 'allow' };
const hostProfiles = (rules: readonly FilterRow[]) => ({
  kind: 'host-profiles',
  active: 'private',
  profiles: { domain: BLOCK, private: BLOCK, public: BLOCK },
  silentWhenClosed: true,
  rows: rules.map((r) => ({
    name: r.name,
    direction: 'in',
    action: r.action === 'allow' ? 'allow' : 'block',
    protocol: r.protocol,
    localPorts: `${r.port}`,
    profiles: (r.profiles ?? 'Private').toLowerCase().split(','),
    ...(r.program === undefined ? {} : { program: r.program }),
    ...(r.source === null ? {} : { sources: [r.source] }),
  })),
});

/** What would be filled in for a stop; null: nothing. */
function settingsOf(n: Network, stop: string): object | null {
  if (stop === 'host') return n.system === 'windows' ? hostProfiles(n.rules) : null;
  if (stop === 'edge') return allowList(n);
  if (stop === 'outer' && n.outer) return forwardTable(n.outer.wan, n.outer.router, n.outer.rows);
  if (stop !== 'gateway' || n.relay) return null;
  return n.surroundings === 'office' ? zoneFirewall(n) : forwardTable(n.wan, n.router, n.rows);
}

/** A broken network with its devices filled in; their owner is asked for nothing of what stands there. */
export function filledIn({ network, document, answers, ...rest }: BrokenCase): BrokenCase {
  const path = (document['path'] as readonly { readonly id: string }[]).map((stop) => {
    const settings = settingsOf(network, stop.id);
    return settings ? { ...stop, settings } : stop;
  });
  const isFilled = (a: OwnerAnswer): boolean =>
    a.stop === 'host' ? a.yields === 'rules' && network.system === 'windows' : a.stop !== 'client';
  return {
    ...rest,
    network,
    document: { ...document, path },
    answers: answers.filter((a) => !isFilled(a) || (a.stop === 'gateway' && network.relay !== null)),
  };
}
