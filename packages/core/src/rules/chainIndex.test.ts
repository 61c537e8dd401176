import { expect } from 'chai';
import fc from 'fast-check';
import { nftHost, run } from '../testing/index.ts';

/** A rule as text, and what it is met by, worked out without any index. */
interface Row {
  readonly text: string;
  readonly meets: (from: string, port: number) => boolean;
}

const last = (from: string): number => Number(from.split(/[.:]/).at(-1));
const isFour = (from: string): boolean => !from.includes(':');

/** Senders on the host's own link; in the other family they have the same last number, as it is written. */
const four = (n: number): string => `198.51.100.${n}`;
const six = (n: number): string => `2001:db8::${n}`;
const SENDER = fc.integer({ min: 10, max: 60 });
const PORT = fc.constantFrom(80, 81, 443, 8214, 9999);

const rows = fc.oneof(
  SENDER.map((n): Row => ({ text: `ip saddr ${four(n)}`, meets: (from) => from === four(n) })),
  SENDER.map((n): Row => ({ text: `ip6 saddr ${six(n)}`, meets: (from) => from === six(n) })),
  SENDER.map((n): Row => ({
    text: `ip saddr 198.51.100.${n & 0xf8}/29`,
    meets: (from) => isFour(from) && (last(from) & 0xf8) === (n & 0xf8),
  })),
  SENDER.map((n): Row => ({
    text: `ip saddr != ${four(n)}`,
    meets: (from) => isFour(from) && from !== four(n),
  })),
  fc.constant<Row>({ text: 'ip saddr 198.0.0.0/8', meets: isFour }),
  fc.constant<Row>({
    text: `ip saddr { ${Array.from({ length: 20 }, (_, i) => four(10 + 2 * i)).join(', ')} }`,
    meets: (from) => isFour(from) && last(from) % 2 === 0 && last(from) < 50,
  }),
  fc.constant<Row>({ text: 'ip daddr 198.51.100.9', meets: isFour }),
  fc.constant<Row>({ text: 'ip daddr 198.51.100.10', meets: () => false }),
  fc.constant<Row>({ text: 'ip6 daddr 2001:db8::/64', meets: (from) => !isFour(from) }),
  PORT.map((p): Row => ({ text: `tcp dport ${p}`, meets: (_, port) => port === p })),
  PORT.map((p): Row => ({ text: `tcp dport != ${p}`, meets: (_, port) => port !== p })),
  fc.constant<Row>({ text: 'tcp dport { 80-82, 9999 }', meets: (_, port) => port <= 82 || port === 9999 }),
  fc.constant<Row>({ text: 'tcp dport 400-9000', meets: (_, port) => port >= 400 && port <= 9000 }),
  fc.constant<Row>({ text: 'udp dport 80', meets: () => false }),
  fc.tuple(SENDER, PORT).map(([n, p]): Row => ({
    text: `ip saddr ${four(n)} tcp dport ${p}`,
    meets: (from, port) => from === four(n) && port === p,
  })),
  fc.constant<Row>({ text: 'meta l4proto udp', meets: () => false }),
);

describe('a long chain, looked up by addresses and ports', () => {
  it('meets a packet with the same rule as one that is walked', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(rows, fc.constantFrom('accept', 'drop', 'counter')), {
          minLength: 24,
          maxLength: 60,
        }),
        fc.array(fc.tuple(SENDER, PORT, fc.boolean()), { minLength: 4, maxLength: 12 }),
        (list, packets) => {
          const text = list.map(([row, end]) => `${row.text} ${end}`).join('\n\t\t');
          const site = nftHost(text, { policy: 'drop' });
          for (const [n, port, isSix] of packets) {
            const from = isSix ? six(n) : four(n);
            const met = list.find(([row, end]) => end !== 'counter' && row.meets(from, port));
            const target = isSix ? '[2001:db8::9]' : '198.51.100.9';
            const source = isSix ? `[${from}]:40000` : `${from}:40000`;
            const { reached, ending } = run(site, source, `${target}:${port}/tcp`).shown;
            // Past the filter only port 80 has a listener; a closed port is told from a rule that drops.
            const passed = reached !== null || ending.kind === 'closed-port';
            expect(passed, `${from} to ${port} through\n${text}`).to.equal(met?.[1] === 'accept');
          }
        },
      ),
      { numRuns: 150 },
    )).timeout(60_000);
});
