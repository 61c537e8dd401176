import { expect } from 'chai';
import { address } from '../net/index.ts';
import { nth } from '../place/index.ts';
import type { Machine, NetInterface, Site } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { resolve, unlinkedAt } from './links.ts';

const TARGET = '192.168.50.20';
const GATEWAY = testMachine('gateway', {
  role: 'gateway',
  interfaces: { wan: ['203.0.113.50/24'], lan: ['192.168.50.1/24'] },
});
const LAN = nth(GATEWAY.interfaces ?? [], 1);

/** A machine with one interface. */
const machine = (id: string, at: string, change: Partial<NetInterface> = {}): Machine => {
  const bare = testMachine(id, { interfaces: { eth0: [at] } });
  return { ...bare, interfaces: (bare.interfaces ?? []).map((i) => ({ ...i, ...change })) };
};
const known = (mac: string | null, more: object = {}) => ({
  address: address(TARGET),
  device: null,
  mac,
  failed: false,
  source: null,
  ...more,
});

/** Who takes a packet of the gateway for the target's address on its inside. */
function taken(machines: readonly Machine[], neighbours: readonly ReturnType<typeof known>[] = []): string {
  const from = { ...GATEWAY, neighbours };
  const site: Site = { machines: [from, ...machines], sharedAddresses: [], internet: null };
  const told = resolve(site, from, LAN, address(TARGET));
  return told.who === 'machine' ? `${told.machine.id} ${told.interface.name}` : told.who;
}

const A = '02:00:00:00:00:0a';
const B = '02:00:00:00:00:0b';
const HOST = `${TARGET}/24`;

describe('who takes a packet on a link (RFC 826, RFC 4861)', () => {
  const table: readonly (readonly [
    string,
    readonly Machine[],
    readonly ReturnType<typeof known>[],
    string,
  ])[] = [
    ['the machine that holds the address', [machine('host', HOST)], [], 'host eth0'],
    ['nobody is known to hold it', [machine('other', '192.168.50.31/24')], [], 'unknown'],
    [
      'of two that hold it the one with the link address',
      [machine('one', HOST, { mac: A }), machine('two', HOST, { mac: B })],
      [known(B)],
      'two eth0',
    ],
    [
      'the first of two, where no link address was seen',
      [machine('one', HOST), machine('two', HOST)],
      [],
      'one eth0',
    ],
    [
      'a stranger, whose link address none of them has',
      [machine('host', HOST, { mac: A })],
      [known(B)],
      'stranger',
    ],
    ['a stranger, where nobody holds it', [machine('other', '192.168.50.31/24')], [known(B)], 'stranger'],
    [
      'another machine of the case, by its link address',
      [machine('host', HOST, { mac: A }), machine('other', '192.168.50.31/24', { mac: B })],
      [known(B)],
      'other eth0',
    ],
    [
      'but not by an interface that is off',
      [machine('host', HOST, { mac: A }), machine('other', '192.168.50.31/24', { mac: B, adminUp: false })],
      [known(B)],
      'stranger',
    ],
    ['the holder, whose own link address nobody has shown', [machine('host', HOST)], [known(B)], 'host eth0'],
    [
      'nobody, where the machine asked in vain',
      [machine('host', HOST)],
      [known(null, { failed: true })],
      'nobody',
    ],
    [
      'not told by what failed on another interface',
      [machine('host', HOST)],
      [known(null, { failed: true, device: 'wan' })],
      'host eth0',
    ],
    [
      'told by what failed on this one',
      [machine('host', HOST)],
      [known(null, { failed: true, device: 'lan' })],
      'nobody',
    ],
    ['nobody, where its interface is off', [machine('host', HOST, { adminUp: false })], [], 'nobody'],
    ['nobody, where its interface has no link', [machine('host', HOST, { carrier: false })], [], 'nobody'],
    ['not a machine on another network', [machine('host', '10.0.0.20/24')], [], 'unknown'],
  ];
  for (const [title, machines, neighbours, expected] of table)
    it(`${title}: ${expected}`, () => expect(taken(machines, neighbours)).to.equal(expected));

  it('an address that is not in use is not answered for', () => {
    const host = machine('host', HOST);
    const unused = (host.interfaces ?? []).map((i) => ({
      ...i,
      addresses: i.addresses.map((a) => ({ ...a, unusable: true })),
    }));
    expect(taken([{ ...host, interfaces: unused }])).to.equal('unknown');
  });

  it('the interface that has no link is named with its machine', () => {
    const at = (change: Partial<NetInterface>) => {
      const machines = [GATEWAY, machine('host', HOST, change)];
      return unlinkedAt({ machines, sharedAddresses: [], internet: null }, address(TARGET))?.stop ?? null;
    };
    expect(at({ carrier: false })).to.equal('host');
    expect(at({ adminUp: false })).to.equal('host');
    expect(at({})).to.equal(null);
  });
});
