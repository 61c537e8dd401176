import { expect } from 'chai';
import { caseFacts, HOME, serverEvidence } from '../../testing/index.ts';
import { benchView } from './view.ts';

const CLIENT = '198.51.100.23';
const OWN = '192.168.50.20';
const HEARD = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
  client: { address: CLIENT, dials: '203.0.113.50:8214' },
};
/** As tcpdump prints it on the server: `[S]` asks, `[S.]` answers, `[R.]` refuses. */
const packet = (second: number, from: string, to: string, flags: string): string =>
  `17:02:0${second}.100000 IP ${from} > ${to}: Flags [${flags}], seq 1, win 64240, length 0\n`;
const asks = (second: number): string => packet(second, `${CLIENT}.51514`, `${OWN}.8214`, 'S');
const says = (second: number, flags: string): string =>
  packet(second, `${OWN}.8214`, `${CLIENT}.51514`, flags);

/** A prompt with the command: on every interface, in both directions. */
const EVERYWHERE = 'admin@gullhost:~$ sudo tcpdump -ni any port 8214\n';
const ALONE = asks(1) + asks(2) + asks(4);
const SILENT = EVERYWHERE + ALONE;
const REFUSED = asks(1) + says(1, 'R.');
const ANSWERED = asks(1) + says(1, 'S.') + packet(1, `${CLIENT}.51514`, `${OWN}.8214`, '.');
const row = (to: string): string =>
  `Name\tProtocol\tExternal port\tInternal IP\tInternal port\ngullcast\tTCP\t8214\t${to}\t8214\n`;

const bench = (files: Readonly<Record<string, string>>, more: object = {}) =>
  benchView(caseFacts(HOME, files, { ...HEARD, ...more }));
const lamps = (view: ReturnType<typeof bench>): Record<string, string> =>
  Object.fromEntries(view.crossing.stops.map((s) => [s.id, `${s.lamp} ${s.word}`]));

