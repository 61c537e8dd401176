import { mixed } from '../hash.ts';
import { formatAddress, type Address } from '../../net/index.ts';
import type { Captured, CapturedFlow, Ends, Told, Way } from './flow.ts';

/** TCP flags (RFC 9293 §3.1). */
const SYN = 2;
const RESET = 4;
const ACK = 16;

const isInOrder = ({ source, sourcePort, destination, port }: Ends): boolean =>
  source < destination || (source === destination && sourcePort <= port);

/** More flows than this are counted, and not kept apart. */
const MOST = 500_000;

/** Where the numbers of one flow stand: those of end A; those of end B follow right behind. */
const PACKETS = 0;
const BYTES = 2;
const SYNS = 4;
const SYN_ACKS = 6;
const RESETS = 8;
const FRAME = 10;
/** The sequence number of the first SYN and one, of UDP the hash of the first payload and one; 0: none. */
const SEQUENCE = 11;
/** When the first and the last SYN-ACK came, of whichever end. */
const FIRST_ANSWER = 12;
const LAST_ANSWER = 13;
const WIDTH = 14;

/**
 * Flows by their five-tuples, in typed arrays. A flow has one row for both directions: its ends stand in the
 * order of their addresses and ports, and a bit says which of them began.
 */
export class Flows {
  #capacity = 1 << 12;
  #a = new Int32Array(this.#capacity);
  #b = new Int32Array(this.#capacity);
  #ports = new Int32Array(this.#capacity);
  /** Protocol; 0x100: the addresses stand in the list; 0x200: B began; 0x400: the row is taken. */
  #kind = new Uint16Array(this.#capacity);
  #numbers = new Float64Array(this.#capacity * WIDTH);
  #first = new Float64Array(this.#capacity);
  #last = new Float64Array(this.#capacity);
  #size = 0;
  readonly #others = new Map<string, number>();
  readonly #otherList: string[] = [];
  readonly #errors = new Map<number, Map<string, number>>();
  /** Packets of flows beyond those that are kept. */
  beyond = 0;

  get size(): number {
    return this.#size;
  }

  /** The number that stands for an IPv6 address. */
  other(b: Uint8Array, at: number): number {
    let key = '';
    for (let i = 0; i < 16; i += 2) key += String.fromCharCode((b[at + i]! << 8) | b[at + i + 1]!);
    const known = this.#others.get(key);
    if (known !== undefined) return known;
    let bits = 0n;
    for (let i = 0; i < 16; i++) bits = (bits << 8n) | BigInt(b[at + i]!);
    const number = this.#otherList.length;
    this.#others.set(key, number);
    this.#otherList.push(formatAddress({ family: 6, bits } as Address));
    return number;
  }

  addressText(value: number, isOther: boolean): string {
    if (isOther) return this.#otherList[value] ?? '';
    return `${value >>> 24}.${(value >>> 16) & 255}.${(value >>> 8) & 255}.${value & 255}`;
  }

  /** One packet on the wire; true: the first of its flow. */
  add(ends: Ends, { flags, sequence, bytes, seconds, frame }: Captured): boolean {
    const isForward = isInOrder(ends);
    const row = this.#rowOf(ends, isForward);
    if (row < 0) {
      this.beyond++;
      return false;
    }
    const at = row * WIDTH;
    const n = this.#numbers;
    const side = isForward ? 0 : 1;
    const handshake = flags & (SYN | ACK);
    const isNew = n[at + FRAME] === 0;
    if (isNew) {
      n[at + FRAME] = frame;
      this.#first[row] = seconds;
      // What begins with an answer was begun by the other side.
      this.#setBegun(row, isForward === (handshake === (SYN | ACK)));
    }
    this.#last[row] = seconds;
    n[at + PACKETS + side]! += 1;
    n[at + BYTES + side]! += bytes;
    if (handshake === SYN) {
      n[at + SYNS + side]! += 1;
      if (n[at + SEQUENCE] === 0) n[at + SEQUENCE] = sequence + 1;
    } else if (handshake === (SYN | ACK)) {
      if (n[at + SYN_ACKS] === 0 && n[at + SYN_ACKS + 1] === 0) n[at + FIRST_ANSWER] = seconds;
      n[at + LAST_ANSWER] = seconds;
      n[at + SYN_ACKS + side]! += 1;
    }
    if ((flags & RESET) !== 0) n[at + RESETS + side]! += 1;
    return isNew;
  }

  /** What the first datagram of the flow says that was added last. */
  says(ends: Ends, hash: number): void {
    const row = this.#rowOf(ends, isInOrder(ends));
    if (row >= 0) this.#numbers[row * WIDTH + SEQUENCE] = hash + 1;
  }

  /** An ICMP error about a packet of a flow, which it quotes (RFC 792). */
  error(ends: Ends, { from, type, code }: Told): void {
    const isForward = isInOrder(ends);
    const row = this.#rowOf(ends, isForward);
    if (row < 0) return;
    if (this.#numbers[row * WIDTH + FRAME] === 0) this.#setBegun(row, !isForward);
    const said = this.#errors.get(row) ?? new Map<string, number>();
    this.#errors.set(row, said);
    const key = `${isForward ? 'a' : 'b'} ${type} ${code} ${from}`;
    said.set(key, (said.get(key) ?? 0) + 1);
  }

  #setBegun(row: number, byB: boolean): void {
    const kind = this.#kind[row]! & ~0x200;
    this.#kind[row] = byB ? kind | 0x200 : kind;
  }

