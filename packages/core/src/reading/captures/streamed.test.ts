import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { CaptureReader } from '../../traffic/index.ts';
import { readCaptureFile } from './container.ts';
import { flowsOf } from './flows.ts';
import { frameOf } from './frame.ts';

const EXAMPLES = fileURLToPath(new URL('./examples/', import.meta.url));

describe('recorded captures', () => {
  for (const name of readdirSync(EXAMPLES).filter((n) => /\.pcap(?:ng)?$/.test(n)))
    it(`${name}: read as a stream and read at leisure, the conversations are the same`, () => {
      const bytes = new Uint8Array(readFileSync(`${EXAMPLES}${name}`));
      const reader = new CaptureReader();
      for (let at = 0; at < bytes.length; at += 7) reader.push(bytes.slice(at, at + 7));
      reader.end();
      const streamed = reader.summary();
      const file = readCaptureFile(bytes);
      const packets = file?.packets ?? [];
      const careful = flowsOf(
        packets.map((packet) => ({ packet, frame: frameOf(packet.link, packet.bytes) })),
        [],
      );
      expect(streamed.packets).to.equal(packets.length);
      const who = (f: { protocol: string; source: string; sourcePort: number }): string =>
        `${f.protocol} ${f.source} ${f.sourcePort}`;
      const seen = streamed.flows
        .filter((f) => f.frame > 0)
        .map((f) => ({
          ...f,
          counts: [f.there.packets, f.back.packets, f.there.syns, f.back.synAcks, f.back.resets],
        }));
      const errors = (list: readonly { about: string; from: string; type: number; code: number }[]): string =>
        [...new Set(list.map((e) => `${e.about} ${e.from} ${e.type}/${e.code}`))].sort().join(', ');
      expect(seen.map((f) => `${f.firstPayload} ${errors(f.errors)}`)).to.deep.equal(
        careful.map((f) => `${f.firstPayload} ${errors(f.errors)}`),
      );
      expect(
        seen.map((f) => `${who(f)} ${f.destination} ${f.destinationPort}: ${f.counts.join(' ')}`),
      ).to.deep.equal(
        careful.map(
          (f) =>
            `${who(f)} ${f.destination} ${f.destinationPort}: ` +
            `${[f.packetsForward, f.packetsBack, f.syns, f.synAcks, f.resetsBack].join(' ')}`,
        ),
      );
    });
});
