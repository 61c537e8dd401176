import { serves } from '../case/index.ts';
import { type Fact, saidOr, type ConversationRecord, type TryRecord } from '../facts/index.ts';
import { parseDialled } from '../intake/index.ts';
import { parseAddress, addressKind, isReachable } from '../net/index.ts';
import { type CaseFacts, factsOf } from './caseFacts.ts';
import { labelledAddress } from './labelled.ts';
import type { Vote } from './whose.ts';

export function addressVotes(
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
  const { dials, alsoDials = [] } = facts.document.client ?? {};
  const dialled = [dials ?? '', ...alsoDials].map((d) => parseDialled(d)?.host);
  const resolved = factsOf(facts, 'name').some((n) => n.fact.answers.includes(text));
  if (dialled.includes(text) || resolved)
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
export const boundVotes = (
  text: string,
  facts: CaseFacts,
  stops: { host: string; gateway: string; client: string },
): Vote[] =>
  addressVotes(text, facts, stops).filter((v) => v.weight > 2 && v.why.by !== 'default-gateway-of-other');

/** A machine's own settings are never its router's. */
export function ownVotes(
  text: string,
  facts: CaseFacts,
  stops: { host: string; gateway: string; client: string },
): Vote[] {
  const held = addressVotes(text, facts, stops).filter((v) => v.stop !== stops.gateway);
  return held.length > 0 ? held : [{ stop: stops.host, weight: 3, why: { by: 'own-settings' } }];
}

export function routeVotes(
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

export function socketVotes(fact: Extract<Fact, { kind: 'socket' }>, facts: CaseFacts, host: string): Vote[] {
  const hit = serves(facts.document.service?.endpoints, fact.protocol, fact.port);
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

/**
 * Where packets of the service go to the server's own address, the capture is from there or just before it;
 * else a guess.
 */
export function capturedVotes(
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

/** A logged packet was seen where it was sent to. */
export function loggedVotes(
  value: TryRecord,
  facts: CaseFacts,
  stops: { host: string; gateway: string; client: string },
): Vote[] {
  const to = value.to.replace(/^\[?([^\]]+?)\]?(?::\d+)?$/, '$1');
  return addressVotes(to, facts, stops).map((v) => ({ ...v, why: { by: 'log', to } }));
}
