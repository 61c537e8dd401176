import { expect } from 'chai';
import { address } from '../net/index.ts';
import type { Question, Subject } from '../rules/index.ts';
import { everyTransport, type Machine, type Socket } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { findSocket, socketsOn } from './sockets.ts';

const socket = (port: number, more: Partial<Socket> = {}): Socket => ({
  transport: 'tcp',
  address: null,
  families: [4],
  port,
  device: null,
  program: 'gullcastd',
  source: null,
  ...more,
});
const HOST = testMachine('server', { interfaces: { eno1: ['192.168.50.20/24', '2001:db8:50::20/64'] } });
const withSockets = (sockets: readonly Socket[] | null, more: Partial<Machine> = {}): Machine => ({
  ...HOST,
  sockets,
  ...more,
});
const packet = (to: string, port: number | null, more: Partial<Subject> = {}): Subject => {
  const destination = address(to);
  return {
    family: destination.family,
    protocol: 6,
    icmp: null,
    tcpFlags: 2,
    in: 'eno1',
    out: null,
    mark: 0,
    nextHop: null,
    source: address(destination.family === 4 ? '198.51.100.23' : '2001:db8:23::1'),
    destination,
    sport: 40000,
    dport: port,
    tracking: null,
    untracked: false,
    ...more,
  };
};
const UDP = { protocol: 17, tcpFlags: null };
const FOUR = '192.168.50.20';
const SIX = '2001:db8:50::20';

/** What takes the packet, by each answer that is asked for; and what is asked. */
function told(machine: Machine, p: Subject) {
  const needs: object[] = [];
  const outcome = (answer: number): string => {
    const found = findSocket(machine, p, (question: Question, options) => {
      expect(options).to.equal(2);
      needs.push(question.need);
      expect(question.settle).to.deep.equal({ stop: 'server', yields: 'sockets' });
      return answer;
    });
    return found.is === 'open' && found.socket === null ? 'perhaps' : found.is;
  };
  const [first, second] = [outcome(0), outcome(1)];
  return { is: first === second ? first : `${first} or ${second}`, need: needs[0] ?? null };
}

describe('the socket that takes a packet (inet_lookup_listener)', () => {
  const table: readonly (readonly [string, readonly Socket[], Subject, string])[] = [
    ['on any address', [socket(8211)], packet(FOUR, 8211), 'open'],
    ['on another port', [socket(8211)], packet(FOUR, 8212), 'closed'],
    ['of a packet without ports', [socket(8211)], packet(FOUR, null), 'closed'],
    ['for TCP, of a datagram', [socket(8211)], packet(FOUR, 8211, UDP), 'closed'],
    ['for UDP, of a datagram', [socket(8211, { transport: 'udp' })], packet(FOUR, 8211, UDP), 'open'],
    ['of the other family', [socket(8211)], packet(SIX, 8211), 'closed'],
    ['of both families', [socket(8211, { families: [6, 4] })], packet(SIX, 8211), 'open'],
    ['on the address dialled', [socket(8211, { address: address(FOUR) })], packet(FOUR, 8211), 'open'],
    ['on another one', [socket(8211, { address: address('127.0.0.1') })], packet(FOUR, 8211), 'closed'],
    ['bound to its interface', [socket(8211, { device: 'eno1' })], packet(FOUR, 8211), 'open'],
    ['bound to another one', [socket(8211, { device: 'wg0' })], packet(FOUR, 8211), 'closed'],
    [
      'the second one of two',
      [socket(8211, { device: 'wg0' }), socket(8211, { address: address(FOUR) })],
      packet(FOUR, 8211),
      'open',
    ],
  ];
  for (const [title, sockets, p, expected] of table)
    it(title, () => {
      const found = told(withSockets(sockets), p);
      expect(found).to.deep.equal({ is: expected, need: null });
    });

  it('may take the other family, where the listing does not tell', () => {
    const dual = socket(8211, { families: [6], perhapsFour: true });
    expect(told(withSockets([dual]), packet(FOUR, 8211))).to.deep.equal({
      is: 'open or closed',
      need: { need: 'dual-stack', stop: 'server', transport: 'tcp', port: 8211, program: 'gullcastd' },
    });
    expect(told(withSockets([dual]), packet(SIX, 8211))).to.deep.equal({ is: 'open', need: null });
    const nameless = { ...dual, program: null };
    expect(told(withSockets([nameless]), packet(FOUR, 8211)).need).to.include({ program: null });
  });

  it('may be one that the listing has not, where it is not whole', () => {
    const part = (complete: boolean) => ({
      presumed: { ...HOST.presumed, socketsComplete: { ...everyTransport(true), tcp: complete } },
    });
    expect(told(withSockets([], part(false)), packet(FOUR, 8211))).to.deep.equal({
      is: 'closed or perhaps',
      need: {
        need: 'own-listener',
        stop: 'server',
        transport: 'tcp',
        endpoint: { address: address(FOUR), port: 8211 },
      },
    });
    expect(told(withSockets([], part(false)), packet(FOUR, 8211, UDP)).is).to.equal('closed');
    expect(told(withSockets([], part(true)), packet(FOUR, 8211)).is).to.equal('closed');
    expect(told(withSockets([socket(8211)], part(false)), packet(FOUR, 8211)).is).to.equal('open');
  });

  it('is not known without a listing', () => {
    const found = findSocket(withSockets(null), packet(FOUR, 8211, UDP), () => 0);
    expect(found).to.deep.equal({
      is: 'unknown',
      need: { need: 'listeners', stop: 'server', transport: 'udp', port: 8211 },
    });
  });

  it('is told of with what stands near it', () => {
    const source = { file: 'server/ss.txt', line: 2 };
    const near = [socket(8211, { device: 'wg0', source }), socket(8211, { transport: 'udp' })];
    const machine = withSockets([...near, socket(8212)]);
    expect(findSocket(machine, packet(FOUR, 8211), () => 0)).to.deep.equal({ is: 'closed', near, source });
    expect(findSocket(withSockets([]), packet(FOUR, 8211), () => 0)).to.deep.equal({
      is: 'closed',
      near: [],
      source: null,
    });
  });
});

describe('the sockets on a port', () => {
  it('are all of them, whatever they take', () => {
    const all = [socket(80), socket(8211), socket(80, { transport: 'udp' })];
    const machine = withSockets(all);
    expect(socketsOn(machine, 80)).to.deep.equal([all[0], all[2]]);
    expect(socketsOn(machine, 8211)).to.deep.equal([all[1]]);
    expect(socketsOn(machine, 81)).to.deep.equal([]);
    expect(socketsOn(machine, null)).to.deep.equal([]);
    expect(socketsOn(withSockets(null), 80)).to.deep.equal([]);
  });
});
