import { expect } from 'chai';
import { LogReader } from '../../traffic/index.ts';
import { logView } from './logView.ts';
import { wantedOf, type TrafficAim, type TrafficView } from './traffic.ts';

const line = (second: number, action: string, from: string, port: number): string =>
  `2026-11-24 17:02:${String(second).padStart(2, '0')} ${action} TCP ${from} 192.168.50.20 ` +
  `40001 ${port} 52 S 1 0 64240 - - - RECEIVE`;
const HEAD =
  '#Fields: date time action protocol src-ip dst-ip src-port dst-port size tcpflags tcpsyn ' +
  'tcpack tcpwin icmptype icmpcode info path';
const AIM: TrafficAim = { endpoints: [{ protocol: 'tcp', port: 6697 }], client: '198.51.100.23' };

function ofLog(lines: readonly string[], aim: TrafficAim = AIM): TrafficView {
  const reader = new LogReader('w3c', { now: 0, wanted: wantedOf(aim) });
  reader.push(new TextEncoder().encode(`${HEAD}\n${lines.join('\n')}\n`));
  reader.end();
  return logView(reader.summary(), aim);
}

const NOISE = [line(1, 'DROP', '192.0.2.9', 23), line(2, 'DROP', '192.0.2.9', 23)];

describe('the traffic of a case', () => {
  const table: readonly (readonly [string, TrafficView, string])[] = [
    [
      'the client was kept out',
      ofLog([...NOISE, line(8, 'DROP', '198.51.100.23', 6697), line(11, 'DROP', '198.51.100.23', 6697)]),
      'The client, 198.51.100.23, tried TCP 6697 2 times: kept out, the last time at 2026-11-24 17:02:11.',
    ],
    [
      'after a change it was let in',
      ofLog([line(8, 'DROP', '198.51.100.23', 6697), line(40, 'ALLOW', '198.51.100.23', 6697)]),
      'The client, 198.51.100.23, tried TCP 6697 once: let in, the last time at 2026-11-24 17:02:40.',
    ],
    [
      'somebody else came',
      ofLog([...NOISE, line(8, 'DROP', '198.51.100.97', 6697)]),
      '198.51.100.97 tried TCP 6697 once: kept out, the last time at 2026-11-24 17:02:08. The ' +
        'client was said to be 198.51.100.23.',
    ],
    [
      'the client came to another port',
      ofLog([...NOISE, line(8, 'DROP', '198.51.100.23', 6698)]),
      'The client, 198.51.100.23, tried TCP 6698, which is none of this service’s ports ' +
        '(TCP 6697): kept out.',
    ],
    ['nobody came', ofLog(NOISE), 'No packet to TCP 6697 is in this record.'],
    [
      'the port is not known',
      ofLog(NOISE, { endpoints: [], client: null }),
      'Which port the client tries is not known: take one of those below.',
    ],
  ];
  for (const [title, view, headline] of table)
    it(`in one sentence: ${title}`, () => expect(view.headline).to.equal(headline));

  describe('when the client was told to try', () => {
    const told = (at: string, lines: readonly string[]): readonly string[] =>
      ofLog(lines, { ...AIM, moments: [Date.parse(at) / 1000] }).watched;
    const others = [
      ...NOISE,
      line(8, 'DROP', '198.51.100.97', 6697),
      line(11, 'DROP', '198.51.100.97', 6697),
    ];

    it('somebody else came: by name and number', () =>
      expect(told('2026-11-24T17:02:05Z', others)).to.deep.equal([
        'When the client was told to try, 2026-11-24 17:02:05 by this clock: 198.51.100.97 came to TCP ' +
          '6697 2 times: kept out.',
      ]));

    it('on a clock of another zone, which is said', () =>
      expect(told('2026-11-24T15:02:05Z', [line(8, 'DROP', '198.51.100.23', 6697)])).to.deep.equal([
        'When the client was told to try, 2026-11-24 17:02:05 by this clock: the client, 198.51.100.23, ' +
          'came to TCP 6697 once: kept out.',
        'The clock of this record is 2 hours ahead.',
      ]));

    it('nothing came', () =>
      expect(told('2026-11-24T17:02:05Z', NOISE)).to.deep.equal([
        'Nothing came to the service in this record: the try ended before this place, or it was ' +
          'recorded later.',
      ]));

    it('nobody was told: nothing is said', () => expect(ofLog(others).watched).to.deep.equal([]));
  });

  it('the client’s and the service’s rows stand first, whatever else was counted', () => {
    const view = ofLog([
      ...NOISE,
      line(8, 'DROP', '198.51.100.97', 6697),
      line(9, 'DROP', '198.51.100.23', 6697),
    ]);
    expect(view.rows.map((r) => `${r.from} ${r.service} ${r.count}`)).to.deep.equal([
      '198.51.100.23 TCP 6697 1',
      '198.51.100.97 TCP 6697 1',
      '192.0.2.9 TCP 23 2',
    ]);
    expect(view.counted).to.equal('4 packets in 5 lines');
  });

  it('its tries are kept as lines of the log, under the one that names the fields', () => {
    const own = line(8, 'DROP', '198.51.100.97', 6697);
    expect(ofLog([...NOISE, own]).lines).to.deep.equal([HEAD, own]);
    expect(ofLog(NOISE).lines).to.deep.equal([]);
  });

  it('what was not understood is said', () => {
    const view = ofLog(['2026-11-24 17:02:01 DROP TCP nobody 192.168.50.20 1 2']);
    expect(view.problems).to.deep.equal([
      'Line 2 is not understood: 2026-11-24 17:02:01 DROP TCP nobody 192.168.50.20 1 2',
    ]);
  });

  it('ranges and IPv6 clients are looked for as well', () => {
    const aim = { endpoints: [{ protocol: 'udp', port: 8211, portEnd: 8213 }], client: '2001:db8::17' };
    expect(wantedOf(aim)).to.deep.equal({ ports: [8211, 8212, 8213], sources: [], others: ['2001:db8::17'] });
  });
});
