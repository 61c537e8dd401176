import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { caseFacts } from '../../testing/index.ts';
import { readBytes } from '../../ledger/index.ts';
import { printed } from '../../facts/index.ts';
import { readCapture } from './index.ts';

const at = (name: string): Uint8Array =>
  readFileSync(fileURLToPath(new URL(`./examples/${name}`, import.meta.url)));
/** Facts of recorded captures as another program printed them. */
const EXPECTED = JSON.parse(
  readFileSync(fileURLToPath(new URL('./examples/expected.json', import.meta.url)), 'utf8'),
) as Record<string, Record<string, unknown>>;
const noted = (bytes: Uint8Array, topic: string): unknown[] =>
  readCapture(bytes)!
    .facts.flatMap((f) => printed(f) ?? [])
    .filter((p) => p.group === topic)
    .map((f) => f.value);
const texts = (name: string): string[] =>
  readCapture(at(name))!
    .facts.flatMap((f) => printed(f) ?? [])
    .filter((p) => p.group === 'conversations')
    .map((f) => f.text);

describe('packet captures', () => {
  for (const [name, facts] of Object.entries(EXPECTED)) {
    it(`${name}: what another program says of it`, () => {
      const bytes = at(name);
      // Other conversations are background: those of the minutes before.
      const port = (facts['flow'] as { forwardTuple?: { sourcePort: number } } | undefined)?.forwardTuple
        ?.sourcePort;
      const own = noted(bytes, 'conversations').find(
        (c) => (c as { forwardTuple: { sourcePort: number } }).forwardTuple.sourcePort === port,
      ) as { perInterface?: unknown } | undefined;
      for (const [key, value] of Object.entries(facts)) {
        let found;
        if (key === 'flow') found = [own];
        else if (key === 'perInterface') found = [own?.perInterface];
        else found = noted(bytes, key);
        if (key === 'flow' || key === 'captureFile') expect(found[0], key).to.deep.include(value as object);
        else if (key === 'icmp')
          (value as object[]).forEach((v) =>
            expect(
              found.some((f) => Object.entries(v).every(([k, x]) => (f as Record<string, unknown>)[k] === x)),
              JSON.stringify(v),
            ).to.equal(true),
          );
        else expect(found[0], key).to.deep.equal(value);
      }
    });
  }

  it('says in one line what became of each conversation', () => {
    expect(texts('refused-big-endian.pcap')).to.deep.equal([
      'TCP 198.51.100.23:40003 → 192.168.50.20:8214: refused with a reset',
    ]);
    expect(texts('no-answer-cooked-v2-nano.pcap')[0]).to.match(/nothing back$/);
    expect(texts('answered-elsewhere.pcap')).to.deep.equal([
      'TCP 192.168.50.77:40010 → 203.0.113.50:8211: answered from 192.168.50.20:8211 instead, which ' +
        'the client does not take',
    ]);
    expect(texts('both-sides-cooked-v2.pcap')[0]).to.contain('(sent on to 192.168.50.20:27115)');
    expect(
      readCapture(at('unreachable.pcapng'))!
        .facts.map((f) => printed(f)?.text ?? '')
        .join('\n'),
    ).to.contain('192.168.50.20 says “port unreachable” to 198.51.100.23 about udp to 192.168.50.20:27016');
  });

  it('a capture that breaks off says where, and gives what came before', () => {
    const whole = at('cooked-v1.pcap');
    const reading = readCapture(whole.subarray(0, whole.length - 10))!;
    expect(reading.problems[0]!.why).to.deep.include({ is: 'capture-cut', packets: 9, damaged: false });
    expect(noted(whole.subarray(0, whole.length - 10), 'packets')).to.deep.equal([9]);
  });

  it('survives every cut and many flipped bytes', () => {
    for (const name of Object.keys(EXPECTED)) {
      const whole = at(name);
      for (let cut = 0; cut < whole.length; cut += 7)
        expect(() => readCapture(whole.subarray(0, cut))).to.not.throw();
      for (let i = 0; i < whole.length; i += 3) {
        const bytes = Uint8Array.from(whole);
        bytes[i] = bytes[i]! ^ 0xff;
        expect(() => readCapture(bytes), `${name} byte ${i}`).to.not.throw();
      }
    }
  });

  it('is evidence like any other, and no text is taken for one', () => {
    expect(readBytes(at('tagged.pcap'))!.format).to.equal('capture');
    expect(
      readCapture(new TextEncoder().encode('default via 192.168.50.1 dev eno1 proto static\n')),
    ).to.equal(null);
    expect(
      caseFacts([
        { id: 'client', role: 'client' },
        { id: 'host', role: 'host' },
      ]).files,
    ).to.deep.equal([]);
  });
});
