import { serves, type ServiceEndpoint } from '../../../case/index.ts';
import { factsOf, keptOut, labelledAddress, recordsOf, type CaseFacts } from '../../../ledger/index.ts';
import { addressKind, formatAddress, isReachable, parseAddress, sameAddress } from '../../../net/index.ts';
import { nextConnection } from '../../../mend/index.ts';
import { aimOf } from '../../bench/packet.ts';
import { fails, fault, FITS, LIKELY, outcomesOf, SHOWN, triedServer, works, type Detector } from './told.ts';

const names: Detector = ({ facts, client }) => {
  const aim = aimOf(facts);
  if (aim.trouble === 'no-such-name' || aim.trouble === 'no-address')
    return fault('name-missing', client, LIKELY, aim.source ? [aim.source] : [], aim.name ?? '');
  const looked = factsOf(facts, 'name').filter((n) => n.fact.name === aim.name && n.fact.type === 'A');
  const answers = new Set(looked.flatMap((n) => n.fact.answers));
  if (looked.length > 1 && answers.size > 1)
    return fault(
      'name-cached',
      client,
      FITS,
      looked.map((n) => n.source),
      aim.name ?? '',
    );
  return null;
};

/** The record by which a program finds its port names another one (RFC 2782). */
const srvRecord: Detector = ({ facts, client }) => {
  const ports = new Set((facts.document.service?.endpoints ?? []).map((e) => e.port));
  const wrong = factsOf(facts, 'name').find((n) => n.fact.services?.some((s) => !ports.has(s.port)));
  return wrong && ports.size > 0
    ? fault('name-srv-wrong', client, SHOWN, [wrong.source], wrong.fact.name)
    : null;
};

/** The fault that each kind of a carrier's notice is. */
const NOTICED = {
  shield: 'carrier-shield',
  portal: 'carrier-portal',
  'blocked-ports': 'carrier-port-block',
  'shared-address': 'carrier-shared',
} as const;

const notices: Detector = ({ facts, carrier, host, gateway }) => {
  const hosts = new Set(facts.document.path.filter((s) => s.role === 'host').map((s) => s.id));
  const said = factsOf(facts, 'carrier-notice');
  const suite = said.find((n) => hosts.has(n.stop));
  if (suite) return fault('host-suite', host, LIKELY, [suite.source]);
  const [first] = said;
  if (!first) return null;
  const { about } = first.fact.value;
  return fault(NOTICED[about], about === 'portal' ? gateway : carrier, LIKELY, [first.source]);
};

const lines: Detector = ({ facts, gateway, carrier }) => {
  const down = factsOf(facts, 'labelled').find(
    (l) => l.fact.what === 'line-state' && l.fact.value === 'down',
  );
  if (down) return fault('wan-down', gateway, LIKELY, [down.source]);
  const wan = labelledAddress(facts, null, 'wan-address');
  const tunnel = factsOf(facts, 'labelled').find((l) => {
    const a = parseAddress(l.fact.value);
    return a !== null && addressKind(a).kind === 'ds-lite';
  });
  return tunnel && (!wan || !isReachable(wan.address))
    ? fault('carrier-v6-only', carrier, LIKELY, [tunnel.source])
    : null;
};

const noPublicAddress: Detector = ({ facts }) => {
  const none = factsOf(facts, 'labelled').find((l) => l.fact.what === 'no-public-address');
  return none ? fault('edge-no-address', none.stop, LIKELY, [none.source]) : null;
};

/** A session from before a change still leads elsewhere. */
const staleSession: Detector = (t) => {
  const server = triedServer(t);
  const { gateway } = t;
  const old = factsOf(t.facts, 'session').find((s) => {
    const to = parseAddress(s.fact.value.reply.source);
    return (
      s.fact.value.unreplied && to !== null && server !== null && !isReachable(to) && !sameAddress(to, server)
    );
  });
  return old && fails(outcomesOf(t, 'client', 'client-by-name')) && works(outcomesOf(t, 'outside'))
    ? fault('session-stale', gateway, LIKELY, [old.source])
    : null;
};

/** The server's own log shows the client's packets kept out, whatever is known of its rules. */
const shutOut: Detector = ({ facts, host }) => {
  const client = parseAddress(facts.document.client?.address ?? '');
  const kept =
    client &&
    keptOut(facts, (transport, port) => serves(facts.document.service?.endpoints, transport, port), client);
  return kept?.stop === host
    ? fault('host-drop', host, LIKELY, [kept.source], formatAddress(kept.from))
    : null;
};

