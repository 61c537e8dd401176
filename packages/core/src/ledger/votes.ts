import { last } from '../place/index.ts';
import { parseDialled } from '../intake/index.ts';
import type { IptablesTable, NftObject } from '../devices/index.ts';
import { addressKind, isReachable, parseAddress, prefixContains, prefixOf } from '../net/index.ts';
import { type CaseFacts, factsOf } from './caseFacts.ts';
import {
  saidOr,
  type Fact,
  type ConversationRecord,
  type NoticeRecord,
  type TryRecord,
} from '../facts/index.ts';
import { labelledAddress } from './labelled.ts';

/** Why a piece of evidence is taken to be from a stop, as data; the sentence is in `words/placing.ts`. */
export type Whose =
  | {
      readonly by:
        | 'forward-table'
        | 'zone-page'
        | 'portal'
        | 'leases'
        | 'lookup'
        | 'status-page'
        | 'mappings'
        | 'outside';
    }
  | { readonly by: 'program' | 'own-firewall' | 'perimeter' | 'only-machine' | 'translates' | 'guards' }
  | { readonly by: 'listeners' | 'nothing' | 'notice' | 'own-settings' }
  | { readonly by: 'names'; readonly what: 'server' | 'client' }
  | { readonly by: 'page'; readonly label: string }
  | { readonly by: 'forwarding'; readonly on: boolean }
  | { readonly by: 'inside-network' | 'holds' | 'default-gateway-of-other'; readonly address: string }
  | { readonly by: 'forward-target' | 'dialled' | 'gateway-is-inside-address'; readonly address: string }
  | {
      readonly by: 'outside-kind' | 'address-kind';
      readonly address: string;
      readonly reachable: boolean;
    }
  | { readonly by: 'packets' | 'log'; readonly to: string }
  | {
      readonly by: 'address-of';
      readonly what: 'client' | 'server' | 'gateway';
      readonly address: string;
    }
  | { readonly by: 'same-address'; readonly address: string; readonly stop: string }
  | { readonly by: 'listener'; readonly program: string | null; readonly port: number }
  | { readonly by: 'gateway-in-network'; readonly stop: string }
  /** A prompt names the machine that another piece, or the stop's own name, is of. */
  | { readonly by: 'prompt'; readonly host: string }
  | { readonly by: 'gateway-kind'; readonly reachable: boolean };

interface Vote {
  readonly stop: string;
  readonly weight: number;
  readonly why: Whose;
}

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

const gatewaysOf = (facts: CaseFacts): string[] =>
  facts.document.path.filter((s) => s.role === 'gateway').map((s) => s.id);

/** Of several gateways the one on whose inside network an address lies; where that is not known, ask. */
function gatewayVotes(inside: string, facts: CaseFacts, gateway: string, weight: number, why: Whose): Vote[] {
  const gateways = gatewaysOf(facts);
  if (gateways.length < 2) return [{ stop: gateway, weight, why }];
  const near = gateways.find((id) => holdsNetwork(facts, id, inside));
  return near
    ? [{ stop: near, weight, why: { by: 'inside-network', address: inside } }]
    : gateways.map((stop) => ({ stop, weight: 2, why }));
}

/** Whether an address lies on the inside network that a gateway has named. */
function holdsNetwork(facts: CaseFacts, gateway: string, text: string): boolean {
  const address = parseAddress(text);
  const lan = labelledAddress(facts, gateway, 'lan-address');
  if (!address) return false;
  const nets = [
    ...(lan ? [prefixOf(lan.address, lan.prefix ?? 24)] : []),
    ...factsOf(facts, 'address')
      .filter((a) => a.stop === gateway && a.fact.prefix < 31)
      .map((a) => prefixOf(parseAddress(a.fact.address)!, a.fact.prefix)),
  ];
  return nets.some((net) => !isReachable(address) && prefixContains(net, address));
}

