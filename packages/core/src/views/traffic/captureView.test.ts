import { expect } from 'chai';
import { CaptureReader, type CapturedFlow, type CaptureSummary } from '../../traffic/index.ts';
import { captureView } from './captureView.ts';
import type { TrafficAim } from './traffic.ts';

const AIM: TrafficAim = { endpoints: [{ protocol: 'tcp', port: 6697 }], client: '198.51.100.23' };

describe('the traffic of a case, of a capture', () => {
  const way = (packets: number, more: Partial<CapturedFlow['back']> = {}): CapturedFlow['back'] => ({
    packets,
    bytes: 0,
    syns: 0,
    synAcks: 0,
    resets: 0,
    synAckSpan: NaN,
    ...more,
  });
  const flow = (back: CapturedFlow['back'], errors: CapturedFlow['errors'] = []): CapturedFlow => ({
    protocol: 'tcp',
    source: '198.51.100.23',
    sourcePort: 40001,
    destination: '192.168.50.20',
    destinationPort: 6697,
    there: way(3, { syns: 3 }),
    back,
    initialSequence: null,
    firstPayload: null,
    frame: 1,
    first: 0,
    last: 1,
    errors,
  });
  const capture = (...flows: CapturedFlow[]): CaptureSummary => ({
    ...new CaptureReader().summary(),
    packets: 6,
    flows,
  });
  it('what came when the client was told to try, in a capture', () => {
    const first = Date.parse('2026-11-24T17:02:08Z') / 1000;
    const aim = { ...AIM, moments: [first - 3] };
    expect(captureView(capture({ ...flow(way(0)), first }), aim).watched).to.deep.equal([
      'When the client was told to try, 2026-11-24 17:02:05 by this clock: the client, 198.51.100.23, ' +
        'came to TCP 6697 3 times: not answered.',
    ]);
  });
  const became: readonly (readonly [string, CapturedFlow, string])[] = [
    ['an answer', flow(way(2, { synAcks: 1 })), 'answered'],
    ['a reset', flow(way(3, { resets: 3 })), 'refused'],
    ['one answer to three questions may be the end of the record', flow(way(1, { synAcks: 1 })), 'answered'],
    ['an answer on several interfaces at once', flow(way(6, { synAcks: 6, synAckSpan: 0.1 })), 'answered'],
    ['an answer that nobody takes', flow(way(6, { synAcks: 6, synAckSpan: 5 })), 'answer-lost'],
    [
      'an answer that the client resets',
      { ...flow(way(3, { synAcks: 3 })), there: way(6, { syns: 3, resets: 3 }) },
      'answer-refused',
    ],
    [
      'questions and resets that a filter by flags let in',
      { ...flow(way(1, { synAcks: 1 })), there: way(2, { syns: 1, resets: 1 }) },
      'answered',
    ],
    ['answers alone', { ...flow(way(6, { synAcks: 6, synAckSpan: 5 })), there: way(0) }, 'only-answers'],
    ['a reset after an answer is its end', flow(way(4, { synAcks: 1, resets: 1 })), 'answered'],
    ['nothing', flow(way(0)), 'not-answered'],
    [
      'an ICMP error',
      flow(way(0), [{ about: 'question', from: '192.168.50.1', type: 3, code: 13, count: 1 }]),
      'refused',
    ],
    [
      'an ICMP error of its answer',
      flow(way(1), [{ about: 'answer', from: '192.168.50.1', type: 3, code: 1, count: 1 }]),
      'answer-lost',
    ],
  ];
  for (const [title, one, word] of became)
    it(`a capture: ${title}`, () => expect(captureView(capture(one), AIM).rows[0]?.became).to.equal(word));

  const headline = (...flows: CapturedFlow[]): string => captureView(capture(...flows), AIM).headline;
  const first = Date.parse('2026-11-24T17:02:08Z') / 1000;
  const at = { first, last: first + 3 };
  const tried = 'The client, 198.51.100.23, tried TCP 6697 3 times:';

  it('who refused it, and why', () => {
    const by = (from: string, type: number, code: number): string =>
      headline({ ...flow(way(0), [{ about: 'question', from, type, code, count: 1 }]), ...at });
    const end = ', the last time at 2026-11-24 17:02:11.';
    // RFC 1812 §5.2.7.1 and RFC 4443 §3.1
    expect(by('203.0.113.50', 3, 13)).to.equal(
      `${tried} refused by 203.0.113.50: prohibited by a filter${end}`,
    );
    expect(by('192.168.50.20', 3, 3)).to.equal(
      `${tried} refused by 192.168.50.20: nothing listens on that port${end}`,
    );
    expect(by('2001:db8::50', 1, 3)).to.equal(
      `${tried} refused by 2001:db8::50: nobody at that address${end}`,
    );
    expect(by('203.0.113.50', 11, 0)).to.equal(
      `${tried} refused by 203.0.113.50: ICMP type 11, code 0${end}`,
    );
    expect(headline({ ...flow(way(3, { resets: 3 })), ...at })).to.equal(
      `${tried} refused with a reset of 192.168.50.20${end}`,
    );
  });

  it('an answer from an address that was not asked stands with its question', () => {
    const asked = { ...flow(way(0)), ...at, destination: '203.0.113.50' };
    const stray = { ...flow(way(3, { synAcks: 3 })), ...at, there: way(3, { resets: 3 }) };
    const view = captureView(capture(asked, stray), AIM);
    expect(view.headline).to.match(/: answered by 192\.168\.50\.20 instead, which it did not ask,/);
    expect(view.lamp).to.equal('shut');
    expect(view.rows).to.have.lengthOf(1);
    expect(view.detail).to.match(/dial the inside address/);
    // Another connection of the same client is none.
    const other = captureView(capture(asked, { ...stray, sourcePort: 40002 }), AIM);
    expect(other.rows).to.have.lengthOf(2);
  });

  it('an answer that gets lost says where to look; before a translation the question stands again', () => {
    const behind = { ...flow(way(6, { synAcks: 6, synAckSpan: 5 })), ...at };
    const before = { ...flow(way(0)), ...at, destination: '203.0.113.50' };
    for (const flows of [[behind], [before, behind], [behind, before]]) {
      const view = captureView(capture(...flows), AIM);
      expect(view.headline).to.contain(': answered, and the answer does not arrive,');
      expect(view.detail).to.match(/default route of the server/);
    }
  });

  it('answers alone are no try', () => {
    const view = captureView(
      capture({ ...flow(way(6, { synAcks: 6, synAckSpan: 5 })), ...at, there: way(0) }),
      AIM,
    );
    expect([view.lamp, view.headline]).to.deep.equal([
      'fogged',
      'Only answers to the client, 198.51.100.23, are in this record: its questions came another way.',
    ]);
  });

  it('a damaged capture says where it ends', () =>
    expect(captureView({ ...capture(), brokenAt: 120 }, AIM).problems).to.deep.equal([
      'The capture is damaged or breaks off at byte 120: what came later is not in it.',
    ]));
});
