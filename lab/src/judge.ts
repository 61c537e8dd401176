import type { CaseDocument } from '@bright-ferry/core/case';
import { buildSite } from '@bright-ferry/core/model';
import { readCase } from '@bright-ferry/core/ledger';
import { trace, type Flood, type Trace } from '@bright-ferry/core/crossing';
import { floodDifference } from '@bright-ferry/core/testing';
import { formatEndpoint, parseEndpoint, parseTarget, type Header } from '@bright-ferry/core/net';
import { collect, IPTABLES, LISTINGS, entryOf } from './collect.ts';
import { Network } from './namespaces.ts';
import type { LabSite } from './sites.ts';

const LISTEN = new URL('../tools/listen.py', import.meta.url).pathname;
const PROBE = new URL('../tools/probe.py', import.meta.url).pathname;

/** What the kernel did with one packet, as its sender heard it. */
export interface Truth {
  readonly outcome: 'answered' | 'refused' | 'lost';
  readonly errno?: string;
  /** When the refusal came, seconds after the first packet. */
  readonly seconds?: number;
  readonly seen?: { readonly source: string; readonly destination: string };
}

export interface Comparison {
  readonly packet: LabSite['packets'][number];
  readonly truth: Truth;
  readonly trace: Trace;
  readonly agrees: boolean;
  /** What flood says differently of the first packet; null where it says the same. */
  readonly floodDiffers: string | null;
}

export interface Judged {
  readonly comparisons: readonly Comparison[];
  readonly evidence: ReadonlyMap<string, string>;
  readonly document: CaseDocument;
}

/**
 * Builds the site in namespaces, makes all connections, collects the evidence, and compares with what the
 * core says.
 */
export async function judge(site: LabSite, label: string): Promise<Judged> {
  const network = new Network(label);
  try {
    for (const m of site.machines) network.machine(m.name);
    for (const [a, b] of site.cables) network.cable(a, b);
    for (const ends of site.segments) network.segment(ends);
    network.settle();
    await network.meet();
    for (const m of site.machines) {
      for (const setting of m.settings) network.run(m.name, `sysctl -qw ${setting}`);
      for (const route of m.routes)
        network.run(
          m.name,
          `ip ${route.startsWith('-6 ') ? '-6 route add' : 'route add'} ${route.replace(/^-6 /, '')}`,
        );
      if (m.rules !== '') network.run(m.name, 'nft -f -', m.rules);
      if (m.iptables) network.run(m.name, 'iptables-restore', m.iptables);
      if (m.ip6tables) network.run(m.name, 'ip6tables-restore', m.ip6tables);
    }
    for (const m of site.machines) if (m.sockets.length > 0) await listen(network, m.name, m.sockets);
    const truths = await probeAll(network, site);
    const evidence = new Map(
      site.machines.flatMap((m) => [
        ...collect(
          network,
          m.name,
          m.iptables ? [...LISTINGS[site.listing], ...IPTABLES] : LISTINGS[site.listing],
        ),
      ]),
    );
    const document = { ...documentOf(site), evidence: [...evidence.keys()].map(entryOf) };
    return { comparisons: compare(document, site, truths, evidence), evidence, document };
  } finally {
    network.close();
  }
}

async function listen(network: Network, machine: string, sockets: readonly object[]): Promise<void> {
  const child = network.start(machine, ['python3', LISTEN, JSON.stringify(sockets)]);
  let trouble = '';
  child.stderr!.on('data', (chunk: Buffer) => (trouble += chunk.toString()));
  await new Promise<void>((resolve, reject) => {
    child.stdout!.once('data', () => resolve());
    child.once('exit', () => reject(new Error(`the listener on ${machine} did not start: ${trouble}`)));
  });
}

async function probeAll(network: Network, site: LabSite): Promise<Truth[]> {
  const truths: Truth[] = [];
  const clients = [...new Set(site.packets.map((p) => p.client))];
  await Promise.all(
    clients.map(async (client) => {
      const mine = site.packets.flatMap((p, i) => (p.client === client ? [{ p, i }] : []));
      const child = network.start(client, [
        'sh',
        '-c',
        `python3 ${PROBE} <<'EOF'\n${JSON.stringify(mine.map(({ p }) => ({ from: p.from, to: p.to })))}\nEOF`,
      ]);
      let out = '';
      let trouble = '';
      child.stdout!.on('data', (chunk: Buffer) => (out += chunk.toString()));
      child.stderr!.on('data', (chunk: Buffer) => (trouble += chunk.toString()));
      await new Promise<void>((resolve) => child.once('close', () => resolve()));
      if (out === '') throw new Error(`the probe on ${client} failed: ${trouble}`);
      (JSON.parse(out) as Truth[]).forEach((truth, k) => (truths[mine[k]!.i] = truth));
    }),
  );
  return truths;
}

/** Three tries of a second each: earlier than this an EHOSTUNREACH is not a failed address resolution. */
const RESOLUTION = 2.5;

/**
 * A repeated packet may meet what the first one did not (it then belongs to a session), and the core speaks
 * of the first one. Late by nature are only failed address resolution and routing errors, which the kernel
 * holds back.
 */
const byRepetition = ({ outcome, errno, seconds = 0 }: Truth): boolean =>
  outcome === 'refused' &&
  seconds > 0.9 &&
  errno !== 'ENETUNREACH' &&
  !(errno === 'EHOSTUNREACH' && seconds > RESOLUTION);

const documentOf = (site: LabSite): CaseDocument => ({
  format: 'bright-ferry-case',
  version: 1,
  title: site.title,
  path: site.machines.map((m) => ({ id: m.name, role: m.role })),
});

function compare(
  document: CaseDocument,
  site: LabSite,
  truths: readonly Truth[],
  evidence: ReadonlyMap<string, string>,
): Comparison[] {
  const encoder = new TextEncoder();
  const model = buildSite(
    readCase({ document, files: new Map([...evidence].map(([path, text]) => [path, encoder.encode(text)])) }),
  );
  const flooded = new Map<string, Flood>();
  return site.packets.flatMap((packet, i) => {
    const target = parseTarget(packet.to)!;
    const header: Header = {
      transport: target.transport,
      source: parseEndpoint(packet.from)!,
      destination: { address: target.address, port: target.port },
    };
    const result = trace(model, header);
    const truth = truths[i]!;
    if (byRepetition(truth)) return [];
    const seen = result.seen && {
      source: formatEndpoint(result.seen.source),
      destination: formatEndpoint(result.seen.destination),
    };
    const agrees =
      result.outcome === truth.outcome &&
      (truth.outcome !== 'answered' ||
        (seen?.source === truth.seen?.source && seen?.destination === truth.seen?.destination));
    return [{ packet, truth, trace: result, agrees, floodDiffers: floodDifference(model, result, flooded) }];
  });
}