/** A line of a status page, where several gateways may have printed it. */
function labelVotes(fact: Extract<Fact, { kind: 'labelled' }>, facts: CaseFacts, gateway: string): Vote[] {
  const gateways = gatewaysOf(facts);
  const address = parseAddress(fact.value);
  const owner = gateways.find((id) =>
    (['wan-address', 'lan-address'] as const).some(
      (what) => labelledAddress(facts, id, what)?.address.bits === address?.bits,
    ),
  );
  if (owner && (fact.what === 'wan-address' || fact.what === 'lan-address'))
    return [{ stop: owner, weight: 6, why: { by: 'holds', address: fact.value } }];
  if (fact.what === 'wan-address' && address)
    return isReachable(address)
      ? [{ stop: gateway, weight: 4, why: { by: 'outside-kind', address: fact.value, reachable: true } }]
      : [
          {
            stop: last(gateways),
            weight: 4,
            why: { by: 'outside-kind', address: fact.value, reachable: false },
          },
        ];
  return gateways.map((stop) => ({ stop, weight: 1, why: { by: 'page', label: fact.label } }));
}

/**
 * Where packets of the service go to the server's own address, the capture is from there or just before it;
 * else a guess.
 */
function capturedVotes(
  { forwardTuple: { destination } }: ConversationRecord,
  facts: CaseFacts,
  stops: { host: string; gateway: string; client: string },
): Vote[] {
  return addressVotes(destination, facts, stops).map((v) => ({
    ...v,
    weight: Math.min(v.weight, 2),
    why: { by: 'packets', to: destination },
  }));
}

/** A machine's own settings are never its router's. */
function ownVotes(
  text: string,
  facts: CaseFacts,
  stops: { host: string; gateway: string; client: string },
): Vote[] {
  const held = addressVotes(text, facts, stops).filter((v) => v.stop !== stops.gateway);
  return held.length > 0 ? held : [{ stop: stops.host, weight: 3, why: { by: 'own-settings' } }];
}

/** A portal is named on a gateway's page; the rest a carrier writes. */
function noticeVotes({ about }: NoticeRecord, facts: CaseFacts, gateway: string): Vote[] {
  const carrier = facts.document.path.find((s) => s.role === 'carrier')?.id;
  const stop = about === 'portal' ? gateway : (carrier ?? gateway);
  return [{ stop, weight: 4, why: { by: 'notice' } }];
}

/** A logged packet was seen where it was sent to. */
function loggedVotes(
  value: TryRecord,
  facts: CaseFacts,
  stops: { host: string; gateway: string; client: string },
): Vote[] {
  const to = value.to.replace(/^\[?([^\]]+?)\]?(?::\d+)?$/, '$1');
  return addressVotes(to, facts, stops).map((v) => ({ ...v, why: { by: 'log', to } }));
}

function edgeVotes(facts: CaseFacts): Vote[] {
  const edge = facts.document.path.find((s) => s.role === 'edge')?.id;
  return edge ? [{ stop: edge, weight: 5, why: { by: 'perimeter' } }] : [];
}

/** What a rule set does; `nothing`: it is empty, as it may be on any machine. */
type RuleRole = 'translates' | 'guards' | 'nothing';

function nftRole(objects: readonly NftObject[]): RuleRole {
  const bases = objects.flatMap((o) => (o.is === 'chain' && o.base !== null ? [o.base] : []));
  if (bases.some((b) => b.hook === 'forward' || (b.type === 'nat' && b.hook === 'prerouting')))
    return 'translates';
  return bases.length > 0 ? 'guards' : 'nothing';
}

function iptablesRole(tables: readonly IptablesTable[]): RuleRole {
  const rules = tables.flatMap((t) => t.rules);
  if (rules.some((r) => r.words.includes('DNAT') || r.words.includes('MASQUERADE'))) return 'translates';
  const isOpen = tables.every((t) => t.chains.every((c) => c.policy === null || c.policy === 'ACCEPT'));
  return rules.length > 0 || !isOpen ? 'guards' : 'nothing';
}

function ruleVotes(role: RuleRole, { host, gateway }: { host: string; gateway: string }): Vote[] {
  if (host === gateway) return [{ stop: host, weight: 4, why: { by: 'only-machine' } }];
  switch (role) {
    case 'translates':
      return [
        { stop: gateway, weight: 3, why: { by: 'translates' } },
        { stop: host, weight: 1, why: { by: 'nothing' } },
      ];
    case 'guards':
      return [{ stop: host, weight: 3, why: { by: 'guards' } }];
    case 'nothing':
      return [
        { stop: host, weight: 2, why: { by: 'nothing' } },
        { stop: gateway, weight: 1, why: { by: 'nothing' } },
      ];
  }
}