  #rowOf({ protocol, isOther, source, sourcePort, destination, port }: Ends, isForward: boolean): number {
    return isForward
      ? this.#row(protocol, isOther, source, sourcePort, destination, port)
      : this.#row(protocol, isOther, destination, port, source, sourcePort);
  }

  /** The row of a flow whose ends stand in order; -1: it is new, and there are too many. */
  #row(protocol: number, isOther: boolean, a: number, portA: number, b: number, portB: number): number {
    const ports = (portA << 16) | portB;
    const kind = protocol | (isOther ? 0x100 : 0) | 0x400;
    const mask = this.#capacity - 1;
    let slot = mixed(mixed(a, b), ports ^ kind) & mask;
    while (this.#kind[slot] !== 0) {
      if (
        this.#a[slot] === a &&
        this.#b[slot] === b &&
        this.#ports[slot] === ports &&
        (this.#kind[slot]! & ~0x200) === kind
      )
        return slot;
      slot = (slot + 1) & mask;
    }
    if (this.#size >= MOST) return -1;
    if ((this.#size + 1) * 2 > this.#capacity) {
      this.#grow();
      return this.#row(protocol, isOther, a, portA, b, portB);
    }
    this.#size++;
    this.#a[slot] = a;
    this.#b[slot] = b;
    this.#ports[slot] = ports;
    this.#kind[slot] = kind;
    return slot;
  }

  #grow(): void {
    const old = { a: this.#a, b: this.#b, ports: this.#ports, kind: this.#kind, n: this.#numbers };
    const [first, last, before] = [this.#first, this.#last, this.#capacity];
    const errors = new Map(this.#errors);
    this.#errors.clear();
    this.#capacity *= 4;
    this.#a = new Int32Array(this.#capacity);
    this.#b = new Int32Array(this.#capacity);
    this.#ports = new Int32Array(this.#capacity);
    this.#kind = new Uint16Array(this.#capacity);
    this.#numbers = new Float64Array(this.#capacity * WIDTH);
    this.#first = new Float64Array(this.#capacity);
    this.#last = new Float64Array(this.#capacity);
    this.#size = 0;
    for (let i = 0; i < before; i++) {
      const kind = old.kind[i] ?? 0;
      if (kind === 0) continue;
      const ports = old.ports[i] ?? 0;
      const [a, b] = [old.a[i] ?? 0, old.b[i] ?? 0];
      const row = this.#row(kind & 0xff, (kind & 0x100) !== 0, a, ports >>> 16, b, ports & 0xffff);
      this.#kind[row] = kind;
      this.#numbers.set(old.n.subarray(i * WIDTH, (i + 1) * WIDTH), row * WIDTH);
      this.#first[row] = first[i] ?? NaN;
      this.#last[row] = last[i] ?? NaN;
      const said = errors.get(i);
      if (said) this.#errors.set(row, said);
    }
  }

  /** All flows, in the order of their first packets. */
  listed(): CapturedFlow[] {
    const out: CapturedFlow[] = [];
    for (let row = 0; row < this.#capacity; row++) {
      const kind = this.#kind[row] ?? 0;
      if (kind === 0) continue;
      const isOther = (kind & 0x100) !== 0;
      const ports = this.#ports[row] ?? 0;
      const ends = [
        { address: this.addressText(this.#a[row] ?? 0, isOther), port: ports >>> 16 },
        { address: this.addressText(this.#b[row] ?? 0, isOther), port: ports & 0xffff },
      ] as const;
      const beganB = (kind & 0x200) !== 0;
      const [source, destination] = beganB ? [ends[1], ends[0]] : ends;
      const first = this.#numbers[row * WIDTH + FIRST_ANSWER] ?? NaN;
      const last = this.#numbers[row * WIDTH + LAST_ANSWER] ?? NaN;
      const way = (side: number): Way => {
        const at = row * WIDTH + side;
        const n = (column: number): number => this.#numbers[at + column] ?? 0;
        return {
          packets: n(PACKETS),
          bytes: n(BYTES),
          syns: n(SYNS),
          synAcks: n(SYN_ACKS),
          resets: n(RESETS),
          synAckSpan: n(SYN_ACKS) > 0 ? last - first : NaN,
        };
      };
      const isTcp = (kind & 0xff) === 6;
      const marked = this.#numbers[row * WIDTH + SEQUENCE] ?? 0;
      const mark = marked === 0 ? null : marked - 1;
      out.push({
        protocol: isTcp ? 'tcp' : 'udp',
        source: source.address,
        sourcePort: source.port,
        destination: destination.address,
        destinationPort: destination.port,
        there: way(beganB ? 1 : 0),
        back: way(beganB ? 0 : 1),
        initialSequence: isTcp ? mark : null,
        firstPayload: isTcp ? null : mark,
        frame: this.#numbers[row * WIDTH + FRAME] ?? 0,
        first: this.#first[row] ?? NaN,
        last: this.#last[row] ?? NaN,
        errors: [...(this.#errors.get(row) ?? [])].map(([said, count]) => {
          const [side, type, code, from = ''] = said.split(' ');
          const about = (side === 'b') === beganB ? 'question' : 'answer';
          return { about, from, type: Number(type), code: Number(code), count };
        }),
      });
    }
    return out.sort((x, y) => x.frame - y.frame);
  }
}
