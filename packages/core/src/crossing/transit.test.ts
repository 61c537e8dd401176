import { expect } from 'chai';
import { address } from '../net/index.ts';
import { bareMachine, type Machine, type Site } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { holderOf } from './transit.ts';

const gateway = (wan: string, more: Partial<Machine['presumed']> = {}): Machine => {
  const made = testMachine('gateway', {
    role: 'gateway',
    interfaces: { wan: [wan], lan: ['192.168.50.1/24'] },
  });
  return { ...made, presumed: { ...made.presumed, ...more } };
};
const site = (machines: readonly Machine[], more: Partial<Site> = {}): Site => ({
  machines,
  sharedAddresses: [],
  internet: 'carrier',
  ...more,
});

/** Who gets a packet of the internet, in short. */
function told(to: string, at: Site, home: string | null = null): string {
  const found = holderOf(at, address(to), home === null ? null : address(home));
  switch (found.is) {
    case 'machine':
      return `${found.machine.id} ${found.interface.name}`;
    case 'home':
      return 'home';
    case 'gone':
      return `${found.outcome} at ${found.stop}: ${found.ending.kind}`;
    case 'unknown':
      return `${found.need.need} of ${found.stop} by ${found.yields}`;
  }
}

describe('whom the internet hands a packet to', () => {
  const known = site([gateway('203.0.113.50/24')]);
  it('the machine that holds the address', () => {
    expect(told('203.0.113.50', known)).to.equal('gateway wan');
  });

  it('nobody of the case, where none holds it', () => {
    expect(told('203.0.113.51', known)).to.equal('open at carrier: elsewhere');
  });

  it('nobody, for an address that the internet does not carry (RFC 1918, RFC 6598)', () => {
    expect(told('192.168.50.1', known)).to.equal('lost at carrier: not-routed');
    expect(told('100.64.0.9', known)).to.equal('lost at carrier: not-routed');
  });

  it('perhaps somebody inside a network that is not known', () => {
    expect(told('192.168.50.1', site([], { perhapsInside: 'gateway' }))).to.equal(
      'addresses of gateway by status',
    );
    expect(told('203.0.113.51', site([], { perhapsInside: 'gateway' }))).to.equal(
      'open at carrier: elsewhere',
    );
  });

  it('a machine of which only an address is known that is not carried', () => {
    const bare = bareMachine('client', address('192.168.1.7'));
    expect(told('192.168.1.7', site([bare]))).to.equal('client net');
  });

  it('a line that is down loses it', () => {
    for (const down of [{ adminUp: false }, { carrier: false }]) {
      const cut = gateway('203.0.113.50/24');
      const interfaces = (cut.interfaces ?? []).map((i) => (i.name === 'wan' ? { ...i, ...down } : i));
      expect(told('203.0.113.50', site([{ ...cut, interfaces }]))).to.equal('lost at gateway: link-down');
    }
  });

  it('an answer finds its way home to its sender', () => {
    expect(told('198.51.100.23', known, '198.51.100.23')).to.equal('home');
    expect(told('198.51.100.24', known, '198.51.100.23')).to.equal('open at carrier: elsewhere');
  });

  it('the carrier’s translator keeps what is for a shared address', () => {
    const shared = { address: address('203.0.113.77'), carrier: 'carrier', gateway: 'gateway', source: null };
    const at = site([gateway('100.64.0.9/16')], { sharedAddresses: [shared] });
    expect(told('203.0.113.77', at)).to.equal('lost at carrier: shared-address');
    expect(told('203.0.113.78', at)).to.equal('open at carrier: elsewhere');
  });

  it('a perimeter that stands before the machine that holds it', () => {
    const front = { address: address('203.0.113.50'), machine: 'edge', interface: 'up' };
    const edge = testMachine('edge', { role: 'edge', interfaces: { up: ['198.51.100.2/30'] } });
    expect(told('203.0.113.50', site([gateway('203.0.113.50/24'), edge], { fronts: [front] }))).to.equal(
      'edge up',
    );
    const unknown = { ...front, interface: null };
    expect(told('203.0.113.50', site([gateway('203.0.113.50/24'), edge], { fronts: [unknown] }))).to.equal(
      'rules of edge by rules',
    );
  });

  it('perhaps a plain router, for its neighbours in a network of its own', () => {
    const box = { kind: 'box' } as const;
    const near = (wan: string, kind: Partial<Machine['presumed']> = box) =>
      told('203.0.113.51', site([gateway(wan, kind)]));
    expect(near('203.0.113.50/29')).to.equal('claimed-address of gateway by forwards');
    expect(near('203.0.113.50/25')).to.equal('claimed-address of gateway by forwards');
    // Wider ones are shared by a carrier's customers; two addresses leave none to claim (RFC 3021).
    expect(near('203.0.113.50/24')).to.equal('open at carrier: elsewhere');
    expect(near('203.0.113.50/31')).to.equal('open at carrier: elsewhere');
    expect(near('203.0.113.40/29')).to.equal('open at carrier: elsewhere');
    expect(near('203.0.113.50/29', {})).to.equal('open at carrier: elsewhere');
    const at = site([gateway('203.0.113.50/29', box)]);
    expect(told('203.0.113.51', at, '198.51.100.23')).to.equal('open at carrier: elsewhere');
  });

  it('nobody knows, where the outside address is not known', () => {
    const at = site([], {
      outsideUnknown: { stop: 'gateway', need: { need: 'addresses', stop: 'gateway' }, yields: 'status' },
    });
    expect(told('203.0.113.50', at)).to.equal('addresses of gateway by status');
    expect(told('203.0.113.50', at, '198.51.100.23')).to.equal('open at carrier: elsewhere');
  });
});
