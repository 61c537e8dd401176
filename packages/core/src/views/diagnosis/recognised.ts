import type { FaultId } from '../../faults/index.ts';
import { checkDialled } from '../../intake/index.ts';
import { factsOf, labelledAddress, type CaseFacts } from '../../ledger/index.ts';
import type { Observation } from '../../case/index.ts';
import { addressKind, isReachable, parseAddress, parseTarget, sameAddress } from '../../net/index.ts';
import type { SourceRef } from '../../place/index.ts';
import { aimOf } from '../bench/packet.ts';
import type { FoundFault } from './foundFault.ts';

interface Told {
  readonly facts: CaseFacts;
  readonly says: string;
  readonly tries: readonly Observation[];
  readonly client: string;
  readonly host: string;
  readonly gateway: string;
  readonly carrier: string;
}

type Detector = (t: Told) => FoundFault | null;

/** What a record itself shows. */
const SHOWN = 0.97;
/** What a program's own words say (a greeting, an error that the caller reads out). */
const LIKELY = 0.96;
/** What may be meant as it is. */
const MAY_BE = 0.3;
/** What only fits together. */
const FITS = 0.7;

const fault = (
  id: FaultId,
  stop: string,
  probability: number,
  text: string,
  evidence: readonly SourceRef[] = [],
): FoundFault => ({ id, stop, probability, text, evidence });

const outcomesOf = ({ tries }: Told, ...vantages: readonly Observation['vantage'][]): Set<string> =>
  new Set(tries.filter((o) => vantages.includes(o.vantage)).map((o) => o.outcome));
const onlyOf = (set: ReadonlySet<string>, ...wanted: readonly string[]): boolean =>
  set.size > 0 && [...set].every((o) => wanted.includes(o));

const fails = (set: ReadonlySet<string>): boolean => onlyOf(set, 'lost', 'refused');
const works = (set: ReadonlySet<string>): boolean => onlyOf(set, 'answered');

/** A port that is missing or another one may be meant so; a slip in what was typed is none. */
const MEANT: ReadonlySet<string> = new Set(['port-missing', 'port-other']);

const dialSyntax: Detector = ({ facts, client }) => {
  const { dials } = facts.document.client ?? {};
  const problems = dials === undefined ? [] : checkDialled(dials, facts.document.service?.endpoints ?? []);
  const [first] = problems;
  if (!first) return null;
  const slip = problems.find((p) => !MEANT.has(p.kind));
  const id = slip?.kind === 'inside-address' ? 'dial-private' : 'dial-syntax';
  return fault(id, client, slip ? LIKELY : MAY_BE, (slip ?? first).text);
};

const names: Detector = ({ facts, client }) => {
  const aim = aimOf(facts);
  if (aim.trouble === 'no-such-name' || aim.trouble === 'no-address')
    return fault(
      'name-missing',
      client,
      LIKELY,
      `${aim.name} has no address`,
      aim.source ? [aim.source] : [],
    );
  const looked = factsOf(facts, 'name').filter((n) => n.fact.name === aim.name && n.fact.type === 'A');
  const answers = new Set(looked.flatMap((n) => n.fact.answers));
  if (looked.length > 1 && answers.size > 1)
    return fault(
      'name-cached',
      client,
      FITS,
      `${aim.name} is answered in two ways: one of them is an old answer`,
      looked.map((n) => n.source),
    );
  return null;
};

/** The record by which a program finds its port names another one (RFC 2782). */
const srvRecord: Detector = ({ facts, client }) => {
  const ports = new Set((facts.document.service?.endpoints ?? []).map((e) => e.port));
  const wrong = factsOf(facts, 'name').find((n) => n.fact.services?.some((s) => !ports.has(s.port)));
  return wrong && ports.size > 0
    ? fault('name-srv-wrong', client, SHOWN, `The service record of ${wrong.fact.name} names another port`, [
        wrong.source,
      ])
    : null;
};

