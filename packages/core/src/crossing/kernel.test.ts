import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { expect } from 'chai';
import { checkCaseDocument } from '../case/index.ts';
import { readCase } from '../ledger/index.ts';
import { buildSite } from '../model/index.ts';
import { formatEndpoint, parseEndpoint, parseTarget, type Header } from '../net/index.ts';
import { floodDifference } from '../testing/index.ts';
import { trace, type Flood } from './index.ts';
import type { Need } from '../rules/index.ts';

/**
 * Sites that were built of network namespaces: what their machines listed, and what became of packets between
 * them in the kernel (`npm run lab -- --record`).
 */
interface Recorded {
  readonly title: string;
  readonly document: unknown;
  readonly listed: Readonly<Record<string, string>>;
  readonly packets: readonly {
    readonly from: string;
    readonly to: string;
    readonly outcome: 'answered' | 'refused' | 'lost';
    /** The packet as the program that answered saw it. */
    readonly seen?: { readonly source: string; readonly destination: string };
  }[];
}

const recordedIn = (file: string): Recorded[] =>
  gunzipSync(readFileSync(new URL(file, import.meta.url)))
    .toString('utf8')
    .split('\n')
    .filter((line) => line !== '')
    .map((line) => JSON.parse(line) as Recorded);

function headerOf(from: string, to: string): Header {
  const [source, target] = [parseEndpoint(from), parseTarget(to)];
  if (!source || !target) throw new Error(`no packet from ${from} to ${to}`);
  const { transport, address, port } = target;
  return { transport, source, destination: { address, port } };
}

/** What no evidence tells: how far a sender is, and what generated rules read of a header's bytes. */
const isBeyondEvidence = (need: Need): boolean =>
  need.need === 'time-to-live' || JSON.stringify(need).includes('raw header match');

/** Holds a recorded site against what is worked out; returns how many packets were left open. */
function compare({ document, listed, packets }: Recorded): number {
  const encoder = new TextEncoder();
  const files = new Map(Object.entries(listed).map(([name, text]) => [name, encoder.encode(text)]));
  const site = buildSite(readCase({ document: checkCaseDocument(document), files }));
  const flooded = new Map<string, Flood>();
  let open = 0;
  const told = packets.map((packet) => {
    const { from, to } = packet;
    const result = trace(site, headerOf(from, to));
    expect(floodDifference(site, result, flooded), `${from} → ${to}`).to.equal(null);
    const { outcome, seen, needs } = result;
    if (outcome === 'unknown' && needs.some((q) => isBeyondEvidence(q.need))) {
      open++;
      return packet;
    }
    const at = seen && {
      source: formatEndpoint(seen.source),
      destination: formatEndpoint(seen.destination),
    };
    return { from, to, outcome, ...(outcome === 'answered' ? { seen: at } : {}) };
  });
  expect(told).to.deep.equal(packets);
  return open;
}

describe('what becomes of packets, as a kernel has done it', () => {
  for (const [i, site] of recordedIn('kernel.jsonl.gz').entries())
    it(`${i + 1}: ${site.title}`, () => expect(compare(site)).to.equal(0));
});

describe('every statement of nft and iptables that is modelled, as a kernel has done it', () => {
  let [all, open] = [0, 0];
  for (const site of recordedIn('statements.jsonl.gz'))
    it(site.title, () => {
      open += compare(site);
      all += site.packets.length;
    });

  it('hardly any is left open', () => expect(open).to.be.below(all * 0.02));
});
