import { expect } from 'chai';
import fc from 'fast-check';
import { caseFacts, HOME, serverEvidence } from '../../testing/index.ts';
import { stillPossible } from './stillPossible.ts';
import { shrinking, suspicionView } from './suspicion.ts';

const HEARD = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }], audience: 'anyone' },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
};
const SERVER = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
const row = (to: string, state = 'on'): string =>
  'Name\tProtocol\tExternal port\tInternal IP\tInternal port\tStatus\n' +
  `gullcast\tTCP\t8214\t${to}\t8214\t${state}\n`;
const OFF = { ...SERVER, 'gateway/table': row('192.168.50.20', 'off') };
const facts = (files: Readonly<Record<string, string>>, more: object = {}) =>
  caseFacts(HOME, files, { ...HEARD, ...more });

describe('what may be wrong', () => {
  it('of a new case: every place, and which ask shows the most', () => {
    const { line, suspects, open } = suspicionView(facts({}));
    expect(suspects).to.deep.equal([]);
    expect(line?.isNamed).to.equal(false);
    expect(line?.text).to.match(
      /^\d+ kinds of fault are possible still; forward table of Gateway shows \d+ of them$/,
    );
    expect(open.map((o) => o.text)).to.include.members([
      'What is dialled',
      'Carrier',
      'Gateway',
      'Server',
      'The program on Server',
      'The test itself',
    ]);
    const [first] = open;
    expect(first).to.include({ text: 'Gateway', stop: 'gateway' });
    expect(first?.settledBy?.title).to.equal('Forward table of Gateway');
  });

  it('a fault that is likely leads, in the words of its stop', () => {
    const { line, suspects, sure } = suspicionView(facts({ 'gateway/table': row('192.168.50.20', 'off') }));
    expect(sure).to.equal(false);
    expect(suspects[0]).to.include({ fault: 'fwd-disabled', stop: 'gateway', at: 'Gateway' });
    expect(line === null || line.isNamed).to.equal(true);
  });

  it('nobody looks a name up where an address is dialled', () => {
    const has = (dials: string) =>
      stillPossible(facts({}, { client: { address: '198.51.100.23', dials } })).some(
        (p) => p.fault === 'name-stale',
      );
    expect([has('203.0.113.50:8214'), has('radio.gannet.example.net:8214')]).to.deep.equal([false, true]);
  });

  it('packets that were seen at the server have passed everything before it', () => {
    const asks = [1, 2, 4].map(
      (n) =>
        `17:02:0${n}.1 IP 198.51.100.23.51514 > 192.168.50.20.8214: Flags [S], seq 1, win 64240, length 0\n`,
    );
    const prompt = 'admin@gullhost:~$ sudo tcpdump -ni any port 8214\n';
    const left = stillPossible(facts({ 'host/capture': prompt + asks.join('') }));
    expect([...new Set(left.map((p) => p.place))].sort()).to.deep.equal([
      'anywhere',
      'host',
      'program',
      'test',
    ]);
  });

  it('a sure verdict leaves no line and nothing to look at', () => {
    const { line, sure, open, suspects, checks } = suspicionView(facts(OFF));
    expect({ line, sure, open, checks }).to.deep.equal({ line: null, sure: true, open: [], checks: [] });
    expect(suspects.map((s) => [s.fault, s.word])).to.deep.equal([['fwd-disabled', 'found']]);
  });

  it('two routers can lack a forward each, one cannot', () => {
    const ids = (path: typeof HOME) => new Set(stillPossible(caseFacts(path, {}, HEARD)).map((p) => p.fault));
    expect(ids(HOME).has('outer-missing')).to.equal(false);
    const two = HOME.flatMap((s) => (s.role === 'gateway' ? [s, { id: 'inner', role: 'gateway' }] : [s]));
    expect(ids(two).has('outer-missing')).to.equal(true);
  });

  it('an answer beside the server shows that the program listens; one of something else does not', () => {
    const seen = (other: boolean) => ({
      observations: [{ vantage: 'lan', to: '192.168.50.20:8214/tcp', outcome: 'answered', other }],
    });
    const has = (more: object) => stillPossible(facts({}, more)).some((p) => p.fault === 'listen-none');
    expect([has({}), has(seen(false)), has(seen(true))]).to.deep.equal([true, false, true]);
  });

  it('each answer names itself, and the last leaves what was found', () => {
    const steps = shrinking(facts(OFF));
    expect(steps[0]?.after).to.equal('The first line');
    expect(steps.map((s) => s.after)).to.include('Forward table of Gateway');
    expect(steps.map((s) => s.after)).to.include('What listens on Server');
    expect(steps.at(-1)?.kinds).to.equal(1);
    expect(steps[0]?.kinds).to.be.above(30);
  });

  it('a try stands where it came', () => {
    const at = '2026-11-20T10:00:00Z';
    const observations = [{ vantage: 'lan', to: '192.168.50.20:8214/tcp', outcome: 'answered', at }];
    expect(shrinking(facts({}, { observations })).map((s) => s.after)).to.deep.equal([
      'The first line',
      'A try from inside, by the inside address',
    ]);
  });

  it('more evidence never makes more kinds possible, whatever comes in whatever order', () => {
    const pieces = Object.entries({ ...SERVER, 'gateway/table': row('192.168.50.20') });
    fc.assert(
      fc.property(fc.shuffledSubarray(pieces, { minLength: pieces.length }), (order) => {
        const left = order.map((_, i) => stillPossible(facts(Object.fromEntries(order.slice(0, i)))).length);
        return left.every((n, i) => i === 0 || n <= (left[i - 1] ?? n));
      }),
      { numRuns: 15 },
    );
  });
});
