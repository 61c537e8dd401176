import type { AskKind } from '../../asks/index.ts';
import { saidOr } from '../../facts/index.ts';
import { awaited, factsOf, type CaseFacts } from '../../ledger/index.ts';
import type { Afterwards } from '../../words/index.ts';
import { day } from './day.ts';

/** Days after which somebody looks whether what was let in is still needed. */
const REVIEW_DAYS = 90;
const REVIEWED: ReadonlySet<AskKind> = new Set(['rules', 'allow-list', 'forwards']);

/** What is left to do once the client is served. */
export const afterwards = (facts: CaseFacts): Afterwards[] => [
  ...ofChanges(facts),
  ...logsToSwitchOff(facts),
  ...addressesToReserve(facts),
];

function ofChanges(facts: CaseFacts): Afterwards[] {
  const { changes = [], observations = [] } = facts.document;
  const waiting = new Set(awaited(facts));
  return changes.flatMap((c): Afterwards[] => [
    ...(observations.some((o) => (o.at ?? '') > c.at)
      ? []
      : [{ is: 'retest' as const, title: c.title, day: day(c.at) }]),
    ...(waiting.has(c) ? [{ is: 'send-again' as const, title: c.title, stop: c.stop }] : []),
    ...(REVIEWED.has(c.yields)
      ? [{ is: 'review' as const, title: c.title, day: daysAfter(c.at, REVIEW_DAYS) }]
      : []),
  ]);
}

const daysAfter = (at: string, days: number): string =>
  new Date(Date.parse(at) + days * 24 * 3_600_000).toISOString().slice(0, 10);

/** Formats of what a machine writes only while somebody has it switched on. */
const LOGS: ReadonlySet<string> = new Set(['packet-log', 'w3c-log', 'bsd-log']);

function logsToSwitchOff({ files }: CaseFacts): Afterwards[] {
  const stops = files.filter((f) => f.format !== null && LOGS.has(f.format)).map((f) => f.stop);
  return [...new Set(stops)].map((stop) => ({ is: 'log-off', stop }));
}

/** Machines that get forwards at an address that was only lent to them: another may hold it one day. */
function addressesToReserve(facts: CaseFacts): Afterwards[] {
  const lent = factsOf(facts, 'lease').filter((l) => l.fact.expires !== null);
  const targets = new Set(
    factsOf(facts, 'forward').flatMap(({ fact }) => {
      const target = saidOr(fact.target, null);
      return [target, fact.device].flatMap((t) => t?.toLowerCase() ?? []);
    }),
  );
  const byAddress = new Map(
    lent
      .filter(({ fact }) => targets.has(fact.address) || targets.has(fact.name?.toLowerCase() ?? ''))
      .map((l) => [l.fact.address, l]),
  );
  return [...byAddress.values()].map(({ stop, fact }) => ({
    is: 'reserve',
    stop,
    address: fact.address,
    name: fact.name,
  }));
}
