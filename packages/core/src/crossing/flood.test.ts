import { expect } from 'chai';
import type { Machine, Site } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { floodSite } from './flood.ts';

const CLIENT = testMachine('client', {
  role: 'client',
  interfaces: { lo: ['127.0.0.1/8'], eth0: ['192.168.50.77/24'] },
});
const HOST = testMachine('host', {
  interfaces: { lo: ['127.0.0.1/8'], eno1: ['192.168.50.20/24'] },
  sockets: ['tcp 0.0.0.0:8214'],
});
const AWAY = testMachine('away', {
  interfaces: { lo: ['127.0.0.1/8'], eth1: ['10.9.0.20/24'] },
  sockets: ['tcp 0.0.0.0:22'],
});
const LOOPBACK = testMachine('client', { role: 'client', interfaces: { lo: ['127.0.0.1/8'] } });
const off = (machine: Machine): Machine => ({
  ...machine,
  interfaces: (machine.interfaces ?? []).map((i) => (i.loopback ? i : { ...i, adminUp: false })),
});

/** The machines that packets of a site without an internet come to. */
const reached = (...machines: readonly Machine[]): string[] => {
  const site: Site = { machines, sharedAddresses: [], internet: null };
  return [...new Set(floodSite(site, 4, 'tcp').deliveries.map((d) => d.machine.id))];
};

describe('what packets reach where a site has no internet: the outside is the client’s own link', () => {
  const other = testMachine('second', { role: 'client', interfaces: { eth0: ['192.168.50.78/24'] } });
  const table: readonly (readonly [string, readonly Machine[], readonly string[]])[] = [
    ['a machine on its link, not one elsewhere', [CLIENT, HOST, AWAY], ['host']],
    ['the client may stand anywhere in the list', [AWAY, HOST, CLIENT], ['host']],
    ['a loopback is no link', [LOOPBACK, HOST, AWAY], []],
    ['its interface is switched off', [off(CLIENT), HOST], []],
    ['the other machine’s is', [CLIENT, off(HOST)], []],
    ['without a client nobody is outside', [HOST, AWAY], []],
    ['another client is none of the machines', [CLIENT, other], []],
    ['of a client nothing is known', [{ ...CLIENT, interfaces: null }, HOST], []],
  ];
  for (const [title, machines, expected] of table)
    it(title, () => expect(reached(...machines)).to.deep.equal(expected));
});
