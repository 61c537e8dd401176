import { parseDialled } from '../intake/index.ts';
import { addressKind, isReachable, parseAddress } from '../net/index.ts';
import type { CaseFacts } from './caseFacts.ts';
import { factsOf } from './caseFacts.ts';
import type { Fact, Plain, Reading } from './facts.ts';
import { labelledAddress } from './site.ts';

/** Which stop a piece of evidence is from. */
export interface Assignment {
  readonly stop: string;
  /** False: another stop is possible; ask, this one first. */
  readonly sure: boolean;
  /** All stops it may be from, likeliest first. */
  readonly candidates: readonly string[];
  /** Why this one, for people. */
  readonly why: string;
}

interface Vote {
  readonly stop: string;
  readonly weight: number;
  readonly why: string;
}

/** Weight from which a vote decides without asking. */
const SURE = 3;

/** Assigns a reading by what its facts say about whose they are. */
export function assignStop(reading: Reading, facts: CaseFacts): Assignment {
  const path = facts.document.path;
  const first = (role: string): string | null => path.find((s) => s.role === role)?.id ?? null;
  const host = path.filter((s) => s.role === 'host').pop()?.id ?? path[path.length - 1]!.id;
  const gateway = first('gateway') ?? host;
  const client = first('client') ?? path[0]!.id;
  const votes = new Map<string, { weight: number; why: string }>();
  for (const vote of reading.facts.flatMap((fact) => votesOf(fact, facts, { host, gateway, client }))) {
    const before = votes.get(vote.stop);
    votes.set(vote.stop, before && before.weight >= vote.weight ? before : { weight: vote.weight, why: vote.why });
  }
  const ranked = [...votes.entries()].sort((a, b) => b[1].weight - a[1].weight);
  const [best, second] = ranked;
  const order = [...new Set([...ranked.map(([stop]) => stop), host, gateway, ...path.map((s) => s.id)])];
  if (!best) return { stop: order[0]!, sure: false, candidates: order, why: 'nothing in it says whose it is' };
  const sure = best[1].weight >= SURE && (second === undefined || second[1].weight < best[1].weight);
  return { stop: best[0], sure, candidates: order, why: best[1].why };
}

function votesOf(fact: Fact, facts: CaseFacts, { host, gateway, client }: { host: string; gateway: string; client: string }): Vote[] {
  switch (fact.kind) {
    case 'forward': return [{ stop: gateway, weight: 5, why: 'a forward table is a gateway’s' }];
    case 'lease': return [{ stop: gateway, weight: 4, why: 'leases are given out by a gateway' }];
    case 'name': return [{ stop: client, weight: 5, why: 'a name is looked up by the client' }];
    case 'labelled':
      if (fact.what === 'server-address') return [{ stop: host, weight: 5, why: 'it names the server' }];
      if (fact.what === 'client-address') return [{ stop: client, weight: 5, why: 'it names the client' }];
      return fact.what === 'wan-address' || fact.what === 'lan-address' || fact.what === 'seen-address' || fact.what === 'connection-kind' ? [{ stop: gateway, weight: 5, why: `“${fact.label}” stands on a gateway’s page` }] : [{ stop: gateway, weight: 2, why: 'it looks like a status page' }];
    case 'address': return addressVotes(fact.address, facts, { host, gateway, client });
    case 'socket': return socketVotes(fact, facts, host);
    case 'route': return fact.to === 'default' && fact.hops[0]?.via ? routeVotes(fact.hops[0].via, facts, { host, gateway }) : [];
    case 'setting': return fact.key === 'net.ipv4.ip_forward' ? [{ stop: fact.value === '1' ? gateway : host, weight: fact.value === '1' ? 3 : 2, why: fact.value === '1' ? 'it forwards' : 'it does not forward' }] : [];
    case 'nft': return ruleVotes(fact.objects.some((o) => o.is === 'chain' && o.base !== null && (o.base.hook === 'forward' || (o.base.type === 'nat' && o.base.hook === 'prerouting'))), { host, gateway });
    case 'iptables': return ruleVotes(fact.tables.some((t) => t.rules.some((r) => r.words.includes('DNAT') || r.words.includes('MASQUERADE'))), { host, gateway });
    case 'noted': return fact.topic === 'tries' ? loggedVotes(fact.value, facts, { host, gateway, client }) : notedVotes(fact.topic, facts, { host, gateway });
    default: return [];
  }
}

