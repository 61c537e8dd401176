import { plainForward, type Fact } from '../../facts/index.ts';
import { factsOf, ifAllWhole, labelledAddress, type CaseFacts, type ReadFile } from '../../ledger/index.ts';
import { addressesByRoutes, buildSite, knowsForwards } from '../../model/index.ts';
import { withId } from '../../place/index.ts';
import { parseDialled } from '../../intake/index.ts';
import { formatAddress, sameAddress, type Address } from '../../net/index.ts';
import { aimOf } from '../bench/packet.ts';
import { relayEnd } from './pastRelay.ts';
import { sidesOf, withMappingOn, zoneRulesOf } from './healthyZones.ts';
import { assumedFile, impliedFile, INVENTED } from './assumedFiles.ts';
import { aimAt, linesAs, routerByRules, type RouterByRules } from './routersByRules.ts';
import {
  AT,
  INSIDE,
  STAND_IN,
  insideOf,
  labelled,
  lookedUp,
  outsideAddress,
  routesOf,
  saysNone,
  sentFrom,
  serverAddress,
  socketsOf,
  standIn,
  wayOutward,
  type Hints,
} from './standIns.ts';

/**
 * The case with what nobody has told of as it would be if the service worked: the name leads to the outside
 * address, the perimeter turns it to the machine, the server is where the forward leads, nothing filters and
 * the program listens. What is wrong all the same is wrong by what is known.
 */
