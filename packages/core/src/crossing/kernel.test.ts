import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { expect } from 'chai';
import { checkCaseDocument } from '../case/index.ts';
import { readCase } from '../ledger/index.ts';
import { buildSite } from '../model/index.ts';
import { formatEndpoint, parseEndpoint, parseTarget, type Header } from '../net/index.ts';
import { floodDifference } from '../testing/index.ts';
import { trace, type Flood } from './index.ts';

/**
 * Random sites that were built of network namespaces: what their machines listed, and what became of packets
 * between them in the kernel (`npm run lab -- --record`).
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

const recorded = gunzipSync(readFileSync(new URL('kernel.jsonl.gz', import.meta.url)))
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

describe('what becomes of packets, as a kernel has done it', () => {
  for (const [i, { title, document, listed, packets }] of recorded.entries())
    it(`${i + 1}: ${title}`, () => {
      const encoder = new TextEncoder();
      const files = new Map(Object.entries(listed).map(([name, text]) => [name, encoder.encode(text)]));
      const site = buildSite(readCase({ document: checkCaseDocument(document), files }));
      const flooded = new Map<string, Flood>();
      const told = packets.map(({ from, to }) => {
        const result = trace(site, headerOf(from, to));
        expect(floodDifference(site, result, flooded), `${from} → ${to}`).to.equal(null);
        const { outcome, seen } = result;
        const at = seen && {
          source: formatEndpoint(seen.source),
          destination: formatEndpoint(seen.destination),
        };
        return { from, to, outcome, ...(outcome === 'answered' ? { seen: at } : {}) };
      });
      expect(told).to.deep.equal(packets);
    });
});