/** A capture on the server shows the answer leave by another interface than the question, and get lost. */
const otherWay: Detector = ({ facts, host }) => {
  const client = parseAddress(facts.document.client?.address ?? '');
  const lost =
    client &&
    recordsOf(facts, (transport, port) => serves(facts.document.service?.endpoints, transport, port)).find(
      (r) => r.stop === host && r.became === 'answer-lost' && r.ways !== null && sameAddress(r.from, client),
    );
  return lost?.ways ? fault('host-asymmetric', host, LIKELY, [lost.source], lost.ways.out) : null;
};

/** A mapping that the program asked for is another machine's now, or is gone. */
const lapsedMapping: Detector = (t) => {
  const { facts, says, gateway } = t;
  const server = triedServer(t);
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
    ? fault('auto-lapsed', gateway, other ? LIKELY : FITS, other ? [other.source] : [])
    : null;
};

/** Nothing of the server answers, not even from its own network, though it was found there before. */
const off: Detector = (t) => {
  const near = outcomesOf(t, 'lan');
  const neighbours = factsOf(t.facts, 'neighbour').filter((n) =>
    n.fact.states.some((s) => s === 'FAILED' || s === 'INCOMPLETE'),
  );
  const server = triedServer(t);
  const gone = neighbours.find((n) => {
    const a = parseAddress(n.fact.address);
    return a !== null && server !== null && sameAddress(a, server);
  });
  const isSilent = t.tries.every((o) => o.vantage !== 'host') && fails(near);
  return gone && isSilent ? fault('host-off', t.host, LIKELY, [gone.source]) : null;
};

const SECOND = new RegExp(
  String.raw`then the (?:listing|list|picture|transfer|sound|stream|second)|listing hangs|` +
    String.raw`(?:sign|log).?in works`,
);

/** The first connection works and the next one fails: the program sends the client to an inside address. */
const announced: Detector = (t) => {
  const isSecond = SECOND.test(t.says);
  const settings = factsOf(t.facts, 'program-setting').find((s) => {
    const a = parseAddress(`${s.fact.value.value}`);
    return (
      a !== null &&
      !isReachable(a) &&
      /announce|public|extern|pasv|passive|advertis|masquerade/i.test(s.fact.value.key)
    );
  });
  const next = nextConnection(t.facts);
  if (next && !isReachable(next.address)) return fault('announces-inside', t.host, SHOWN, [next.source]);
  return isSecond || settings
    ? fault('announces-inside', t.host, settings ? LIKELY : FITS, settings ? [settings.source] : [])
    : null;
};

/** Endpoints of the service on which no listing shows anybody: another program may have the port. */
const unheard = (facts: CaseFacts): readonly ServiceEndpoint[] =>
  (facts.document.service?.endpoints ?? []).filter(
    (e) =>
      !factsOf(facts, 'socket').some(
        ({ fact: s }) =>
          s.port === e.port && s.protocol === e.protocol && (s.state === 'LISTEN' || s.state === 'UNCONN'),
      ),
  );

/** The program runs in a container, and the machine does not publish its port. */
const unpublished: Detector = (t) => {
  const shut = factsOf(t.facts, 'unpublished-port').find(({ fact: { value } }) =>
    unheard(t.facts).some((e) => e.port === value.port && e.protocol === value.protocol),
  );
  return shut ? fault('container-unpublished', t.host, LIKELY, [shut.source]) : null;
};

/** The system keeps the port from programs. */
const keptBack: Detector = (t) => {
  const range = factsOf(t.facts, 'kept-back').find(({ fact: { value } }) =>
    unheard(t.facts).some(
      (e) => e.protocol === value.protocol && e.port >= value.first && e.port <= value.last,
    ),
  );
  return range ? fault('port-excluded', t.host, LIKELY, [range.source]) : null;
};

/** What listings, pages and answers show. */
export const RECORDS: readonly Detector[] = [
  names,
  srvRecord,
  notices,
  lines,
  noPublicAddress,
  staleSession,
  lapsedMapping,
  off,
  announced,
  unpublished,
  keptBack,
  shutOut,
  otherWay,
];