export function healthy(facts: CaseFacts): CaseFacts {
  const said = ifAllWhole(facts)?.facts ?? facts;
  // What nobody could read is taken for something else.
  const spoken = outsideAddress(said);
  const { client } = said.document;
  // What cannot be dialled as it is written was meant for the outside address.
  const isOdd = client?.dials !== undefined && parseDialled(client.dials) === null && spoken !== null;
  const whole: CaseFacts = {
    document: isOdd
      ? { ...said.document, client: { ...client, dials: formatAddress(spoken) } }
      : said.document,
    files: said.files.map((f) =>
      withMappingOn(f.format === null ? { ...f, lines: 0 } : f, aimOf(said).address),
    ),
  };
  const path = whole.document.path;
  const host = path.find((s) => s.role === 'host')?.id;
  const outer = path.find((s) => s.role === 'gateway' || s.role === 'edge' || s.role === 'host');
  const outside = outsideAddress(whole);
  const added: ReadFile[] = [];
  const add = (stop: string, list: readonly Fact[], covers: ReadFile['covers'] = []): void => {
    if (list.length > 0 || covers.length > 0) added.push(assumedFile(stop, added.length, list, covers));
  };
  const now = (): CaseFacts => ({ ...whole, files: [...whole.files, ...added] });
  if (outside) add('client', lookedUp(whole, outside));
  const site = buildSite(whole);
  const router = routerByRules(whole, site);
  const gateways = path.filter((s) => s.role === 'gateway');
  const aims = gateways.map((g) => aimAt(whole, site, g.id));
  const aimed = aims[aims.length - 1] ?? null;
  const hints = { aimed, sent: host === undefined ? null : sentFrom(withId(site.machines, host), aimed) };
  const own = router && wanOf(router, outside);
  if (router && own) {
    const [leads = null] = aims;
    add(router.stop, linesAs(router, own, leads ?? serverAddress(whole, hints) ?? INSIDE), [
      'addresses',
      // A router has no program of its own on the service's port.
      'sockets-tcp',
      'sockets-udp',
    ]);
    const [, next] = gateways;
    if (next && leads) add(next.id, [labelled('wan-address', leads)]);
  }
  if (outer && outside && outer.role !== 'host' && !labelledAddress(whole, outer.id, 'wan-address')) {
    const isRouter = now().files.some((f) => f.stop === outer.id && f.covers.includes('addresses'));
    if (!isRouter && !saysNone(whole, outer.id))
      add(
        outer.id,
        sidesOf(whole, outer.id, outside) ?? [
          labelled(outer.role === 'edge' ? 'seen-address' : 'wan-address', outside),
        ],
      );
  }
  for (const { stop, list } of innerLines(now())) add(stop, list);
  for (const { stop, list, covers } of forwardsOf(now(), aims, hints)) add(stop, list, covers);
  if (host !== undefined) {
    const knows = (what: ReadFile['covers'][number]): boolean =>
      whole.files.some((f) => f.stop === host && f.covers.includes(what));
    const told = relayEnd(whole) ?? serverAddress(now(), hints) ?? (outer?.role === 'host' ? outside : null);
    const server = told ?? standIn(now());
    const shown = addressesByRoutes(withId(site.machines, host));
    // That it has more addresses than its routes show is rare.
    if (!knows('addresses') && shown) added.push(impliedFile(host, added.length, shown));
    else if (!knows('addresses') && server) {
      const file = assumedFile(host, added.length, addressOf(whole, host, server), ['addresses']);
      added.push(told ? file : { ...file, format: INVENTED });
    }
    if (!knows('routes4') && !knows('routes6')) add(host, routesOf(now(), host, server), ['routes4']);
    const has = (kinds: ReadonlySet<string>): boolean =>
      whole.files.some((f) => f.stop === host && f.facts.some((x) => kinds.has(x.kind)));
    const isModelled = withId(site.machines, host).program[4] !== null;
    // Beside a firewall for programs the packet filter is off as a rule.
    if (has(PROGRAM_FACTS) && !isModelled) add(host, [FILTER_OFF]);
    else if (!knows('rules4') && !has(RULE_FACTS) && !isModelled) add(host, [OPEN], ['rules4', 'rules6']);
    add(host, checksOff(now(), host));
    const listening = (['tcp', 'udp'] as const).filter((t) => !knows(`sockets-${t}`));
    if (listening.length > 0)
      add(
        host,
        socketsOf(whole, listening),
        listening.map((t) => `sockets-${t}` as const),
      );
  }
  for (const { id } of path.filter((s) => s.role === 'gateway')) {
    add(id, checksOff(now(), id));
    const zoneRules = zoneRulesOf(whole, id);
    if (zoneRules.length > 0) add(id, zoneRules, ['zone-rules']);
    const isRouter = now().files.some((f) => f.stop === id && f.covers.includes('addresses'));
    const isSaid = factsOf(whole, 'setting').some((s) => s.stop === id && s.fact.key === FORWARDING);
    const knowsRoutes = whole.files.some((f) => f.stop === id && f.covers.includes('routes4'));
    const outward = isRouter && !knowsRoutes ? wayOutward(now(), id) : [];
    if (outward.length > 0) add(id, outward, ['routes4']);
    if (isRouter && !isSaid) add(id, [{ kind: 'setting', at: AT, key: FORWARDING, value: '1' }]);
  }
  return now();
}

/**
 * The outside address of a router of which its rules alone are known: the one that its forwards name, unless
 * another one was dialled; then which of the two it has is not known.
 */
function wanOf(router: RouterByRules, outside: Address | null): Address | null {
  if (!outside || outside.family !== 4) return null;
  if (!router.outside || sameAddress(router.outside, outside)) return outside;
  return formatAddress(outside) === STAND_IN ? router.outside : null;
}

const FORWARDING = 'net.ipv4.ip_forward';

interface Stood {
  readonly stop: string;
  readonly list: readonly Fact[];
  readonly covers: ReadFile['covers'];
}

