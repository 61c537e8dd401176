import { writeEdited } from '../devices/index.ts';
import type { Run } from '../crossing/index.ts';
import { sameAddress } from '../net/index.ts';
import type { Rule } from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import { chainOf, endMachine, type MendContext } from './context.ts';
import { accepts } from './filterMatch.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';
import { withRow, withSteps } from './scene.ts';

/**
 * The packet ended at the server on another port than it was dialled on, and the program is on the dialled
 * one: the inside port of the forward is wrong.
 * @param lane on which way it ended: the reset of a closed port may end on its way back
 */
export function insidePortMend(c: MendContext, lane: Run['direction'] = 'forward'): Mend | null {
  const host = endMachine(c);
  const moves = host?.role === 'host' && c.run.direction === lane ? movesOf(c.run) : [];
  const [last] = moves;
  const wanted = c.scene.packet.destination.port;
  if (!host || !last || last.to === wanted || !isMeant(c, host, wanted, last.to)) return null;
  // The router nearest to the server first: what those before it do may stay.
  for (const move of moves) {
    const mend = move.to === last.to ? mendAt(c, move, wanted) : null;
    if (mend) return mend;
  }
  return null;
}

/** The mend of one translation, whose row or rule moves the packet to a wrong port of the server. */
function mendAt(c: MendContext, { stop, came, to, rule }: Move, wanted: number): Mend | null {
  const served = servedBy(c);
  const finding = {
    found: 'inside-port',
    served,
    now: to,
    mended: wanted,
    rule: null,
    written: null,
  } as const;
  const rows = c.scene.rows.get(stop);
  const row = rows?.find(
    (r) =>
      r.enabled &&
      came >= r.outside.first &&
      came <= r.outside.last &&
      r.insideFirst + came - r.outside.first === to,
  );
  const insideFirst = row ? wanted - (came - row.outside.first) : 0;
  if (rows && row && insideFirst > 0)
    return {
      fault: 'fwd-inside-port',
      stop,
      finding,
      evidence: row.source ? [row.source] : [],
      apply: (scene) => withRow(scene, stop, rows, row, { insideFirst }),
    };
  // A rule without a port leaves the one that it came to.
  if (!rule || came !== wanted || to === came) return null;
  const { family } = c.scene.packet.destination.address;
  const chain = chainOf(c, stop, rule);
  return {
    fault: 'fwd-inside-port',
    stop,
    finding: {
      ...finding,
      rule,
      written: chain && writeEdited(rule, chain, { edit: 'target-port' }, served),
    },
    evidence: rule.source ? [rule.source] : [],
    apply: (scene) =>
      withSteps(scene, stop, family, rule, (steps) =>
        steps.map((s) => (s.do === 'translate' ? { ...s, target: { ...s.target, ports: null } } : s)),
      ),
  };
}

/**
 * Whether a port of the server is the program's own and another one is not: it listens there; or it would, if
 * its address or protocol were right; or, where nothing is on either, the server's own filter names that one
 * alone.
 */
export function isMeant(c: MendContext, host: Machine, port: number, instead: number): boolean {
  const ways = [
    ...(host.sockets
      ? [
          (p: number): boolean => listens(host, p, c),
          (p: number): boolean => host.sockets?.some((s) => s.port === p) ?? false,
        ]
      : []),
    (p: number): boolean => allows(host, p, c),
  ];
  const telling = ways.find((isOn) => isOn(port) || isOn(instead));
  return telling !== undefined && telling(port) && !telling(instead);
}

/** A translation of the destination on the way to the server: the port that came, and the one that left. */
interface Move {
  readonly stop: string;
  readonly came: number;
  readonly to: number;
  readonly rule: Rule | null;
}

/** The one nearest to the server first. */
const movesOf = ({ legs }: Run): Move[] =>
  legs
    .filter((leg) => leg.lane === 'forward')
    .flatMap((leg) =>
      leg.events.flatMap((e) =>
        e.event === 'translated' && e.side === 'destination'
          ? [{ stop: leg.stop, came: leg.before.destination.port, to: e.to.port, rule: e.rule }]
          : [],
      ),
    )
    .reverse();

/** Where nobody knows what listens: its own filter lets a port in by a rule that names it. */
const allows = (host: Machine, port: number, { scene }: MendContext): boolean =>
  host.program[scene.packet.destination.address.family]?.chains.some(({ rules }) =>
    rules.some(
      (rule) =>
        accepts(rule) &&
        rule.steps.some(
          (s) =>
            s.do === 'match' &&
            s.fields.length === 1 &&
            s.fields[0]?.of === 'dport' &&
            s.rows.some(
              ([v]) => v?.type === 'numbers' && v.set.some((i) => port >= i.first && port <= i.last),
            ),
        ),
    ),
  ) ?? false;

const listens = (host: Machine, port: number, { scene, run }: MendContext): boolean => {
  const at = run.legs[run.legs.length - 1]?.before.destination.address;
  return (
    host.sockets?.some(
      (s) =>
        s.transport === scene.packet.transport &&
        s.port === port &&
        (s.address === null || (at !== undefined && sameAddress(s.address, at))),
    ) ?? false
  );
};