/** The client comes by IPv6 first, and only that way is closed. */
const sixFirst: Detector = ({ facts, tries, gateway }) => {
  const six = tries.filter((o) => parseTarget(o.to)?.address.family === 6);
  const four = tries.filter((o) => parseTarget(o.to)?.address.family === 4 && o.vantage !== 'host');
  const has = factsOf(facts, 'name').find((n) => n.fact.type === 'AAAA' && n.fact.answers.length > 0);
  const isClosed =
    six.some((o) => o.vantage !== 'host' && o.outcome !== 'answered') ||
    /long (?:pause|wait)|first .*then/.test(facts.document.client?.says ?? '');
  return has &&
    isClosed &&
    four.some((o) => o.outcome === 'answered' && (o.vantage === 'client' || o.vantage === 'outside'))
    ? fault('name-v6-closed', gateway, LIKELY, 'The name also has an IPv6 address, and that way is closed', [
        has.source,
      ])
    : null;
};

const GREETINGS: readonly (readonly [FaultId, RegExp, string])[] = [
  [
    'listen-acl',
    /no pg_hba|not allowed|access denied|permission denied|noauth|protected mode|is not permitted|no entry for/i,
    'The program’s own access list refuses the client',
  ],
  [
    'listen-full',
    /too many (?:clients|connections|users)|server (?:is )?full|max(?:imum)? (?:number of )?(?:clients|connections)|remaining connection slots/i,
    'All places for connections are taken',
  ],
  [
    'listen-tls',
    /\bssl\b|\btls\b|wrong version number|plain http request|certificate|handshake|encrypt/i,
    'One side speaks TLS, and the other does not',
  ],
  [
    'gateway-port',
    /gateway sign.?in|router.{0,20}(?:log.?in|page)|sign in to (?:your )?(?:router|gateway)/i,
    'The gateway’s own page answers on this port',
  ],
];

const programWords: Detector = ({ says, tries, host, gateway }) => {
  const heard = [
    says,
    ...tries.filter((o) => o.vantage !== 'host' && o.vantage !== 'lan').map((o) => o.greeting ?? ''),
  ].join('\n');
  const hit = GREETINGS.find(([, words]) => words.test(heard));
  return hit ? fault(hit[0], hit[0] === 'gateway-port' ? gateway : host, LIKELY, hit[2]) : null;
};

const notices: Detector = ({ facts, carrier, host, gateway }) => {
  const hosts = new Set(facts.document.path.filter((s) => s.role === 'host').map((s) => s.id));
  const said = factsOf(facts, 'carrier-notice');
  const suite = said.find((n) => hosts.has(n.stop));
  if (suite)
    return fault('host-suite', host, LIKELY, 'Another security program on the server keeps packets out', [
      suite.source,
    ]);
  const [first] = said;
  if (!first) return null;
  const IDS = {
    shield: 'carrier-shield',
    portal: 'carrier-portal',
    'blocked-ports': 'carrier-port-block',
    'shared-address': 'carrier-shared',
  } as const;
  const { about } = first.fact.value;
  const text = {
    shield: 'The carrier’s shield holds it back',
    portal: 'Forwards are kept in the carrier’s portal',
    'blocked-ports': 'The carrier blocks the port',
    'shared-address': 'The carrier shares the address',
  };
  return fault(IDS[about], about === 'portal' ? gateway : carrier, LIKELY, text[about], [first.source]);
};

const lines: Detector = ({ facts, gateway, carrier }) => {
  const down = factsOf(facts, 'labelled').find(
    (l) => l.fact.what === 'line-state' && l.fact.value === 'down',
  );
  if (down) return fault('wan-down', gateway, LIKELY, 'The outside line is down', [down.source]);
  const wan = labelledAddress(facts, null, 'wan-address');
  const tunnel = factsOf(facts, 'labelled').find((l) => {
    const a = parseAddress(l.fact.value);
    return a !== null && addressKind(a).kind === 'ds-lite';
  });
  return tunnel && (!wan || !isReachable(wan.address))
    ? fault('carrier-v6-only', carrier, LIKELY, 'The line has no IPv4 address of its own', [tunnel.source])
    : null;
};