function addressVotes(
  text: string,
  facts: CaseFacts,
  { host, gateway, client }: { host: string; gateway: string; client: string },
): Vote[] {
  const address = parseAddress(text);
  const kind = address ? addressKind(address).kind : null;
  if (!address || kind === 'loopback' || kind === 'link-local') return [];
  if (text === facts.document.client?.address)
    return [{ stop: client, weight: 6, why: { by: 'address-of', what: 'client', address: text } }];
  const held = factsOf(facts, 'address').find(
    (a) => a.fact.address === text && facts.document.path.some((s) => s.id === a.stop),
  );
  if (held)
    return [{ stop: held.stop, weight: 6, why: { by: 'same-address', address: text, stop: held.stop } }];
  const known = (what: 'server-address' | 'wan-address' | 'lan-address'): boolean => {
    const a = labelledAddress(facts, null, what)?.address;
    return a !== undefined && a.bits === address.bits && a.family === address.family;
  };
  if (known('server-address'))
    return [{ stop: host, weight: 6, why: { by: 'address-of', what: 'server', address: text } }];
  if (known('wan-address') || known('lan-address'))
    return [{ stop: gateway, weight: 6, why: { by: 'address-of', what: 'gateway', address: text } }];
  if (factsOf(facts, 'route').some((r) => r.fact.hops.some((h) => h.via === text)))
    return [{ stop: gateway, weight: 5, why: { by: 'default-gateway-of-other', address: text } }];
  if (factsOf(facts, 'forward').some((f) => saidOr(f.fact.target, null) === text))
    return [{ stop: host, weight: 4, why: { by: 'forward-target', address: text } }];
  const dialled = facts.document.client?.dials ? parseDialled(facts.document.client.dials)?.host : null;
  const resolved = factsOf(facts, 'name').some((n) => n.fact.answers.includes(text));
  if (text === dialled || resolved)
    return [
      {
        // An inside address that somebody dials is the server's own.
        stop: isReachable(address) && facts.document.path.some((s) => s.role === 'gateway') ? gateway : host,
        weight: 4,
        why: { by: 'dialled', address: text },
      },
    ];
  return isReachable(address)
    ? [{ stop: gateway, weight: 2, why: { by: 'address-kind', address: text, reachable: true } }]
    : [{ stop: host, weight: 2, why: { by: 'address-kind', address: text, reachable: false } }];
}

/** An address that a program binds to is its machine's own. */
const boundVotes = (
  text: string,
  facts: CaseFacts,
  stops: { host: string; gateway: string; client: string },
): Vote[] =>
  addressVotes(text, facts, stops).filter((v) => v.weight > 2 && v.why.by !== 'default-gateway-of-other');

function socketVotes(fact: Extract<Fact, { kind: 'socket' }>, facts: CaseFacts, host: string): Vote[] {
  const hit = facts.document.service?.endpoints?.some(
    (e) => e.protocol === fact.protocol && fact.port >= e.port && fact.port <= (e.portEnd ?? e.port),
  );
  return hit
    ? [
        {
          stop: host,
          weight: 4,
          why: { by: 'listener', program: fact.processes[0]?.name ?? null, port: fact.port },
        },
      ]
    : [{ stop: host, weight: 3, why: { by: 'listeners' } }];
}

function routeVotes(
  via: string,
  facts: CaseFacts,
  { host, gateway }: { host: string; gateway: string },
): Vote[] {
  const own = factsOf(facts, 'address').filter((a) => a.fact.family === 4);
  const lan = labelledAddress(facts, null, 'lan-address');
  const address = parseAddress(via);
  if (lan && address && lan.address.bits === address.bits)
    return [{ stop: host, weight: 5, why: { by: 'gateway-is-inside-address', address: via } }];
  const holder = own.find((a) => a.fact.address === via)?.stop;
  const near = own.find(
    (a) =>
      a.stop !== holder &&
      a.fact.prefix > 0 &&
      via.split('.').slice(0, 3).join('.') === a.fact.address.split('.').slice(0, 3).join('.'),
  );
  if (near) return [{ stop: near.stop, weight: 4, why: { by: 'gateway-in-network', stop: near.stop } }];
  if (holder !== undefined && holder !== host)
    return [{ stop: host, weight: 4, why: { by: 'gateway-is-inside-address', address: via } }];
  return address && isReachable(address)
    ? [{ stop: gateway, weight: 3, why: { by: 'gateway-kind', reachable: true } }]
    : [{ stop: host, weight: 3, why: { by: 'gateway-kind', reachable: false } }];
}
