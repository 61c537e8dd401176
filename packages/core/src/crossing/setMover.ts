import type { Ending } from './types.ts';
import type { Family, Point } from '../net/index.ts';
import {
  answersTo,
  arriving,
  headerValues,
  isMissing,
  newSetSession,
  outcomesOf,
  runChainOnSets,
  withSession,
  type Ask,
  type BaseChain,
  Effort,
  type Given,
  type HeaderName,
  type Hook,
  type LookupField,
  type Missing,
  type PacketSet,
  type SetHost,
  type Subject,
  type Need,
  keyOf,
  openKey,
} from '../rules/index.ts';
import type { Machine, NetInterface } from '../site/index.ts';
import { NO_CUTS, routeCuts, type Cuts } from './cuts.ts';
import { hopsLeft, masqueradeAddress, redirectAddress, routeValue, type Passed } from './lookups.ts';
import type { Exit, Mover, Part, TranslationSide } from './mover.ts';
import { MOST_HOPS } from './packetMover.ts';
import { unknownRulesQuestion } from './unknownRules.ts';
import type { SocketAnswer } from './sockets.ts';
import { answersKey, piecesOf, restricted, sampleOf, setHeader } from './setPieces.ts';
import type { Delivery, MovingSet, OpenEnd } from './movingSet.ts';

/**
 * What the stages of a machine mean for a set of first packets. Those that are lost or refused are not kept.
 */
export class SetMover implements Mover<MovingSet> {
  readonly deliveries: Delivery[] = [];
  readonly open: OpenEnd[] = [];
  readonly #effort: Effort;

  constructor(effort: Effort) {
    this.#effort = effort;
  }

  isQuestion(): boolean {
    return true;
  }

  familyOf({ set }: MovingSet): Family {
    return set.family;
  }

  home(): null {
    return null;
  }

  enter(_machine: Machine, device: NetInterface | null, p: MovingSet): MovingSet | null {
    const { set, hops } = p;
    this.#effort.spend();
    return hops >= MOST_HOPS ? null : { ...p, set: arriving(set, device?.name ?? null), hops: hops + 1 };
  }

