import fc from 'fast-check';
import {
  newSetSession,
  packetSet,
  type BaseChain,
  type Chain,
  type PacketSet,
  type Question,
} from '../../rules/index.ts';
import type { Session, Subject } from '../../rules/index.ts';
import { TCP, v4 } from '../packetSets.ts';
import { programs } from './draw.ts';
import { FLAGS, PORTS, sender, SENDERS, type Plain } from './fields.ts';

/** A program of rules, and what packets meet it with. */
export interface World {
  readonly chain: Chain;
  readonly type: BaseChain['type'];
  readonly policy: 'accept' | 'drop';
  readonly isTracked: boolean;
  readonly device: string;
  readonly draw: readonly number[];
}

export const worlds = (mayDoubt: boolean): fc.Arbitrary<World> =>
  fc.record({
    chain: programs(mayDoubt),
    type: fc.constantFrom('filter' as const, 'nat' as const),
    policy: fc.constantFrom('accept' as const, 'drop' as const),
    isTracked: fc.boolean(),
    device: fc.constantFrom('eth0', 'eth1'),
    draw: fc.array(fc.nat(59), { minLength: 7, maxLength: 7 }),
  });

export const everyPacket = Array.from({ length: SENDERS }, (_, n) =>
  PORTS.map((port) => ({ from: sender(n), port })),
).flat();

export const plainOf = ({ isTracked, device }: World, at: { from: number; port: number }): Plain => ({
  ...at,
  device,
  isTracked,
  mark: 0,
  sessionMark: 0,
  untracked: false,
});

const headerOf = ({ from, port }: { from: number; port: number }) => ({
  transport: 'tcp' as const,
  source: { address: v4(from), port: 40000 },
  destination: { address: v4(0xcb00_7109), port },
});

export function subjectOf({ isTracked, device }: World, at: { from: number; port: number }): Subject {
  const original = headerOf(at);
  const session: Session = {
    protocol: TCP,
    family: 4,
    mark: 0,
    original,
    reply: { ...original, source: original.destination, destination: original.source },
    destinationTranslated: false,
    sourceTranslated: false,
    sawReply: false,
    assured: false,
    destinationDone: false,
    sourceDone: false,
    confirmed: false,
  };
  return {
    family: 4,
    protocol: TCP,
    icmp: null,
    tcpFlags: FLAGS,
    in: device,
    out: null,
    mark: 0,
    nextHop: null,
    source: original.source.address,
    destination: original.destination.address,
    sport: 40000,
    dport: at.port,
    tracking: isTracked ? { state: 'new', direction: 'original', session } : null,
    untracked: false,
  };
}

export function setOf({ isTracked, device }: World): PacketSet {
  const at = (n: number) => [{ first: n, last: n }];
  const ports = [
    { first: 0, last: 3 },
    { first: 80, last: 81 },
    { first: 443, last: 443 },
    { first: 65535, last: 65535 },
  ];
  const senderSide = [{ first: sender(0), last: sender(SENDERS - 1) }];
  const set = { ...packetSet(4, TCP, [senderSide, at(0xcb00_7109), at(40000), ports]), in: device };
  return isTracked
    ? { ...set, tracking: { state: 'new', direction: 'original', session: newSetSession(set) } }
    : set;
}

export type Answers = (question: Question, options: number) => number;

/** Doubt `n` is answered by the digit of `draw` that stands there. */
export const answersOf =
  (draw: readonly number[]): Answers =>
  (question, options) => {
    const number = Number(/"what":"d(\d+);"/.exec(question.key)?.[1]);
    return (draw[number % draw.length] as number) % options;
  };
