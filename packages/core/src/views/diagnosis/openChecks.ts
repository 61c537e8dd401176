import type { AskKind } from '../../asks/index.ts';
import type { Observation } from '../../case/index.ts';
import type { CaseFacts } from '../../ledger/index.ts';
import { checkWords, type StopNames } from '../../words/index.ts';
import type { Check } from '../bench/check.ts';
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

export function nextCheck(
  { id, stop, yields }: Pick<Check, 'id' | 'stop' | 'yields'>,
  facts: CaseFacts,
  names: StopNames,
): NextCheck {
  const role = facts.document.path.find((p) => p.id === stop)?.role ?? null;
  const port = facts.document.service?.endpoints?.[0]?.port ?? null;
  const { title, minutes } = checkWords(yields, names(stop), aimOf(facts).name, port, role);
  return { id, stop, yields, vantage: null, text: title, minutes };
}

export type Try = readonly [Observation['vantage'], 'client' | 'host', string];

export const FROM_LAN: Try = ['lan', 'host', 'A try from another machine beside the server'];

/** Tries that tell apart what listings do not show, by what they cost a lay person. */
export const TRIES: readonly Try[] = [
  ['client', 'client', 'A try by the address, from where the client is'],
  ['outside', 'client', 'A try from another network outside'],
  FROM_LAN,
  ['client-by-name', 'client', 'A try by the name, from where the client is'],
];

/** What tells a client inside from one outside. */
export const TRIES_INSIDE: readonly Try[] = [
  ['outside', 'client', 'A try from another network outside'],
  ['lan-by-outside-address', 'host', 'A try from a machine inside, by the outside address'],
  FROM_LAN,
];

type Place = 'gateway' | 'host' | 'edge' | 'client' | 'carrier';
export type Ask = readonly [Place, AskKind];

/** Builds checks that were not asked, tried or declined before. */
export class Open {
  readonly #facts: CaseFacts;
  readonly #names: StopNames;
  readonly #given: ReadonlySet<string>;

  constructor(facts: CaseFacts, names: StopNames) {
    this.#facts = facts;
    this.#names = names;
    const { declined = [], observations = [] } = facts.document;
    this.#given = new Set([
      ...declined,
      ...facts.files.flatMap((f) => (f.asked ? [f.asked] : [])),
      ...observations.map((o) => `tried/${o.vantage}`),
    ]);
  }

  first(role: string): string | undefined {
    return this.#facts.document.path.find((s) => s.role === role)?.id;
  }

  isDeclined = (stop: string, yields: AskKind): boolean =>
    this.#facts.document.declined?.includes(`${stop}/${yields}`) ?? false;

  listings(asks: readonly Ask[]): NextCheck[] {
    return asks.flatMap(([role, yields]) => {
      const stop = this.first(role);
      return stop === undefined ? [] : this.listing(stop, yields);
    });
  }

  listing(stop: string, yields: AskKind): NextCheck[] {
    const id = `${stop}/${yields}`;
    return this.#given.has(id) ? [] : [nextCheck({ id, stop, yields }, this.#facts, this.#names)];
  }

  tries(list: readonly Try[]): NextCheck[] {
    return list.flatMap(([vantage, role, text]): NextCheck[] => {
      const stop = this.first(role);
      const id = `${stop}/dial/${vantage}`;
      return stop === undefined || this.#given.has(`tried/${vantage}`) || this.#given.has(id)
        ? []
        : [{ id, stop, yields: 'dial', vantage, text, minutes: 2 }];
    });
  }
}

export const once = (checks: readonly NextCheck[]): NextCheck[] =>
  checks.filter((c, i) => checks.findIndex((o) => o.id === c.id) === i);
