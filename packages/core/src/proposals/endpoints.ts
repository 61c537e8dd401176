import { type ServiceEndpoint, isDismissed } from '../case/index.ts';
import { factsOf, type CaseFacts, type ReadFile } from '../ledger/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { EndpointProposal } from './types.ts';

interface Configured {
  readonly program: string;
  readonly protocol: 'tcp' | 'udp' | null;
  readonly port: number;
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
      had.length === 1 &&
      all.length === 1 &&
      only!.portEnd === undefined &&
      protocols.includes(only!.protocol)
        ? only!
        : null;
    const endpoints: ServiceEndpoint[] = (
      instead && c.protocol === null ? [instead.protocol] : protocols
    ).map((protocol) => ({ protocol, port: c.port }));
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
  const noted = file.facts.filter((f) => f.kind === 'noted');
  const at = (f: (typeof noted)[number]): SourceRef => ({ file: file.file, ...f.at });
  const known = PROGRAMS[file.format ?? ''];
  if (known) {
    const port = noted.find((f) => f.topic === 'port');
    const bind = noted.find((f) => ['listen_addresses', 'bind-address', 'bind'].includes(f.topic));
    if (!port && !bind) return [];
    return [
      {
        program: known.name,
        protocol: 'tcp',
        port: typeof port?.value === 'number' ? port.value : known.port,
        source: at(port ?? bind!),
      },
    ];
  }
  if (file.format === 'nginx-conf') {
    return noted.flatMap((f): Configured[] => {
      const v =
        f.topic === 'listen' ? (f.value as { port?: number; address?: string; protocol?: string }) : null;
      if (!v?.port || v.address === '127.0.0.1' || v.address === '::1' || v.address === 'localhost')
        return [];
      return [
        { program: 'nginx', protocol: v.protocol === 'udp' ? 'udp' : 'tcp', port: v.port, source: at(f) },
      ];
    });
  }
  if (file.format !== 'program-config') return [];
  return noted.flatMap((f): Configured[] => {
    const v = f.value as { key?: unknown; value?: unknown };
    const key = typeof v.key === 'string' ? v.key : '';
    if (
      f.topic !== 'configured' ||
      typeof v.value !== 'number' ||
      !/port/i.test(key) ||
      OUTWARD.test(key) ||
      ASIDE.test(key)
    )
      return [];
    return [
      {
        program: `the program’s settings (${key})`,
        protocol: /udp/i.test(key) ? 'udp' : /tcp|http|web/i.test(key) ? 'tcp' : listening(facts, v.value),
        port: v.value,
        source: at(f),
      },
    ];
  });
}

/** What listens on that port tells whether it is TCP or UDP. */
function listening(facts: CaseFacts, port: number): 'tcp' | 'udp' | null {
  const protocols = new Set(
    factsOf(facts, 'socket')
      .filter((s) => s.fact.port === port && (s.fact.state === 'LISTEN' || s.fact.state === 'UNCONN'))
      .map((s) => s.fact.protocol),
  );
  return protocols.size === 1 ? [...protocols][0]! : null;
}
