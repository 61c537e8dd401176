import { expect } from 'chai';
import fc from 'fast-check';
import { captureFiles } from '../../testing/index.ts';
import { CaptureReader } from './reader.ts';
import type { CaptureSummary } from './summary.ts';

const { sent, FOUR, CLIENT_PORT, ipPacket, Writer, pcap, pcapng, byHand, container, order, SYN, ACK } =
  captureFiles;
type Sent = captureFiles.Sent;

function read(file: Uint8Array, cuts: readonly number[] = []): CaptureSummary {
  const reader = new CaptureReader();
  const places = [0, ...cuts.map((c) => c % (file.length + 1)).sort((a, b) => a - b), file.length];
  for (let i = 1; i < places.length; i++) reader.push(file.slice(places[i - 1], places[i]));
  reader.end();
  return reader.summary();
}

function told({ flows }: CaptureSummary): string[] {
  return flows
    .map((f) => {
      const isFromClient = f.sourcePort === CLIENT_PORT && f.source !== '192.168.50.20';
      const [there, back] = isFromClient ? [f.there, f.back] : [f.back, f.there];
      const port = isFromClient ? f.destinationPort : f.sourcePort;
      const family = f.source.includes(':') ? 6 : 4;
      return (
        `${f.protocol} ${family} ${port}: ${there.packets} ${back.packets} ${there.syns + back.syns} ` +
        `${there.resets + back.resets}`
      );
    })
    .sort();
}

describe('captures, read as streams', () => {
  it('count each conversation, in both containers and byte orders, however the file is cut into chunks', () =>
    fc.assert(
      fc.property(
        fc.array(sent, { maxLength: 30 }),
        container,
        order,
        fc.array(fc.nat(), { maxLength: 10 }),
        (packets, write, byteOrder, cuts) => {
          const summary = read(write(packets, byteOrder).file, cuts);
          expect(told(summary)).to.deep.equal(byHand(packets));
          expect([summary.packets, summary.understood, summary.brokenAt]).to.deep.equal([
            packets.length,
            packets.length,
            null,
          ]);
          if (packets.length > 0)
            expect([summary.first, summary.last]).to.deep.equal([1000.5, 999.5 + packets.length]);
        },
      ),
      { numRuns: 120 },
    ));

  const SOME: readonly Sent[] = [
    { protocol: 6, isSix: false, isBack: false, port: 8211, flags: SYN },
    { protocol: 6, isSix: false, isBack: true, port: 8211, flags: SYN | ACK },
    { protocol: 17, isSix: true, isBack: false, port: 1, flags: 0 },
  ];
  for (const write of [pcap, pcapng])
    it(`${write.name}: cut at every byte, it gives what stood before, and says where it breaks off`, () => {
      const { file, ends } = write(SOME, 'little');
      const head = (ends[0] ?? 0) - ((ends[1] ?? 0) - (ends[0] ?? 0));
      for (let cut = head; cut < file.length; cut++) {
        const summary = read(file.slice(0, cut));
        const whole = ends.filter((e) => e <= cut);
        expect(summary.packets, `cut at ${cut}`).to.equal(whole.length);
        const behind = whole.at(-1) ?? head;
        expect(summary.brokenAt, `cut at ${cut}`).to.equal(cut === behind ? null : behind);
      }
    });

  it('a chunk that is used again, as whoever reads a file does it', () => {
    const { file } = pcap([...SOME, ...SOME], 'little');
    const reader = new CaptureReader();
    const chunk = Buffer.alloc(13);
    for (let at = 0; at < file.length; at += chunk.length) {
      chunk.set(file.subarray(at, at + chunk.length));
      reader.push(chunk.subarray(0, Math.min(chunk.length, file.length - at)));
    }
    reader.end();
    expect(reader.summary().brokenAt).to.equal(null);
    expect(reader.summary().packets).to.equal(read(file).packets);
  });

  it('who begins with an answer was asked by the other side', () => {
    const [, answer] = SOME;
    const [flow] = read(pcap(answer ? [answer] : [], 'big').file).flows;
    expect([flow?.source, flow?.destination, flow?.destinationPort]).to.deep.equal([
      '198.51.100.23',
      '192.168.50.20',
      8211,
    ]);
    expect([flow?.there.packets, flow?.back.packets, flow?.back.synAcks]).to.deep.equal([0, 1, 1]);
  });

  for (const about of ['question', 'answer'] as const)
    it(`an ICMP error of the ${about} belongs to the conversation that it quotes`, () => {
      const asked: Sent = { protocol: 17, isSix: false, isBack: false, port: 8211, flags: 0 };
      const answered: Sent = { ...asked, isBack: true };
      const sentBefore = about === 'question' ? [asked] : [asked, answered];
      const quoted = ipPacket(about === 'question' ? asked : answered);
      const ends = about === 'question' ? [FOUR.server, FOUR.client] : [FOUR.client, FOUR.server];
      // RFC 792: type 3, code 3, checksum, four bytes that nobody uses, the packet that it is about.
      const error = [
        0x45,
        0,
        0,
        0,
        0,
        0,
        0,
        0,
        64,
        1,
        0,
        0,
        ...ends.flat(),
        3,
        3,
        0,
        0,
        0,
        0,
        0,
        0,
        ...quoted,
      ];
      const w = new Writer('little').u32(0xa1b2c3d4).u16(2, 4).u32(0, 0, 65535, 101);
      for (const bytes of [...sentBefore.map(ipPacket), error])
        w.u32(1, 0, bytes.length, bytes.length).raw(bytes);
      const { flows } = read(Uint8Array.from(w.out));
      const from = about === 'question' ? '192.168.50.20' : '198.51.100.23';
      expect(flows.map((f) => [f.destinationPort, f.there.packets, f.errors])).to.deep.equal([
        [8211, 1, [{ about, from, type: 3, code: 3, count: 1 }]],
      ]);
    });

  it('many conversations stay apart', () => {
    const w = new Writer('little').u32(0xa1b2c3d4).u16(2, 4).u32(0, 0, 65535, 101);
    const count = 20_000;
    for (let i = 0; i < count; i++) {
      const bytes = ipPacket({ protocol: 6, isSix: false, isBack: false, port: 1 + i, flags: SYN });
      w.u32(1, 0, bytes.length, bytes.length).raw(bytes);
    }
    const { flows } = read(Uint8Array.from(w.out));
    expect(flows).to.have.length(count);
    expect(flows.every((f, i) => f.destinationPort === i + 1 && f.there.syns === 1)).to.equal(true);
    expect(new Set(flows.map((f) => f.initialSequence))).to.deep.equal(new Set([1]));
  });

  it('a length that no packet has ends the reading there', () => {
    const { file, ends } = pcap(SOME, 'little');
    const at = ends[0] ?? 0;
    new DataView(file.buffer).setUint32(at + 8, 0xffffffff, true);
    const summary = read(file, [at + 3, at + 20]);
    expect([summary.packets, summary.brokenAt]).to.deep.equal([1, at]);
  });
});