/** A logged packet was seen where it was sent to. */
function loggedVotes(value: Plain, facts: CaseFacts, stops: { host: string; gateway: string; client: string }): Vote[] {
  const to = typeof value === 'object' && value !== null && 'to' in value ? String((value as { readonly to: Plain }).to).replace(/^\[?([^\]]+?)\]?(?::\d+)?$/, '$1') : '';
  return addressVotes(to, facts, stops).map((v) => ({ ...v, why: `it logs packets to ${to}` }));
}

function notedVotes(topic: string, facts: CaseFacts, { host, gateway }: { host: string; gateway: string }): Vote[] {
  const edge = facts.document.path.find((s) => s.role === 'edge')?.id;
  if (topic === 'mappings' || topic === 'mapping') return [{ stop: gateway, weight: 4, why: 'mappings are kept by a gateway' }];
  if (topic === 'hostRows' || topic === 'hostProfiles' || topic === 'activeProfile' || topic === 'bsdRules') return [{ stop: host, weight: 4, why: 'it is a machine’s own firewall' }];
  return edge && /^allow/.test(topic) ? [{ stop: edge, weight: 5, why: 'it is what the perimeter lets in' }] : [];
}

const ruleVotes = (forwards: boolean, { host, gateway }: { host: string; gateway: string }): Vote[] =>
  host === gateway ? [{ stop: host, weight: 4, why: 'only the server has rules' }] : forwards ? [{ stop: gateway, weight: 3, why: 'it translates or forwards' }, { stop: host, weight: 1, why: '' }] : [{ stop: host, weight: 3, why: 'it only guards the machine itself' }];

function addressVotes(text: string, facts: CaseFacts, { host, gateway, client }: { host: string; gateway: string; client: string }): Vote[] {
  const address = parseAddress(text);
  const kind = address ? addressKind(address).kind : null;
  if (!address || kind === 'loopback' || kind === 'link-local') return [];
  if (text === facts.document.client?.address) return [{ stop: client, weight: 6, why: `it holds the client’s address ${text}` }];
  const known = (what: 'server-address' | 'wan-address' | 'lan-address'): boolean => {
    const a = labelledAddress(facts, null, what)?.address;
    return a !== undefined && a.bits === address.bits && a.family === address.family;
  };
  if (known('server-address')) return [{ stop: host, weight: 6, why: `it holds the server’s address ${text}` }];
  if (known('wan-address') || known('lan-address')) return [{ stop: gateway, weight: 6, why: `it holds the gateway’s address ${text}` }];
  if (factsOf(facts, 'route').some((r) => r.fact.hops.some((h) => h.via === text))) return [{ stop: gateway, weight: 5, why: `${text} is another stop’s default gateway` }];
  if (factsOf(facts, 'forward').some((f) => f.fact.insideAddress === text)) return [{ stop: host, weight: 4, why: `a forward sends to ${text}` }];
  const dialled = facts.document.client?.dials ? parseDialled(facts.document.client.dials)?.host : null;
  const resolved = factsOf(facts, 'name').some((n) => n.fact.answers.includes(text));
  if (text === dialled || resolved) return [{ stop: facts.document.path.some((s) => s.role === 'gateway') ? gateway : host, weight: 4, why: `the client dials ${text}` }];
  return isReachable(address) ? [{ stop: gateway, weight: 2, why: `${text} is public` }] : [{ stop: host, weight: 2, why: `${text} is an inside address` }];
}

function socketVotes(fact: Extract<Fact, { kind: 'socket' }>, facts: CaseFacts, host: string): Vote[] {
  const hit = facts.document.service?.endpoints?.some((e) => e.protocol === fact.protocol && fact.port >= e.port && fact.port <= (e.portEnd ?? e.port));
  return hit ? [{ stop: host, weight: 4, why: `${fact.processes[0]?.name ?? 'a program'} listens on ${fact.port} there` }] : [{ stop: host, weight: 3, why: 'what listens is asked of the server first' }];
}

function routeVotes(via: string, facts: CaseFacts, { host, gateway }: { host: string; gateway: string }): Vote[] {
  const own = factsOf(facts, 'address').filter((a) => a.fact.family === 4);
  const lan = labelledAddress(facts, null, 'lan-address');
  const address = parseAddress(via);
  if (lan && address && lan.address.bits === address.bits) return [{ stop: host, weight: 5, why: `its default gateway ${via} is the gateway’s inside address` }];
  const near = own.find((a) => a.fact.prefix > 0 && via.split('.').slice(0, 3).join('.') === a.fact.address.split('.').slice(0, 3).join('.'));
  if (near) return [{ stop: near.stop, weight: 4, why: `its default gateway lies in the network of ${near.stop}` }];
  return address && isReachable(address) ? [{ stop: gateway, weight: 3, why: 'its default gateway is public' }] : [{ stop: host, weight: 3, why: 'its default gateway is inside' }];
}
