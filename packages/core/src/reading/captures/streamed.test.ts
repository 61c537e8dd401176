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
      const line = (of: readonly (string | number)[]): string => of.join(' ');
      expect(streamed.packets).to.equal(packets.length);
      expect(
        streamed.flows
          .filter((f) => f.frame > 0)
          .map((f) =>
            line([
              f.protocol,
              f.source,
              f.sourcePort,
              f.destination,
              f.destinationPort,
              f.there.packets,
              f.back.packets,
              f.there.syns,
              f.back.synAcks,
              f.back.resets,
            ]),
          ),
      ).to.deep.equal(
        careful.map((f) =>
          line([
            f.protocol,
            f.source,
            f.sourcePort,
            f.destination,
            f.destinationPort,
            f.packetsForward,
            f.packetsBack,
            f.syns,
            f.synAcks,
            f.resetsBack,
          ]),
        ),
      );
    });
});
