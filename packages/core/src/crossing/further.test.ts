import { expect } from 'chai';
import { nftOutcome, nftHost, outcome, run, testSite, type TestMachine } from '../testing/index.ts';
import { endingText } from '../words/index.ts';

const host = (rules: string, policy = 'drop'): string => nftOutcome(nftHost(rules, { policy }));

// What becomes of such rules in a kernel: statements.jsonl.gz has them all.
describe('a connection that opens and does not last', () => {
  const rows: readonly (readonly [string, string, string])[] = [
    ['tcp dport 80 ct state new accept', 'drop', 'lost at host'],
    ['tcp dport 80 ct state new accept\nct state established accept', 'drop', 'answered at host'],
    ['tcp dport 80 accept', 'drop', 'answered at host'],
    ['ct state established drop', 'accept', 'lost at host'],
    ['ct status assured drop', 'accept', 'lost at host'],
    ['ct status seen-reply drop', 'accept', 'lost at host'],
    ['tcp flags & (syn | ack) == ack drop', 'accept', 'lost at host'],
    ['tcp flags & (syn | ack) == (syn | ack) drop', 'accept', 'answered at host'],
    // A reset ends it at the client; what routers say of it does not.
    ['ct state established reject with tcp reset', 'accept', 'refused at host'],
    ['ct state established reject with icmpx admin-prohibited', 'accept', 'lost at host'],
  ];
  for (const [rules, policy, expected] of rows)
    it(`${rules}; policy ${policy}`, () => expect(host(rules, policy)).to.equal(expected));

  it('a datagram and its answer are all there is to UDP', () =>
    expect(nftOutcome(nftHost('ct state new accept', { policy: 'drop' }), 'udp')).to.equal(
      'answered at host',
    ));

  it('is told of by the packet that ends, and the words say that it opened', () => {
    const told = run(
      nftHost('ct state new accept', { policy: 'drop' }),
      '198.51.100.23:40000',
      '198.51.100.9:80/tcp',
    );
    expect(told.shown.legs.map((l) => `${l.stop} ${l.lane} ${l.form}`)).to.deep.equal([
      'client forward further',
      'host forward further',
    ]);
    expect(told.shown.reached).to.deep.include({ stop: 'host' });
    const text = endingText(told.shown.ending, told.stop, (id) => id ?? '');
    expect(text).to.match(/^the connection opens, and then host drops what follows/);
  });

  it('one that lasts is told of by its first packet and the answer', () => {
    const told = run(nftHost('accept'), '198.51.100.23:40000', '198.51.100.9:80/tcp');
    expect(told.shown.legs.map((l) => l.form)).to.deep.equal(['question', 'question', 'answer', 'answer']);
  });

  it('a gateway that the answer does not come by holds what follows for invalid', () => {
    const CLIENT: TestMachine = {
      role: 'client',
      interfaces: { eth0: ['198.51.100.23/24'] },
      routes: ['10.0.0.0/24 via 198.51.100.1 dev eth0'],
    };
    const HOST: TestMachine = {
      interfaces: { eno1: ['10.0.0.20/24'], eno2: ['198.51.100.20/24'] },
      sockets: ['tcp 0.0.0.0:80'],
    };
    const through = (rules: string): string =>
      outcome(
        run(
          testSite({
            client: CLIENT,
            gateway: {
              role: 'gateway',
              interfaces: { wan: ['198.51.100.1/24'], lan: ['10.0.0.1/24'] },
              rules:
                'table inet f {\n chain passing {\n' +
                `  type filter hook forward priority filter; policy accept;\n  ${rules}\n }\n}\n`,
            },
            host: HOST,
          }),
          '198.51.100.23:40000',
          '10.0.0.20:80/tcp',
        ),
      );
    expect(through('ct state new accept')).to.equal('answered at host');
    expect(through('ct state invalid drop')).to.equal('lost at gateway');
    expect(through('ct state established drop')).to.equal('answered at host');
    expect(through('ct state new accept\n  drop')).to.equal('lost at gateway');
  });
});
