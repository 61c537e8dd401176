import type { AskKind } from '../../asks/index.ts';
import type { Observation } from '../../case/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { checkWords, type StopNames } from '../../words/index.ts';
import type { Check } from '../bench/checks.ts';
import { aimOf } from '../bench/packet.ts';

export interface NextCheck {
  readonly id: string;
  readonly stop: string;
  readonly yields: AskKind;
  /** From where it is tried; null: it is no try. */
  readonly vantage: Observation['vantage'] | null;
  readonly text: string;
  readonly minutes: number;
}

function nextCheck(
  { id, stop, yields }: Pick<Check, 'id' | 'stop' | 'yields'>,
  facts: CaseFacts,
  names: StopNames,
): NextCheck {
  const role = facts.document.path.find((p) => p.id === stop)?.role ?? null;
  const port = facts.document.service?.endpoints?.[0]?.port ?? null;
  const { title, minutes } = checkWords(yields, names(stop), aimOf(facts).name, port, role);
  return { id, stop, yields, vantage: null, text: title, minutes };
}

/** Tries that tell apart what listings do not show, by what they cost a lay person. */
const TRIES: readonly (readonly [Observation['vantage'], 'client' | 'host', string])[] = [
  ['client', 'client', 'A try by the address, from where the client is'],
  ['outside', 'client', 'A try from another network outside'],
  ['lan', 'host', 'A try from another machine beside the server'],
  ['client-by-name', 'client', 'A try by the name, from where the client is'],
];

/** Records that are worth a look where every listing seems right. */
const RECORDS: readonly (readonly ['gateway' | 'host' | 'edge' | 'client', AskKind])[] = [
  ['gateway', 'mappings'],
  ['gateway', 'sessions'],
  ['gateway', 'leases'],
  ['host', 'configuration'],
  ['client', 'name'],
  ['host', 'neighbours'],
  ['edge', 'status'],
  ['host', 'drop-log'],
  ['gateway', 'counters'],
];

/** The checks as they settle most: tries and records stand behind what the crossing needs. */
export function nextChecks(open: readonly Check[], facts: CaseFacts, names: StopNames): NextCheck[] {
  const checks = open.map((c) => nextCheck(c, facts, names));
  const { path, observations, declined } = facts.document;
  const first = (role: string): string | undefined => path.find((s) => s.role === role)?.id;
  const tried = new Set((observations ?? []).map((o) => o.vantage));
  const tries = TRIES.flatMap(([vantage, role, text]): NextCheck[] => {
    const stop = first(role);
    const id = `${stop}/dial/${vantage}`;
    return stop === undefined || tried.has(vantage) || declined?.includes(id)
      ? []
      : [{ id, stop, yields: 'dial', vantage, text, minutes: 2 }];
  });
  const had = new Set(checks.map((c) => c.id));
  const given = new Set(facts.files.flatMap((f) => (f.asked ? [f.asked] : [])));
  const records = RECORDS.flatMap(([role, yields]): NextCheck[] => {
    const stop = first(role);
    const id = `${stop}/${yields}`;
    return stop === undefined || had.has(id) || given.has(id) || declined?.includes(id)
      ? []
      : [nextCheck({ id, stop, yields }, facts, names)];
  });
  const [one, ...rest] = checks;
  return [...(one ? [one] : []), ...tries.slice(0, 1), ...rest, ...tries.slice(1), ...records];
}