const noPublicAddress: Detector = ({ facts }) => {
  const none = factsOf(facts, 'labelled').find((l) => l.fact.what === 'no-public-address');
  return none
    ? fault('edge-no-address', none.stop, LIKELY, 'The machine has no public address', [none.source])
    : null;
};

/** A session from before a change still leads elsewhere. */
const staleSession: Detector = (t) => {
  const server = serverOf(t.facts);
  const { gateway } = t;
  const old = factsOf(t.facts, 'session').find((s) => {
    const to = parseAddress(s.fact.value.reply.source);
    return (
      s.fact.value.unreplied && to !== null && server !== null && !isReachable(to) && !sameAddress(to, server)
    );
  });
  return old && fails(outcomesOf(t, 'client', 'client-by-name')) && works(outcomesOf(t, 'outside'))
    ? fault(
        'session-stale',
        gateway,
        LIKELY,
        'An old session still leads the client’s packets to another machine',
        [old.source],
      )
    : null;
};

const serverOf = (facts: CaseFacts) => {
  const tried = (facts.document.observations ?? [])
    .filter((o) => o.vantage === 'lan')
    .map((o) => parseTarget(o.to)?.address ?? null);
  return tried.find((a) => a !== null) ?? null;
};

/** A mapping that the program asked for is another machine's now, or is gone. */
const lapsedMapping: Detector = ({ facts, says, gateway }) => {
  const server = serverOf(facts);
  const ports = (facts.document.service?.endpoints ?? []).flatMap((e) => [e.port, e.portEnd ?? e.port]);
  const other = factsOf(facts, 'mapping').find((m) => {
    const to = parseAddress(m.fact.value.internalAddress ?? '');
    return (
      to !== null &&
      server !== null &&
      !sameAddress(to, server) &&
      ports.includes(m.fact.value.externalPort ?? -1)
    );
  });
  const isAsked = /opens? (?:its|the) port by itself|\bupnp\b|by itself/i.test(says);
  return other || isAsked
    ? fault(
        'auto-lapsed',
        gateway,
        other ? LIKELY : FITS,
        'The mapping that the program asked for has lapsed, or is another machine’s',
        other ? [other.source] : [],
      )
    : null;
};

const tests: Detector = (t) => {
  const { says, client, host } = t;
  const mine = outcomesOf(t, 'client', 'client-by-name');
  const outside = outcomesOf(t, 'outside');
  if (/\bping(?:s|ed|ing)?\b/.test(says))
    return fault('test-ping', client, LIKELY, 'A ping decides nothing about a port');
  if (
    /(?:from|at|in) (?:my|the|our) (?:laptop|house|home|wi-?fi|own network|living room|couch)|from inside|on the same (?:network|wi-?fi)/.test(
      says,
    ) &&
    works(outside)
  )
    return fault('test-from-inside', client, LIKELY, 'It was tried from inside; from outside it works');
  if (
    /(?:had|was|were) (?:stopped|off|not running|down)|(?:stopped|switched off) the (?:server|program)|not running (?:then|yet)/.test(
      says,
    ) &&
    (works(mine) || works(outside))
  )
    return fault('test-while-down', host, LIKELY, 'It was tried while nothing was listening');
  const isUdp = t.facts.document.service?.endpoints?.every((e) => e.protocol === 'udp') ?? false;
  if (isUdp && /\btcp\b|port (?:check|test)|checker|open.?port|tester/.test(says) && !fails(mine))
    return fault('test-wrong-protocol', client, LIKELY, 'The test spoke TCP, and the service speaks UDP');
  if (
    isUdp &&
    /no (?:answer|reply)|silen|nothing|empty packet|netcat|\bnc\b/.test(says) &&
    (works(outside) || works(mine))
  )
    return fault('test-udp-silence', client, FITS, 'Silence of a UDP service is not “closed”');
  return null;
};

/** From one network alone it does not work: that network lets the port not out. */
const egress: Detector = (t) => {
  const mine = outcomesOf(t, 'client', 'client-by-name');
  return fails(mine) && works(outcomesOf(t, 'outside'))
    ? fault('client-egress', t.client, FITS, 'The client’s own network lets this port not out')
    : null;
};

