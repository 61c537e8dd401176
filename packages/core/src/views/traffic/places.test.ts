import { expect } from 'chai';
import { checkCaseDocument } from '../../case/index.ts';
import { readCase } from '../../ledger/index.ts';
import { caseFacts, HOME } from '../../testing/index.ts';
import { placesView } from './places.ts';

const CLIENT = '198.51.100.23.51514';
const WAN = '203.0.113.50.8214';
const OWN = '192.168.50.20.8214';
const HEARD = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
};
/** As tcpdump prints it. */
const packet = (second: number, from: string, to: string, flags: string): string =>
  `17:02:0${second}.100000 IP ${from} > ${to}: Flags [${flags}], seq 1, win 64240, length 0\n`;
const asked = (from: string, to: string): string =>
  packet(1, from, to, 'S') + packet(2, from, to, 'S') + packet(4, from, to, 'S');
const answered = (from: string, to: string): string =>
  packet(1, from, to, 'S') + packet(1, to, from, 'S.') + packet(1, from, to, '.');
const refused = (from: string, to: string): string => packet(1, from, to, 'S') + packet(1, to, from, 'R.');
/** As `conntrack -L` prints it: a destination that is translated, and no answer yet. */
const SESSION =
  'tcp      6 110 SYN_SENT src=198.51.100.23 dst=203.0.113.50 sport=51514 dport=8214 [UNREPLIED] ' +
  'src=192.168.50.20 dst=198.51.100.23 sport=8214 dport=51514 mark=0 use=1\n';

const view = (files: Readonly<Record<string, string>>) =>
  placesView(caseFacts(HOME, files, HEARD), (id) => id ?? '');

