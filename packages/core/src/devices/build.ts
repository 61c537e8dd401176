import {
  addressSet,
  formatAddress,
  parseAddress,
  parsePortRange,
  parsePrefix,
  portSet,
  PROTOCOL,
  type Address,
  type AddressSet,
  type Family,
  type PortSet,
  type Prefix,
} from '../net/index.ts';
import type {
  BaseChain,
  Chain,
  Field,
  Hook,
  Program,
  RowPlace,
  Rule,
  Step,
  ValueSet,
  Verdict,
  Doubt,
  Origin,
} from '../rules/index.ts';
import type { SourceRef } from '../place/index.ts';

/** Bricks that every dialect of settings builds its rules from. */

export const bits = (mask: number): ValueSet => ({ type: 'bits', mask });
export const names = (list: readonly string[]): ValueSet => ({ type: 'names', names: list });
export const addresses = (set: AddressSet): ValueSet => ({ type: 'addresses', set });
export const portNumbers = (set: PortSet): ValueSet => ({ type: 'numbers', set });
export const one = (n: number): ValueSet => ({ type: 'numbers', set: [{ first: n, last: n }] });

export const match = (field: Field, set: ValueSet, negate = false): Step => ({
  do: 'match',
  fields: [field],
  rows: [[set]],
  negate,
});
export const verdict = (v: Verdict): Step => ({ do: 'verdict', verdict: v });
export const accept: Step = verdict({ verdict: 'accept' });
export const drop: Step = verdict({ verdict: 'drop' });
/** A condition whose truth is not known; the reason is what would settle it. */
export const doubt = (of: Doubt): Step => ({ do: 'unmodelled-match', doubt: of });

export type TransportName = 'tcp' | 'udp' | 'both' | 'any';

/** The transports that a row names; `any` puts no condition. */
export function protocolMatch(protocol: TransportName): Step[] {
  if (protocol === 'any') return [];
  const list = protocol === 'both' ? [PROTOCOL.tcp, PROTOCOL.udp] : [PROTOCOL[protocol]];
  return [{ do: 'match', fields: [{ of: 'protocol' }], rows: list.map((n) => [one(n)]), negate: false }];
}

export interface RuleParts {
  readonly text: string;
  readonly source?: SourceRef | null;
  readonly steps: readonly Step[];
  readonly row?: RowPlace;
}

export const rule = (text: string, ...steps: Step[]): RuleParts => ({ text, steps });

/** The rule, with the row of the settings that it was made of. */
export const ofRow = (list: string, at: number, parts: RuleParts): RuleParts => ({
  ...parts,
  row: { list, at },
});

/** A chain whose rules get ids by their place. */
export function chain(
  name: string,
  rules: readonly RuleParts[],
  origin: Origin = { program: 'device' },
): Chain {
  return {
    id: name,
    name,
    origin,
    source: null,
    rules: rules.map((r, i): Rule => ({
      id: `${name}/${i + 1}`,
      text: r.text,
      source: r.source ?? null,
      steps: r.steps,
      ...(r.row ? { row: r.row } : {}),
    })),
  };
}

export function base(
  hook: Hook,
  type: BaseChain['type'],
  policy: 'accept' | 'drop',
  name: string,
  rules: readonly RuleParts[],
  priority = usualPriority(hook, type),
  origin?: Origin,
): BaseChain {
  return { hook, priority, type, policy, families: [4, 6], chain: chain(name, rules, origin) };
}

function usualPriority(hook: Hook, type: BaseChain['type']): number {
  if (type !== 'nat') return 0;
  return hook === 'postrouting' ? 100 : -100;
}

export const programOf = (bases: readonly BaseChain[], others: readonly Chain[] = []): Program => ({
  baseChains: bases,
  chains: [...bases.map((b) => b.chain), ...others],
});

/** Wrong values in settings: where they stand and what was expected. */
export class SettingsError extends Error {}

export function addressOf(text: string, where: string): Address {
  const a = parseAddress(text.trim());
  if (!a) throw new SettingsError(`${where}: “${text}” is not an IP address`);
  return a;
}

export function prefixOfText(text: string, where: string): Prefix {
  const p = parsePrefix(text.trim());
  if (!p) throw new SettingsError(`${where}: “${text}” is not an address or prefix`);
  return p;
}

/** `28410`, `28410-28415`, `80, 443` or `any`. */
export function portsOf(text: string | number | undefined, where: string): PortSet | null {
  if (text === undefined || text === '' || text === 'any') return null;
  const parts = String(text)
    .split(',')
    .map((p) => parsePortRange(p));
  // Port 0 is reserved and none that a packet is sent to (RFC 6335 §6).
  if (parts.some((p) => p === null || p.first === 0))
    throw new SettingsError(
      `${where}: “${text}” is not a port, a range such as 28410-28415, or a list of them`,
    );
  return portSet(...(parts as { first: number; last: number }[]));
}

/** Prefixes and ranges (`192.0.2.1-192.0.2.9`) as one set; null for anyone. */
export function addressesOf(list: readonly string[] | undefined, where: string): AddressSet | null {
  if (!list || list.length === 0 || list.includes('any')) return null;
  return addressSet(...list.map((p) => prefixOfText(p, where)));
}

export const familyOfSet = (set: AddressSet): Family | null => {
  if (set[6].length === 0) return 4;
  return set[4].length === 0 ? 6 : null;
};

/**
 * A condition on the source (or another address field); a set of both families needs a rule for each, so the
 * field carries none.
 */
export const addressMatch = (of: 'source' | 'destination', set: AddressSet | null): Step[] =>
  set === null ? [] : [match({ of, family: null }, addresses(set))];

export const single = (a: Address): { first: Address; last: Address } => ({ first: a, last: a });

export const addressText = formatAddress;