describe('a capture on the server, on the bench', () => {
  it('shows that the question comes and no answer leaves: lost there, whatever stands before it', () => {
    const view = bench({ 'host/capture': SILENT });
    expect(view.verdict).to.include({ lamp: 'shut', sure: true });
    expect(view.verdict.headline).to.equal(
      'Lost at the server: a capture there shows 3 packets from 198.51.100.23 to TCP 8214, and no answer.',
    );
    expect(lamps(view)).to.include({ gateway: 'lit seen to pass', host: 'shut gives no answer' });
    expect(view.crossing.stops.find((s) => s.id === 'host')?.caption).to.equal(
      'the question comes, and no answer leaves',
    );
    expect(view.verdict.evidence[0]?.file).to.equal('evidence/host/capture.txt');
  });

  it('then asks for nothing of the router, which passes it', () => {
    const before = bench({});
    expect(before.next.kind === 'check' && before.next.stop).to.equal('gateway');
    const after = bench({ 'host/capture': SILENT });
    expect(after.next.kind === 'check' && after.next.stop).to.equal('host');
    expect(after.later.map((l) => l.id).filter((id) => id.startsWith('gateway/'))).to.deep.equal([]);
  });

  it('shows the server’s own reset: refused there', () => {
    const view = bench({ 'host/capture': REFUSED });
    expect(view.verdict.headline).to.equal(
      'Refused at the server: a capture there shows a packet from 198.51.100.23 to TCP 8214, and its reset.',
    );
    expect(lamps(view)).to.include({ host: 'shut refuses' });
  });

  it('shows an answer: so far it came, and what becomes of the answer is open', () => {
    const view = bench({ 'host/capture': ANSWERED });
    expect(view.verdict).to.include({ lamp: 'fogged', sure: false });
    expect(view.verdict.detail).to.equal(
      'The client’s packets come as far as the server: the capture there shows them.',
    );
    expect(lamps(view)).to.include({ gateway: 'lit seen to pass', host: 'lit seen to arrive' });
  });

  it('one question alone proves no silence', () => {
    expect(bench({ 'host/capture': EVERYWHERE + asks(1) }).verdict.lamp).to.equal('fogged');
  });

  const other =
    packet(3, '192.168.50.31.40001', `${OWN}.22`, 'S') + packet(3, `${OWN}.22`, '192.168.50.31.40001', 'S.');
  const linux = (text: string): string => text.replaceAll(' IP ', ' eth0  In  IP ');
  for (const [title, text] of [
    [
      'of one interface: the answer may leave by another',
      'admin@gullhost:~$ sudo tcpdump -ni eth0 port 8214\n' + ALONE,
    ],
    ['of what comes in', 'admin@gullhost:~$ sudo tcpdump -ni any -Q in port 8214\n' + ALONE],
    ['of one direction, by its filter', 'admin@gullhost:~$ sudo tcpdump -ni any dst port 8214\n' + ALONE],
    ['by the flags that ask', "admin@gullhost:~$ sudo tcpdump -ni any 'tcp[tcpflags] == tcp-syn'\n" + ALONE],
    [
      'of lines that were picked out',
      "admin@gullhost:~$ sudo tcpdump -ni any port 8214 | grep -F '[S]'\n" + ALONE,
    ],
    ['of which nobody knows how it was made', ALONE],
    ['that names its interfaces, and shows no answer at all', linux(ALONE)],
  ] as const)
    it(`a capture ${title}: no silence`, () => {
      expect(bench({ 'host/capture': text }).verdict).to.include({ lamp: 'fogged', sure: false });
    });

  it('a capture of every interface that shows other answers would show this one', () => {
    expect(bench({ 'host/capture': linux(ALONE + other) }).verdict).to.include({ lamp: 'shut', sure: true });
  });

  it('an answered question still asks of the router: the answer may be lost on its way back', () => {
    const { next } = bench({ 'host/capture': ANSWERED });
    expect(next.kind === 'check' && next.stop).to.equal('gateway');
  });

  describe('shows the answer get lost on its way back', () => {
    const lost = [1, 2, 4].map((s) => asks(s) + says(s, 'S.')).join('');
    const reset = [1, 2, 4]
      .map((s) => asks(s) + says(s, 'S.') + packet(s, `${CLIENT}.51514`, `${OWN}.8214`, 'R'))
      .join('');

    it('nobody takes it: the routes of the server are asked for first', () => {
      const view = bench({ 'host/capture': lost });
      expect(view.verdict).to.include({ lamp: 'shut', sure: true });
      expect(view.verdict.headline).to.equal(
        'Lost on its way back: a capture at the server shows 3 packets from 198.51.100.23 to TCP 8214, ' +
          'and its answers, which the client never takes.',
      );
      expect(lamps(view)).to.include({ gateway: 'lit seen to pass', host: 'lit seen to arrive' });
      expect(view.crossing.stops.find((s) => s.id === 'host')?.caption).to.equal(
        'its answer leaves, and does not arrive',
      );
      expect(view.next).to.deep.include({ kind: 'check', stop: 'host', yields: 'routes' });
    });

    it('as long as it is sent again after one second and after three: several at once prove nothing', () => {
      const twice = [1, 2].map((s) => asks(s) + says(s, 'S.')).join('');
      const view = bench({ 'host/capture': twice });
      expect(view.verdict).to.include({ lamp: 'fogged', sure: false });
    });

    it('a filter by flags lets the client’s other packets out: nothing is shown', () => {
      const flags = "admin@gullhost:~$ sudo tcpdump -ni any 'tcp[tcpflags] & tcp-syn != 0'\n";
      expect(bench({ 'host/capture': flags + lost }).verdict).to.include({ lamp: 'fogged', sure: false });
    });

    it('the client resets it', () => {
      expect(bench({ 'host/capture': reset }).verdict.headline).to.match(
        /^Lost on its way back: .* and its answers, which the client resets\.$/,
      );
    });
  });

  it('of somebody else decides nothing', () => {
    const view = bench({ 'host/capture': SILENT.replaceAll(CLIENT, '198.51.100.97') });
    expect(view.verdict).to.include({ lamp: 'fogged', sure: false });
    expect(lamps(view)['host']).to.match(/^fogged/);
  });

  it('speaks against a router that is known to lead elsewhere', () => {
    const known = serverEvidence(`${OWN}/24`, '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
    const view = bench({ ...known, 'gateway/table': row('192.168.50.99'), 'host/capture': ANSWERED });
    expect(view.verdict).to.include({ lamp: 'fogged', sure: false, word: 'Seen otherwise' });
    expect(view.verdict.headline).to.match(
      /^Seen otherwise: the capture of the server shows the client’s packets, and by what is known they end/,
    );
    expect(view.next).to.deep.include({ kind: 'check', stop: 'gateway', yields: 'forwards' });
  });

  it('speaks against listings by which the client is answered', () => {
    const files = {
      ...serverEvidence(`${OWN}/24`, '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']),
      'gateway/table': row(OWN),
    };
    expect(bench(files).verdict).to.include({ lamp: 'lit', sure: true });
    const view = bench({ ...files, 'host/capture': SILENT });
    expect(view.verdict).to.include({ lamp: 'fogged', sure: false, word: 'Seen otherwise' });
    expect(bench({ ...files, 'host/capture': ANSWERED }).verdict).to.include({ lamp: 'lit', sure: true });
  });

  it('counts no more once something was changed', () => {
    const changes = [{ stop: 'host', yields: 'rules', title: 'Allow TCP 8214', at: '2026-11-24T18:00:00Z' }];
    expect(bench({ 'host/capture': SILENT }, { changes }).verdict.lamp).to.equal('fogged');
  });
});