describe('one try, place by place', () => {
  it('is followed across the translation, and its answer back', () => {
    const v = view({ 'gateway/capture': answered(CLIENT, WAN), 'host/capture': answered(CLIENT, OWN) });
    expect(v?.places.map((p) => [p.stop, p.question.from, p.question.to])).to.deep.equal([
      ['gateway', '198.51.100.23:51514', '203.0.113.50:8214'],
      ['host', '198.51.100.23:51514', '192.168.50.20:8214'],
    ]);
    expect(v?.places[1]?.question).to.include({ isFromTurned: false, isToTurned: true });
    expect(v?.places[1]?.answer).to.deep.equal({
      from: '192.168.50.20:8214',
      to: '198.51.100.23:51514',
      isFromTurned: true,
      isToTurned: false,
    });
    expect(v?.headline).to.equal(
      'The question arrives at the host as 198.51.100.23:51514 → 192.168.50.20:8214, and its answer is ' +
        'seen at the gateway.',
    );
  });

  for (const [title, gateway, host, end] of [
    ['no answer leaves the server', asked(CLIENT, WAN), asked(CLIENT, OWN), ', and no answer is seen there.'],
    ['the server refuses it', refused(CLIENT, WAN), refused(CLIENT, OWN), ', and the host refuses it.'],
    [
      'the answer does not come back to the gateway',
      asked(CLIENT, WAN),
      answered(CLIENT, OWN),
      ', and is answered; the answer is not seen at the gateway.',
    ],
  ] as const)
    it(title, () => {
      const v = view({ 'gateway/capture': gateway, 'host/capture': host });
      expect(v?.headline.endsWith(end), v?.headline).to.equal(true);
    });

  it('a session table tells what the question is behind it', () => {
    const v = view({ 'gateway/sessions': SESSION, 'host/capture': asked(CLIENT, OWN) });
    expect(v?.places.map((p) => [p.stop, p.by])).to.deep.equal([
      ['gateway', 'sessions'],
      ['host', 'capture'],
    ]);
    const elsewhere = view({
      'gateway/sessions': SESSION,
      'host/capture': asked(CLIENT, '192.168.50.99.8214'),
    });
    expect(elsewhere).to.equal(null);
  });

  it('a source that was translated as well is matched by the destination that stayed', () => {
    const v = view({
      'gateway/capture': asked(CLIENT, OWN),
      'host/capture': asked('192.168.50.1.40001', OWN),
    });
    expect(v?.places[1]?.question).to.include({ isFromTurned: true, isToTurned: false });
  });

  it('another sender’s question to the same program is not this one', () => {
    const v = view({
      'gateway/capture': asked(CLIENT, OWN),
      'host/capture': asked('198.51.100.97.40001', OWN),
    });
    expect(v).to.equal(null);
  });

  it('where both ends were translated, the number with which the connection began tells it', () => {
    const numbered = (text: string, n: number): string => text.replaceAll('seq 1,', `seq ${n},`);
    const [gateway, relay] = [asked(CLIENT, WAN), asked('192.168.50.1.40001', '192.168.50.20.9214')];
    const match = (a: number, b: number) =>
      view({ 'gateway/capture': numbered(gateway, a), 'host/capture': numbered(relay, b) });
    expect(match(2884942783, 2884942783)?.places[1]?.question).to.include({
      from: '192.168.50.1:40001',
      to: '192.168.50.20:9214',
      isFromTurned: true,
      isToTurned: true,
    });
    expect(match(2884942783, 2884942784)).to.equal(null);
    // The same ends with another number are another connection.
    expect(
      view({
        'gateway/capture': numbered(gateway, 77777),
        'host/capture': numbered(asked(CLIENT, OWN), 88888),
      }),
    ).to.equal(null);
  });

  it('one place alone, another client, or several that may be it: nothing is put together', () => {
    expect(view({ 'gateway/capture': asked(CLIENT, WAN) })).to.equal(null);
    const other = '198.51.100.97.51514';
    expect(view({ 'gateway/capture': asked(other, WAN), 'host/capture': asked(other, OWN) })).to.equal(null);
    const two = asked('192.168.50.1.40001', OWN) + asked('192.168.50.1.40002', OWN);
    expect(view({ 'gateway/capture': asked(CLIENT, OWN), 'host/capture': two })).to.equal(null);
  });

  describe('of UDP, where both ends were translated', () => {
    const say = (text: string): number[] => [...text].map((c) => c.charCodeAt(0));
    const four = (address: string): number[] => address.split('.').map(Number);
    const u16 = (n: number): number[] => [n >> 8, n & 255];
    const u32 = (n: number): number[] => [...u16(n >>> 16), ...u16(n & 0xffff)];
    /** A capture of datagrams, from the IP header on (draft-ietf-opsawg-pcap, link type 101). */
    const capture = (
      ...sent: readonly (readonly [from: string, to: string, payload: string])[]
    ): Uint8Array =>
      Uint8Array.from([
        ...[...u32(0xa1b2c3d4), ...u16(2), ...u16(4), ...u32(0), ...u32(0), ...u32(65535), ...u32(101)],
        ...sent.flatMap(([from, to, payload], i) => {
          const [[source = '', sport = ''], [destination = '', dport = '']] = [
            from.split(':'),
            to.split(':'),
          ];
          const udp = [...u16(Number(sport)), ...u16(Number(dport)), ...u16(8 + payload.length), 0, 0];
          const ip = [0x45, 0, ...u16(28 + payload.length), 0, 0, 0, 0, 64, 17, 0, 0];
          const bytes = [...ip, ...four(source), ...four(destination), ...udp, ...say(payload)];
          return [...u32(1000 + i), ...u32(0), ...u32(bytes.length), ...u32(bytes.length), ...bytes];
        }),
      ]);
    const stops = (gateway: Uint8Array, host: Uint8Array): readonly string[] | undefined => {
      const document = checkCaseDocument({
        format: 'bright-ferry-case',
        version: 1,
        title: 'test',
        path: HOME,
        service: { name: 'Moorhen', endpoints: [{ protocol: 'udp', port: 8211 }] },
        client: { address: '198.51.100.23', dials: '203.0.113.50:8211' },
        evidence: ['gateway', 'host'].map((stop) => ({ stop, file: `evidence/${stop}/try.pcap` })),
      });
      const files = new Map([
        ['evidence/gateway/try.pcap', gateway],
        ['evidence/host/try.pcap', host],
      ]);
      return placesView(readCase({ document, files }), (id) => id ?? '')?.places.map((p) => p.question.to);
    };
    const outside = ['198.51.100.23:40001', '203.0.113.50:8211'] as const;
    const inside = ['10.0.0.7:61002', '192.168.50.20:8211'] as const;

    it('what the first datagram says tells it', () =>
      expect(
        stops(capture([...outside, 'hello from the quay']), capture([...inside, 'hello from the quay'])),
      ).to.deep.equal(['203.0.113.50:8211', '192.168.50.20:8211']));

    it('another text is another question', () =>
      expect(
        stops(capture([...outside, 'hello from the quay']), capture([...inside, 'hello from the pier'])),
      ).to.equal(undefined));

    it('a greeting that several say tells nothing', () =>
      expect(
        stops(
          capture([...outside, 'a greeting'], ['198.51.100.99:40002', '203.0.113.50:8211', 'a greeting']),
          capture([...inside, 'a greeting']),
        ),
      ).to.equal(undefined));
  });
});
