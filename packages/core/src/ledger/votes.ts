import { type CaseFacts, factsOf } from './caseFacts.ts';
import { saidOr, type Fact, type NoticeRecord } from '../facts/index.ts';
import type { Vote } from './whose.ts';
import {
  addressVotes,
  boundVotes,
  capturedVotes,
  loggedVotes,
  ownVotes,
  routeVotes,
  socketVotes,
} from './addressVotes.ts';
import { gatewaysOf, gatewayVotes, labelVotes } from './gatewayVotes.ts';
import { iptablesRole, nftRole, ruleVotes } from './ruleVotes.ts';

export function votesOf(
  fact: Fact,
  facts: CaseFacts,
  { host, gateway, client }: { host: string; gateway: string; client: string },
): Vote[] {
  switch (fact.kind) {
    case 'forward':
      return [
        ...gatewayVotes(saidOr(fact.target, ''), facts, gateway, 5, { by: 'forward-table' }),
        // A page says that forwards are kept in the carrier's portal: the table may be either one's.
        ...(saysPortal(facts) ? carrierVotes(facts, 5) : []),
      ];
    case 'portal-table':
      return carrierVotes(facts, 7);
    case 'lease':
      return gatewayVotes(fact.address, facts, gateway, 4, { by: 'leases' });
    case 'name':
      return [{ stop: client, weight: 5, why: { by: 'lookup' } }];
    case 'labelled':
      if (fact.what === 'server-address')
        return [{ stop: host, weight: 5, why: { by: 'names', what: 'server' } }];
      if (fact.what === 'client-address')
        return [{ stop: client, weight: 5, why: { by: 'names', what: 'client' } }];
      if (fact.what === 'own-address') return ownVotes(fact.value, facts, { host, gateway, client });
      if (gatewaysOf(facts).length > 1) return labelVotes(fact, facts, gateway);
      return fact.what === 'wan-address' ||
        fact.what === 'lan-address' ||
        fact.what === 'seen-address' ||
        fact.what === 'connection-kind'
        ? [{ stop: gateway, weight: 5, why: { by: 'page', label: fact.label } }]
        : [{ stop: gateway, weight: 2, why: { by: 'status-page' } }];
    case 'address':
      return addressVotes(fact.address, facts, { host, gateway, client });
    case 'socket':
      return [
        ...socketVotes(fact, facts, host),
        ...boundVotes(fact.address, facts, { host, gateway, client }),
      ];
    case 'route':
      return [
        ...(fact.to === 'default' && fact.hops[0]?.via
          ? routeVotes(fact.hops[0].via, facts, { host, gateway })
          : []),
        // The address that the machine itself sends from.
        ...(fact.src === undefined ? [] : addressVotes(fact.src, facts, { host, gateway, client })),
      ];
    case 'setting':
      return fact.key === 'net.ipv4.ip_forward'
        ? [
            {
              stop: fact.value === '1' ? gateway : host,
              weight: fact.value === '1' ? 3 : 2,
              why: { by: 'forwarding', on: fact.value === '1' },
            },
          ]
        : [];
    case 'nft':
      return ruleVotes(nftRole(fact.objects), { host, gateway });
    case 'iptables':
      return ruleVotes(iptablesRole(fact.tables), { host, gateway });
    case 'conversation':
      return capturedVotes(fact.value, facts, { host, gateway, client });
    case 'try':
      return loggedVotes(fact.value, facts, { host, gateway, client });
    case 'zone-rule':
    case 'address-mapping':
    case 'zone-line':
    case 'filter-order':
      return gatewaysOf(facts).map((stop) => ({ stop, weight: 4, why: { by: 'zone-page' } }));
    case 'mapping':
    case 'mapping-reply':
      return [{ stop: gateway, weight: 4, why: { by: 'mappings' } }];
    case 'outside-test':
      return [{ stop: client, weight: 4, why: { by: 'outside' } }];
    case 'program-setting':
    case 'program-bind':
    case 'program-port':
    case 'program-access':
    case 'announced':
    case 'unpublished-port':
    case 'kept-back':
    case 'data-ports':
    case 'listen':
      return [{ stop: host, weight: 3, why: { by: 'program' } }];
    case 'carrier-notice':
      return noticeVotes(fact.value, facts, gateway);
    case 'host-row':
    case 'host-profile':
    case 'active-profile':
    case 'bsd-rule':
    case 'front-end':
    case 'application-firewall':
    case 'application-blocks-all':
    case 'application':
      return [{ stop: host, weight: 4, why: { by: 'own-firewall' } }];
    case 'allow-row':
    case 'allow-nothing':
    case 'allow-refuses':
    case 'subnet-row':
      return edgeVotes(facts);
    case 'interface':
    case 'policy':
    case 'neighbour':
    case 'bsd-rules-listed':
    case 'bsd-enabled':
    case 'filter-row':
    case 'named-address':
    case 'external-address':
    case 'session':
    case 'outcome':
    case 'refused-client':
    case 'hops':
    case 'noted':
      return [];
  }
}

const saysPortal = (facts: CaseFacts): boolean =>
  factsOf(facts, 'carrier-notice').some((n) => n.fact.value.about === 'portal');

const carrierVotes = (facts: CaseFacts, weight: number): Vote[] =>
  facts.document.path
    .filter((s) => s.role === 'carrier')
    .map((s) => ({ stop: s.id, weight, why: { by: 'portal' } }));

/** A portal is named on a gateway's page; the rest a carrier writes. */
function noticeVotes({ about }: NoticeRecord, facts: CaseFacts, gateway: string): Vote[] {
  const carrier = facts.document.path.find((s) => s.role === 'carrier')?.id;
  const stop = about === 'portal' ? gateway : (carrier ?? gateway);
  return [{ stop, weight: 4, why: { by: 'notice' } }];
}

function edgeVotes(facts: CaseFacts): Vote[] {
  const edge = facts.document.path.find((s) => s.role === 'edge')?.id;
  return edge ? [{ stop: edge, weight: 5, why: { by: 'perimeter' } }] : [];
}
