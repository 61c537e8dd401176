import type { ServiceEndpoint } from '../../case/index.ts';
import { factsOf, labelledAddress, type CaseFacts } from '../../ledger/index.ts';
import { hostIn, parseDialled, type Dialled } from '../../intake/index.ts';
import { address, parseAddress, type Address, type Family, type Header } from '../../net/index.ts';
import type { SourceRef } from '../../place/index.ts';

/** Stands in for a client whose address nobody has said: an outside one (RFC 5737). */
export const STAND_IN_CLIENT = '192.0.2.254';
/** Source port of the traced packet; any ephemeral port does (RFC 6056). */
const CLIENT_PORT = 51514;

/** What the client dials, resolved as far as the evidence goes. */
export interface Aim {
  /** The name, where one is dialled. */
  readonly name: string | null;
  readonly port: number | null;
  readonly address: Address | null;
  readonly source: SourceRef | null;
  /** Why there is no address. */
  readonly trouble: 'no-dial' | 'not-looked-up' | 'no-such-name' | 'no-address' | null;
  readonly clientStandsIn: boolean;
}

/** Works out where the client's packet goes; `typed` is what it dials, where that is not the first of it. */
export function aimOf(facts: CaseFacts, family: Family | null = null, typed?: string): Aim {
  const client = facts.document.client;
  const text = typed ?? client?.dials;
  const clientStandsIn = !client?.address;
  const dialled = text ? (parseDialled(text) ?? meantBy(text)) : null;
  if (text && !dialled)
    return { name: null, port: null, address: null, source: null, trouble: 'no-dial', clientStandsIn };
  if (!dialled) {
    const wan = labelledAddress(facts, null, 'wan-address') ?? labelledAddress(facts, null, 'seen-address');
    return {
      name: null,
      port: null,
      address: wan?.address ?? null,
      source: wan?.source ?? null,
      trouble: wan ? null : 'no-dial',
      clientStandsIn,
    };
  }
  const literal = parseAddress(dialled.host);
  if (literal)
    return { name: null, port: dialled.port, address: literal, source: null, trouble: null, clientStandsIn };
  const names = withAliases(facts, dialled.host);
  const answers = factsOf(facts, 'name').filter((n) => names.includes(n.fact.name));
  const base = { name: dialled.host, port: dialled.port, clientStandsIn };
  for (const type of RECORDS[family ?? 'any']) {
    const record = answers.filter((n) => n.fact.type === type).pop();
    for (const answer of record?.fact.answers ?? []) {
      const a = parseAddress(answer);
      if (a) return { ...base, address: a, source: record!.source, trouble: null };
    }
  }
  // Mail and text records say nothing of addresses; a name that is not there has none of any type.
  const types: readonly string[] = RECORDS[family ?? 'any'];
  const last = answers
    .filter(({ fact }) => types.includes(fact.type) || fact.status === 'NXDOMAIN')
    .filter(({ fact }) => fact.name === names[names.length - 1])
    .pop();
  return {
    ...base,
    address: null,
    source: last?.source ?? null,
    trouble: troubleOf(last?.fact.status),
  };
}

/** Where an unreadable text would lead were it written right; its port is not known. */
function meantBy(text: string): Dialled | null {
  const host = hostIn(text);
  return host === null ? null : { host, port: null };
}

/** The most aliases in a row that are followed; longer chains go round. */
const MOST_ALIASES = 8;

/** The dialled name and what it is an alias of, as far as that was looked up (RFC 1034 §3.6.2). */
function withAliases(facts: CaseFacts, name: string): readonly string[] {
  const names = [name];
  for (let i = 0; i < MOST_ALIASES; i++) {
    const alias = factsOf(facts, 'name').findLast(
      ({ fact }) => fact.name === names[i] && fact.type === 'CNAME',
    );
    const [next] = alias?.fact.answers ?? [];
    if (next === undefined || names.includes(next)) break;
    names.push(next);
  }
  return names;
}

/** The types of records that are looked at, in this order. */
const RECORDS = { any: ['A', 'AAAA'], 4: ['A'], 6: ['AAAA'] } as const;

function troubleOf(status: string | undefined): Aim['trouble'] {
  if (status === undefined) return 'not-looked-up';
  return status === 'NXDOMAIN' ? 'no-such-name' : 'no-address';
}

/** The first packet of one of the service's endpoints; null where the aim has no address. */
export function packetFor(
  facts: CaseFacts,
  aim: Aim,
  endpoint: ServiceEndpoint,
  from: Address | null = null,
): Header | null {
  if (!aim.address) return null;
  const client = from ?? parseAddress(facts.document.client?.address ?? '') ?? address(STAND_IN_CLIENT);
  const source =
    client.family === aim.address.family
      ? client
      : address(aim.address.family === 4 ? STAND_IN_CLIENT : '2001:db8:ffff::fe');
  // A service with one endpoint is dialled on the port that was typed; of several, each is tried on its own.
  const single = (facts.document.service?.endpoints ?? []).length <= 1;
  return {
    transport: endpoint.protocol,
    source: { address: source, port: CLIENT_PORT },
    destination: { address: aim.address, port: single && aim.port !== null ? aim.port : endpoint.port },
  };
}

/** The first packets of an endpoint: of a range those of both of its ends, since a row may leave one out. */
export function packetsFor(
  facts: CaseFacts,
  aim: Aim,
  endpoint: ServiceEndpoint,
  from: Address | null = null,
): Header[] {
  const { port, portEnd } = endpoint;
  const last =
    portEnd !== undefined && portEnd > port
      ? packetFor(facts, { ...aim, port: null }, { ...endpoint, port: portEnd }, from)
      : null;
  return [packetFor(facts, aim, endpoint, from), last].filter((p): p is Header => p !== null);
}

/** What stands under the lamp of a name that has no address. */
export const nameCaption = ({ trouble }: Aim): 'no-such-name' | 'no-address' | 'not-looked-up' =>
  trouble === 'no-such-name' || trouble === 'no-address' ? trouble : 'not-looked-up';