/** Forwards as they would be where nobody has shown any: the service's ports, inward. */
function forwardsOf(facts: CaseFacts, aims: readonly (Address | null)[], hints: Hints): Stood[] {
  const server = serverAddress(facts, hints) ?? standIn(facts);
  const gateways = facts.document.path.filter((s) => s.role === 'gateway');
  return gateways.flatMap(({ id, settings }, i): Stood[] => {
    const isKnown =
      settings !== undefined ||
      knowsForwards(facts, id) ||
      facts.files.some(
        (f) => f.stop === id && f.facts.some((x) => RULE_FACTS.has(x.kind) || ZONES.has(x.kind)),
      );
    const next = gateways[i + 1];
    const target = next ? labelledAddress(facts, next.id, 'wan-address')?.address : server;
    if (isKnown || !target) return [];
    const before = aims[i - 1];
    // What comes translated already is passed on as it is.
    if (before && server && sameAddress(before, server))
      return [{ stop: id, list: [OPEN], covers: ['rules4', 'rules6'] }];
    const list = (facts.document.service?.endpoints ?? []).map((e): Fact => {
      const ports = [{ first: e.port, last: e.portEnd ?? e.port }];
      return plainForward(AT, e.protocol, ports, formatAddress(target));
    });
    return [{ stop: id, list, covers: ['forwards'] }];
  });
}

/** A packet filter without a rule. */
const OPEN: Fact = { kind: 'nft', at: AT, objects: [] };
const FILTER_OFF: Fact = { kind: 'bsd-enabled', at: AT, group: 'bsdEnabled', value: false, text: '' };
/** What a listing of the firewall for programs tells. */
const PROGRAM_FACTS: ReadonlySet<string> = new Set([
  'application-firewall',
  'application-blocks-all',
  'application',
]);

/** The outside line of a router behind another one, in that one's network, where nobody has shown it. */
function innerLines(facts: CaseFacts): { readonly stop: string; readonly list: Fact[] }[] {
  const gateways = facts.document.path.filter((s) => s.role === 'gateway');
  return gateways.flatMap(({ id }, i) => {
    const outer = gateways[i - 1];
    const isShown = facts.files.some((f) => f.stop === id && f.covers.includes('addresses'));
    if (!outer || isShown || labelledAddress(facts, id, 'wan-address')) return [];
    const inside = insideOf(facts, outer.id);
    if (inside?.family !== 4) return [];
    return [
      { stop: id, list: [labelled('wan-address', { family: 4, bits: (inside.bits & ~0xffn) | 251n })] },
    ];
  });
}

const ZONES: ReadonlySet<string> = new Set(['zone-rule', 'address-mapping', 'zone-line']);

/** The reverse-path check does not stand in the way (RFC 3704 §2.4), where nobody has looked. */
function checksOff(facts: CaseFacts, stop: string): Fact[] {
  const said = new Set(factsOf(facts, 'setting').flatMap((s) => (s.stop === stop ? [s.fact.key] : [])));
  const devices = [
    ...factsOf(facts, 'address').flatMap((a) => (a.stop === stop ? [a.fact.interface] : [])),
    ...factsOf(facts, 'route').flatMap((r) =>
      r.stop === stop ? r.fact.hops.flatMap((h) => h.dev ?? []) : [],
    ),
  ];
  const keys = ['all', ...new Set(devices)].map((d) => `net.ipv4.conf.${d}.rp_filter`);
  return keys.filter((k) => !said.has(k)).map((key) => ({ kind: 'setting', at: AT, key, value: '0' }));
}

/** The server's address on the interface that its routes name. */
function addressOf(facts: CaseFacts, host: string, server: Address): Fact[] {
  const route = factsOf(facts, 'route').find((r) => r.stop === host && r.fact.hops[0]?.dev);
  const name = route?.fact.hops[0]?.dev ?? 'net';
  return [
    { kind: 'interface', at: AT, name, adminUp: true },
    {
      kind: 'address',
      at: AT,
      interface: name,
      family: server.family,
      address: formatAddress(server),
      prefix: 24,
      scope: 'global',
    },
  ];
}

const RULE_FACTS: ReadonlySet<string> = new Set([
  'host-row',
  'host-profile',
  'front-end',
  'bsd-rule',
  'iptables',
  'nft',
]);