  split<T>(
    p: MovingSet,
    header: HeaderName,
    cuts: Cuts,
    judge: (packet: Subject, ask: Ask) => T,
    keyOf: (value: T) => string,
  ): readonly Part<MovingSet, T>[] {
    return this.#parts(p.set, header, cuts, judge, keyOf).map(({ value, part }) => ({
      value,
      part: { ...p, set: part },
    }));
  }

  /**
   * Pieces of a header's line with the same answer stay together; what is not known is answered both ways.
   */
  #parts<T>(
    set: PacketSet,
    header: HeaderName,
    cuts: Cuts,
    judge: (packet: Subject, ask: Ask) => T,
    keyOf: (value: T) => string,
  ): readonly Part<PacketSet, T>[] {
    interface Group {
      readonly value: T;
      readonly given: Given | null;
      readonly side: { first: Point; last: Point }[];
    }
    const groups = new Map<string, Group>();
    const mapped = set.now[header];
    const sample = sampleOf(set);
    let pieces = 0;
    for (const piece of piecesOf(headerValues(set, mapped), cuts(set.family))) {
      pieces++;
      setHeader(sample, header, piece.first);
      for (const { value, given } of outcomesOf(set.given, (ask) => judge(sample, ask))) {
        const key = `${keyOf(value)}/${answersKey(given, set.given)}`;
        const group = groups.get(key);
        if (group) group.side.push(piece);
        else groups.set(key, { value, given, side: [piece] });
      }
    }
    this.#effort.spend(pieces);
    return [...groups.values()].flatMap(({ value, given, side }) => {
      const part = side.length === pieces ? set : restricted(set, header, side);
      return part ? [{ value, part: given === set.given ? part : { ...part, given } }] : [];
    });
  }

  chain(hook: Hook, machine: Machine, base: BaseChain, p: MovingSet): readonly MovingSet[] {
    const end = runChainOnSets(base.chain, [p.set], this.#host(hook, base, machine, p));
    for (const set of end.open)
      this.open.push({
        stop: machine.id,
        why: { need: 'target', stop: machine.id, rule: base.chain.name },
        set,
      });
    const passed = base.policy === 'accept' ? [...end.accepted, ...end.through] : end.accepted;
    return passed.map((set) => ({ ...p, set }));
  }

  #host(hook: Hook, base: BaseChain, machine: Machine, { hops, isCarried }: MovingSet): SetHost {
    const isForwarded = hook === 'forward' || hook === 'postrouting';
    const passed: Passed = { form: 'question', machines: hops, isCarried, isForwarded };
    return {
      stop: machine.id,
      chainType: base.type,
      effort: this.#effort,
      lookUp: (field, set) => this.#lookUp(machine, field, set, passed),
      ownAddresses: (kind, set) =>
        kind === 'masquerade' || hook === 'output'
          ? this.#parts(
              set,
              'destination',
              set.nextHop ? NO_CUTS : routeCuts(machine),
              (packet) => masqueradeAddress(machine, packet),
              (address) => String(address?.bits),
            ).map(({ part, value }) => ({ part, address: value }))
          : [{ part: set, address: redirectAddress(machine, set.in, set.family) }],
    };
  }

  #lookUp(machine: Machine, field: LookupField, set: PacketSet, passed: Passed) {
    const judge = (packet: Subject, ask: Ask): number | Missing =>
      field.of === 'hops-left' ? hopsLeft(passed, ask) : routeValue(machine, field, packet, ask);
    const header = field.of === 'address-type' ? field.side : 'source';
    const cuts = field.of === 'hops-left' ? NO_CUTS : routeCuts(machine);
    return this.#parts(set, header, cuts, judge, (v) => (isMissing(v) ? keyOf(v.missing) : String(v)));
  }

  unknownRules(_hook: Hook, machine: Machine, p: MovingSet): readonly MovingSet[] {
    return answersTo(p.set.given, unknownRulesQuestion(machine, p.set.family), 2)
      .filter(({ answer }) => answer === 0)
      .map(({ given }) => ({ ...p, set: { ...p.set, given } }));
  }

  track(_machine: Machine, p: MovingSet): MovingSet {
    const { set } = p;
    if (set.untracked || set.tracking) return p;
    const tracking = { state: 'new', direction: 'original', session: newSetSession(set) } as const;
    return { ...p, set: { ...set, tracking } };
  }

  isTranslated({ set: { tracking } }: MovingSet, side: TranslationSide): boolean {
    if (!tracking?.session || tracking.state !== 'new') return false;
    return !(side === 'destination' ? tracking.session.destinationDone : tracking.session.sourceDone);
  }

  closeTranslation(p: MovingSet, side: TranslationSide): MovingSet {
    const done = side === 'destination' ? { destinationDone: true } : { sourceDone: true };
    return { ...p, set: withSession(p.set, done) };
  }

  /** A set's headers change with the rule that translates them. */
  rewrite(_machine: Machine, p: MovingSet): MovingSet {
    return p;
  }

  noteRoute(): void {
    // The trail of a set holds rules only.
  }

  towards(p: MovingSet, exit: Exit): MovingSet {
    return { ...p, set: { ...p.set, out: exit.out, nextHop: exit.via } };
  }

  confirm(): void {
    // Nothing comes back to a set.
  }

  leave(_machine: Machine, p: MovingSet): MovingSet {
    return p;
  }

  isForwarded({ set }: MovingSet): boolean {
    return set.tracking?.session?.destinationTranslated === true;
  }

  carried(p: MovingSet): MovingSet {
    return { ...p, isCarried: true };
  }

  atCarrier(_carrier: Machine, p: MovingSet): MovingSet {
    return { ...p, set: arriving(p.set, null) };
  }

  delivered(machine: Machine, { set }: MovingSet, found: SocketAnswer): void {
    if (found.is === 'open') this.deliveries.push({ machine, socket: found.socket, set });
    else if (found.is === 'unknown') {
      const question = {
        key: openKey(found.need),
        need: found.need,
        settle: { stop: machine.id, yields: 'sockets' },
      } as const;
      for (const { answer, given } of answersTo(set.given, question, 2))
        if (answer === 0) this.deliveries.push({ machine, socket: null, set: { ...set, given } });
    }
  }

  unknown(stop: string | null, { set }: MovingSet, why: Need): void {
    this.open.push({ stop, why, set });
  }

  gone(stop: string | null, { set }: MovingSet, outcome: 'lost' | 'open', ending: Ending): void {
    if (outcome === 'open') this.open.push({ stop, why: ending, set });
  }

  concluded(): void {
    // Nothing comes back to a set.
  }

  lost(): void {
    // Nobody asks for packets that are lost,
  }

  rejected(): void {
    // or refused.
  }

  unreachable(): void {
    // Refused as well.
  }
}
