import { writeEdited } from '../devices/index.ts';
import type { Run } from '../crossing/index.ts';
import { sameAddress } from '../net/index.ts';
import type { Machine } from '../site/index.ts';
import { chainOf, endMachine, type MendContext } from './context.ts';
import { accepts } from './filterMatch.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';
import { withRow, withSteps } from './scene.ts';

/**
 * The packet ended at the server on another port than it was dialled on, and the program is on the dialled
 * one: the inside port of the forward is wrong.
 */
export function insidePortMend(c: MendContext): Mend | null {
  const host = endMachine(c);
  const moved = host?.role === 'host' && c.run.direction === 'forward' ? movedIn(c.run) : null;
  if (!host || !moved) return null;
  const wanted = c.scene.packet.destination.port;
  if (!isMeant(c, host, wanted, moved.to)) return null;
  const { stop } = moved;
  const served = servedBy(c);
  const finding = {
    found: 'inside-port',
    served,
    now: moved.to,
    mended: wanted,
    rule: null,
    written: null,
  } as const;
  const rows = c.scene.rows.get(stop);
  const row = rows?.find(
    (r) =>
      r.enabled &&
      wanted >= r.outside.first &&
      wanted <= r.outside.last &&
      r.insideFirst + wanted - r.outside.first === moved.to,
  );
  if (rows && row)
    return {
      fault: 'fwd-inside-port',
      stop,
      finding,
      evidence: row.source ? [row.source] : [],
      apply: (scene) => withRow(scene, stop, rows, row, { insideFirst: row.outside.first }),
    };
  const { rule } = moved;
  if (!rule) return null;
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

/** The last translation of the destination that changed its port. */
function movedIn({ legs }: Run) {
  for (const leg of [...legs].reverse())
    for (const e of leg.lane === 'forward' ? leg.events : [])
      if (e.event === 'translated' && e.side === 'destination' && e.to.port !== leg.before.destination.port)
        return { stop: leg.stop, to: e.to.port, rule: e.rule };
  return null;
}

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
