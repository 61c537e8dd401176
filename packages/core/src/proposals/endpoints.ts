import { type ServiceEndpoint, isDismissed } from '../case/index.ts';
import { factsOf, toldIn, type CaseFacts, type ReadFile } from '../ledger/index.ts';
import { nth, type SourceRef, type Span } from '../place/index.ts';
import type { EndpointProposal } from './types.ts';

interface Configured {
  readonly program: string;
  readonly protocol: 'tcp' | 'udp' | null;
  readonly port: number;
  readonly portEnd?: number;
  readonly source: SourceRef;
}

/** Keys of connections that a program makes itself. */
const OUTWARD =
  /db|database|sql|redis|smtp|mail|proxy|upstream|remote|dns|ldap|mongo|cache|steam_query_out|master/i;
/** Keys of consoles and status pages: ports of the program, not of its service. */
const ASIDE = /rcon|query|metrics|debug|admin|telnet|prometheus|health/i;
const PROGRAMS: Readonly<Record<string, { readonly name: string; readonly port: number }>> = {
  'postgresql-conf': { name: 'PostgreSQL', port: 5432 },
  'mariadb-conf': { name: 'MariaDB', port: 3306 },
  'redis-conf': { name: 'Redis', port: 6379 },
};

/** Ports that configurations name and that the service of the case lacks. */
export function endpointProposals(facts: CaseFacts): EndpointProposal[] {
  const had = facts.document.service?.endpoints ?? [];
  const hosts = new Set(facts.document.path.filter((s) => s.role === 'host').map((s) => s.id));
  const all = facts.files.filter((f) => hosts.has(f.stop)).flatMap((f) => configuredBy(f, facts));
  const seen = new Set<string>();
  return all.flatMap((c): EndpointProposal[] => {
    const protocols: readonly ('tcp' | 'udp')[] = c.protocol ? [c.protocol] : ['tcp', 'udp'];
    const id = `endpoint/${c.protocol ?? 'either'}/${c.port}`;
    const covered = had.some(
      (e) => protocols.includes(e.protocol) && c.port >= e.port && c.port <= (e.portEnd ?? e.port),
    );
    if (covered || seen.has(id) || isDismissed(facts.document, id)) return [];
    seen.add(id);
    const [only] = had;
    const instead =
      only &&
      had.length === 1 &&
      all.length === 1 &&
      only.portEnd === undefined &&
      protocols.includes(only.protocol)
        ? only
        : null;
    const endpoints: ServiceEndpoint[] = (
      instead && c.protocol === null ? [instead.protocol] : protocols
    ).map((protocol) => ({ protocol, port: c.port, ...(c.portEnd ? { portEnd: c.portEnd } : {}) }));
    return [
      {
        kind: 'endpoint',
        id,
        endpoints,
        program: c.program,
        instead,
        protocolUnsaid: c.protocol === null,
        evidence: [c.source],
      },
    ];
  });
}

function configuredBy(file: ReadFile, facts: CaseFacts): Configured[] {
  const at = (f: { readonly at: Span }): SourceRef => ({ file: file.file, ...f.at });
  const known = PROGRAMS[file.format ?? ''];
  if (known) {
    const [port] = toldIn(file, 'program-port');
    const said = port ?? toldIn(file, 'program-bind')[0];
    return said
      ? [{ program: known.name, protocol: 'tcp', port: port?.value ?? known.port, source: at(said) }]
      : [];
  }
  if (file.format === 'transfer-config') return transferPorts(file, at);
  const web = toldIn(file, 'listen')
    .filter(({ value: v }) => v.address === undefined || !LOOPBACK.has(v.address))
    .map((f): Configured => {
      const protocol = f.value.protocol === 'udp' ? 'udp' : 'tcp';
      return { program: 'nginx', protocol, port: f.value.port, source: at(f) };
    });
  const others = toldIn(file, 'program-setting').flatMap((f): Configured[] => {
    const { key, value: port } = f.value;
    if (typeof port !== 'number' || !/port/i.test(key) || OUTWARD.test(key) || ASIDE.test(key)) return [];
    return [
      {
        program: `the program’s settings (${key})`,
        protocol: protocolOfKey(key) ?? listening(facts, port),
        port,
        source: at(f),
      },
    ];
  });
  return [...web, ...others];
}

/** The port that clients dial, and those of the connections that follow (RFC 959 §3.2). */
function transferPorts(file: ReadFile, at: (f: { readonly at: Span }) => SourceRef): Configured[] {
  const program = 'the file transfer program';
  const ports = toldIn(file, 'program-port').map((f): Configured => {
    return { program, protocol: 'tcp', port: f.value, source: at(f) };
  });
  const data = toldIn(file, 'data-ports').map(({ value, ...f }): Configured => {
    return { program, protocol: 'tcp', port: value.first, portEnd: value.last, source: at(f) };
  });
  return [...ports, ...data];
}

const LOOPBACK: ReadonlySet<string> = new Set(['127.0.0.1', '::1', 'localhost']);

function protocolOfKey(key: string): 'tcp' | 'udp' | null {
  if (/udp/i.test(key)) return 'udp';
  return /tcp|http|web/i.test(key) ? 'tcp' : null;
}

/** What listens on that port tells whether it is TCP or UDP. */
function listening(facts: CaseFacts, port: number): 'tcp' | 'udp' | null {
  const protocols = new Set(
    factsOf(facts, 'socket')
      .filter((s) => s.fact.port === port && (s.fact.state === 'LISTEN' || s.fact.state === 'UNCONN'))
      .map((s) => s.fact.protocol),
  );
  return protocols.size === 1 ? nth([...protocols], 0) : null;
}
