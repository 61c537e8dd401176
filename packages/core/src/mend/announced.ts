import { factsOf, type CaseFacts } from '../ledger/index.ts';
import { isReachable, parseAddress, sameAddress, type Address, type Header } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Mend } from './mend.ts';

/** Ports on which programs answer first and name the port of the next connection (IANA: ftp, rtsp, sip). */
const FIRST_PORTS: ReadonlySet<number> = new Set([21, 554, 5060]);

/** Where a program sends its clients after its first answer. */
export interface NextConnection {
  readonly address: Address;
  /** null: a port of its own for each connection, which nobody has seen yet. */
  readonly port: number | null;
  /** The setting that says so; null: it said so to a client. */
  readonly key: string | null;
  readonly source: SourceRef;
}

/** What the newest evidence shows a program to announce; null where it names the address that was dialled. */
export function nextConnection(facts: CaseFacts): NextConnection | null {
  const all = factsOf(facts, 'announced');
  // Told a port alone, the client stays at the address that it dialled, whatever the settings would announce.
  const told = all.filter(({ fact }) => fact.value.key === null).at(-1);
  if (told && told.fact.value.address === null) return null;
  const said = all.flatMap(({ fact, source }) => {
    const address = fact.value.address === null ? null : parseAddress(fact.value.address);
    return address ? [{ address, port: fact.value.port, key: fact.value.key, source }] : [];
  });
  const latest = said[said.length - 1];
  if (!latest) return null;
  const same = said.filter((s) => sameAddress(s.address, latest.address));
  // What was said to a client names the port, and the configuration the setting.
  const port = same.map((s) => s.port).find((p) => p !== null) ?? null;
  const key = same.map((s) => s.key).find((k) => k !== null) ?? null;
  return { ...latest, port, key };
}

/**
 * The first connection is answered, and the next one goes to an address that this client does not reach: an
 * inside one, or another than the one dialled.
 */
export function announcedMend(facts: CaseFacts, packet: Header): Mend | null {
  const next = nextConnection(facts);
  const stop = facts.document.path.filter((s) => s.role === 'host').at(-1)?.id;
  if (!next || stop === undefined || !isFirst(facts, packet)) return null;
  const dialled = packet.destination.address;
  if (sameAddress(next.address, dialled) || !isReachable(packet.source.address)) return null;
  return {
    fault: 'announces-inside',
    stop,
    finding: {
      found: 'announces',
      now: next.address,
      port: next.port,
      mended: dialled,
      key: next.key,
      dataPorts: factsOf(facts, 'data-ports').at(-1)?.fact.value ?? null,
    },
    evidence: [next.source],
    apply: null,
  };
}

/** Whether it is for the port that answers first: other services of the same machine announce nothing. */
function isFirst(facts: CaseFacts, { destination, transport }: Header): boolean {
  if (transport !== 'tcp') return false;
  const own = facts.files
    .filter((f) => f.format === 'transfer-config')
    .flatMap((f) => f.facts.flatMap((x) => (x.kind === 'program-port' ? [x.value] : [])));
  const only = facts.document.service?.endpoints?.length === 1;
  return only || FIRST_PORTS.has(destination.port) || own.includes(destination.port);
}
