import { readFileSync } from 'node:fs';
import { CaseError, type CaseFolder } from '@bright-ferry/core/case';
import { trace, traceAnyPort, type Trace } from '@bright-ferry/core/crossing';
import { buildSite } from '@bright-ferry/core/model';
import { readCase } from '@bright-ferry/core/ledger';
import { formatEndpoint, parseEndpoint, parseTarget, type Header } from '@bright-ferry/core/net';
import { stopNames } from '@bright-ferry/core/views';
import { traceDocument } from './traceDocument.ts';
import { UsageError } from './errors.ts';
import { refuseWrongSettings } from './settings.ts';

/** Port of a `--from` that names none: an ephemeral one (RFC 6056). */
const ANY_CLIENT_PORT = 49152;

/** `198.51.100.23:40001`, `[2001:db8::1]:40001` */
const NAMES_PORT = /^(?:[\d.]+|\[.*\]):\d+$/;

/** Packets whose `--from` names no port: it may be any that a client takes by itself. */
const openPorts = new WeakSet<Header>();

/** Reads one packet from its two texts. @throws UsageError naming the place and the problem */
export function packetFrom(from: unknown, to: unknown, where: string): Header {
  const source = typeof from === 'string' ? parseEndpoint(from, ANY_CLIENT_PORT) : null;
  if (!source)
    throw new UsageError(
      `${where}: “from” must be ADDRESS or ADDRESS:PORT (IPv6 as [ADDRESS]:PORT), not ` +
        `${JSON.stringify(from)}`,
    );
  const target = typeof to === 'string' ? parseTarget(to) : null;
  if (!target)
    throw new UsageError(
      `${where}: “to” must be ADDRESS:PORT/tcp or ADDRESS:PORT/udp, not ${JSON.stringify(to)}`,
    );
  if (source.address.family !== target.address.family)
    throw new UsageError(`${where}: “from” and “to” are of different IP versions`);
  const packet = {
    transport: target.transport,
    source,
    destination: { address: target.address, port: target.port },
  };
  if (typeof from === 'string' && !NAMES_PORT.test(from)) openPorts.add(packet);
  return packet;
}

/** Reads the list of `--packets`. @throws UsageError */
export function packetsFrom(file: string): Header[] {
  let list: unknown;
  try {
    list = JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    throw new CaseError(
      file,
      null,
      error instanceof SyntaxError ? `not valid JSON (${error.message})` : 'cannot be read',
    );
  }
  if (!Array.isArray(list)) throw new CaseError(file, 1, 'a list of { "from", "to" } is expected');
  return list.map((item: unknown, i) => {
    const { from, to } = (typeof item === 'object' && item !== null ? item : {}) as {
      from?: unknown;
      to?: unknown;
    };
    return packetFrom(from, to, `${file}: packet ${i + 1}`);
  });
}

/** Traces packets through a case. */
export function traceCase(
  folder: CaseFolder,
  packets: readonly Header[],
): { documents: ReturnType<typeof traceDocument>[]; traces: Trace[] } {
  const facts = readCase(folder);
  const site = buildSite(facts);
  refuseWrongSettings(site);
  const names = stopNames(facts);
  const traces = packets.map((packet) =>
    openPorts.has(packet) ? traceAnyPort(site, packet) : trace(site, packet),
  );
  return { traces, documents: traces.map((t) => traceDocument(t, names)) };
}

/** One trace for people: the way, stop by stop, and the verdict. */
export function traceText(document: ReturnType<typeof traceDocument>, packet: Header): string {
  const lines = [
    `${packet.transport} ${formatEndpoint(packet.source)} → ` +
      `${formatEndpoint(packet.destination)}: ` +
      `${document.outcome}${document.stop ? ` at ${document.stop}` : ''}`,
    `  ${document.because.text}`,
  ];
  for (const { direction, stop, before, after, rule } of document.legs) {
    const isTurned = after.destination !== before.destination || after.source !== before.source;
    lines.push(
      `  ${direction === 'forward' ? '→' : '←'} ${stop}: ${before.source} → ${before.destination}` +
        `${isTurned ? `  becomes  ${after.source} → ${after.destination}` : ''}` +
        `${rule ? `  [${rule}]` : ''}`,
    );
  }
  for (const need of document.needs) lines.push(`  would settle it: ${need}`);
  return lines.join('\n');
}