/** Another outside port of the same service is answered, this one is not. */
const blockedPort: Detector = (t) => {
  const service = new Set(
    (t.facts.document.service?.endpoints ?? []).flatMap((e) => [e.port, e.portEnd ?? e.port]),
  );
  const other = t.tries.some(
    (o) => o.vantage === 'client' && o.outcome === 'answered' && !service.has(parseTarget(o.to)?.port ?? -1),
  );
  const own = t.tries.filter(
    (o) => (o.vantage === 'client' || o.vantage === 'outside') && service.has(parseTarget(o.to)?.port ?? -1),
  );
  return other && own.length > 0 && own.every((o) => o.outcome === 'lost')
    ? fault(
        'carrier-port-block',
        t.carrier,
        LIKELY,
        'Another outside port is answered, and this one never arrives',
      )
    : null;
};

/** It works for everybody outside, and not for a client inside who dials the outside address. */
const hairpin: Detector = (t) => {
  const inside = outcomesOf(t, 'lan-by-outside-address');
  const from = parseAddress(t.facts.document.client?.address ?? '');
  const isInside = from !== null && !isReachable(from);
  return isInside && fails(inside) && works(outcomesOf(t, 'outside'))
    ? fault('hairpin-missing', t.gateway, LIKELY, 'The gateway does not turn round what comes from inside')
    : null;
};

/** Nothing of the server answers, not even from its own network, though it was found there before. */
const off: Detector = (t) => {
  const near = outcomesOf(t, 'lan');
  const neighbours = factsOf(t.facts, 'neighbour').filter((n) =>
    n.fact.states.some((s) => s === 'FAILED' || s === 'INCOMPLETE'),
  );
  const server = serverOf(t.facts);
  const gone = neighbours.find((n) => {
    const a = parseAddress(n.fact.address);
    return a !== null && server !== null && sameAddress(a, server);
  });
  const isSilent = t.tries.every((o) => o.vantage !== 'host') && fails(near);
  return gone && isSilent
    ? fault('host-off', t.host, LIKELY, 'The server does not answer on its own network', [gone.source])
    : null;
};

/** The first connection works and the next one fails: the program sends the client to an inside address. */
const announced: Detector = (t) => {
  const isSecond =
    /then the (?:listing|list|picture|transfer|sound|stream|second)|listing hangs|(?:sign|log).?in works/.test(
      t.says,
    );
  const settings = factsOf(t.facts, 'program-setting').find((s) => {
    const a = parseAddress(`${s.fact.value.value}`);
    return (
      a !== null &&
      !isReachable(a) &&
      /announce|public|extern|pasv|passive|advertis|masquerade/i.test(s.fact.value.key)
    );
  });
  return isSecond || settings
    ? fault(
        'announces-inside',
        t.host,
        settings ? LIKELY : FITS,
        'The program tells clients an inside address',
        settings ? [settings.source] : [],
      )
    : null;
};

const DETECTORS: readonly Detector[] = [
  srvRecord,
  dialSyntax,
  names,
  noPublicAddress,
  lines,
  notices,
  tests,
  programWords,
  hairpin,
  sixFirst,
  staleSession,
  blockedPort,
  announced,
  off,
  lapsedMapping,
  egress,
];

/** Faults that records, tries and words show by themselves, the surest first. */
export function recognised(facts: CaseFacts): FoundFault[] {
  const { path, observations, client } = facts.document;
  const first = (role: string): string => path.find((s) => s.role === role)?.id ?? role;
  const told: Told = {
    facts,
    says: (client?.says ?? '').toLowerCase(),
    tries: observations ?? [],
    client: first('client'),
    host: first('host'),
    gateway: path.some((s) => s.role === 'gateway') ? first('gateway') : first('edge'),
    carrier: first('carrier'),
  };
  return DETECTORS.flatMap((d) => d(told) ?? []).sort((a, b) => b.probability - a.probability);
}
