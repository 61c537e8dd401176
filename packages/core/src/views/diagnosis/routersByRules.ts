import type { ServiceEndpoint } from '../../case/index.ts';
import { forwardsOf, type FilterForward } from '../../devices/index.ts';
import type { Fact } from '../../facts/index.ts';
import { labelledAddress, type CaseFacts } from '../../ledger/index.ts';
import { addressKind, formatAddress, parseAddress, type Address } from '../../net/index.ts';
import { withId } from '../../place/index.ts';
import type { Program, Rule } from '../../rules/index.ts';
import type { Site } from '../../site/index.ts';
import { AT } from './standIns.ts';

/** The one router of the way, of which its rules alone are known, with its lines as the rules name them. */
export interface RouterByRules {
  readonly stop: string;
  /** The address outside that its forwards name; null: they name none. */
  readonly outside: Address | null;
  readonly outward: string;
  /** null: the rules name no other line. */
  readonly inward: string | null;
}

/**
 * Null where several lines lead out, or several in, or forwards name several addresses: then rules do not
 * tell which of them is meant.
 */
export function routerByRules(facts: CaseFacts, { machines }: Pick<Site, 'machines'>): RouterByRules | null {
  const [gateway, ...further] = facts.document.path.filter((s) => s.role === 'gateway');
  if (!gateway || gateway.settings !== undefined) return null;
  // Where more is known of the way inward, it is known by its addresses.
  const isDark = further.every((s) => s.settings === undefined && !facts.files.some((f) => f.stop === s.id));
  if (!isDark) return null;
  const own = facts.files.filter((f) => f.stop === gateway.id);
  const isShown = own.some((f) => f.covers.includes('addresses'));
  const hasRules = own.some((f) => f.facts.some((x) => x.kind === 'nft' || x.kind === 'iptables'));
  if (isShown || !hasRules || labelledAddress(facts, gateway.id, 'wan-address')) return null;
  const program = withId(machines, gateway.id).program[4];
  const lines = program && linesOf(program);
  if (!lines) return null;
  // A row that stands inside out names an address of the network inside.
  const outsides = new Set(
    forwardsOf(program)
      .flatMap((f) => f.outside ?? [])
      .filter(isOutside),
  );
  if (outsides.size > 1) return null;
  return { stop: gateway.id, ...lines, outside: parseAddress([...outsides].join('')) };
}

/** Where a router's forwards of the service lead by its rules; null: to several places, or none. */
export function aimAt(facts: CaseFacts, { machines }: Pick<Site, 'machines'>, stop: string): Address | null {
  const endpoints = facts.document.service?.endpoints ?? [];
  const program = withId(machines, stop).program[4];
  const all = program ? forwardsOf(program) : [];
  const own = all.filter((f) => isOf(f, endpoints));
  // One that is begun at another port may still lead to the program's own.
  const forwards = own.length > 0 ? own : all.filter((f) => leadsTo(f, endpoints));
  const targets = new Set(forwards.map((f) => f.to ?? ''));
  return targets.size === 1 ? parseAddress([...targets].join('')) : null;
}

const isOutside = (text: string): boolean => {
  const address = parseAddress(text);
  return address === null || addressKind(address).kind !== 'private';
};

const leadsTo = ({ toPorts }: FilterForward, endpoints: readonly ServiceEndpoint[]): boolean =>
  toPorts !== null && endpoints.some((e) => toPorts[0] <= e.port && e.port <= toPorts[1]);

const isOf = (f: FilterForward, endpoints: readonly ServiceEndpoint[]): boolean =>
  endpoints.some(
    (e) =>
      (f.protocol ?? e.protocol) === e.protocol &&
      f.outsidePorts.some((p) => p.first <= e.port && e.port <= p.last),
  );

/** What is translated where it leaves, and where forwards begin, is the line outward. */
function linesOf(program: Program): Pick<RouterByRules, 'outward' | 'inward'> | null {
  const rules = [...program.baseChains.map((b) => b.chain), ...program.chains].flatMap((c) => c.rules);
  const begun = forwardsOf(program).flatMap((f) => f.iif?.split(',') ?? []);
  const hidden = rules.filter((r) => r.steps.some((s) => s.do === 'masquerade'));
  const outward = new Set([...begun, ...hidden.flatMap((r) => namesIn(r, ['out']))].filter(isPlain));
  const [line, ...more] = outward;
  if (line === undefined || more.length > 0) return null;
  const others = new Set(
    rules.flatMap((r) => namesIn(r, ['in', 'out'])).filter((n) => isPlain(n) && n !== line && n !== 'lo'),
  );
  const [inward = null, ...further] = others;
  return further.length > 0 ? null : { outward: line, inward };
}

const isPlain = (name: string): boolean => !name.includes('*');

const namesIn = (rule: Rule, sides: readonly ('in' | 'out')[]): string[] =>
  rule.steps.flatMap((step) =>
    step.do === 'match' && !step.negate
      ? step.fields.flatMap((field, i) =>
          sides.some((side) => side === field.of)
            ? step.rows.flatMap((row) => (row[i]?.type === 'names' ? row[i].names : []))
            : [],
        )
      : [],
  );

/** Its lines with addresses as they would be: outside the one that is dialled, inside one of that network. */
export function linesAs({ outward, inward }: RouterByRules, outside: Address, inside: Address): Fact[] {
  const line = (name: string, address: Address): Fact[] => [
    { kind: 'interface', at: AT, name, adminUp: true },
    {
      kind: 'address',
      at: AT,
      interface: name,
      family: address.family,
      address: formatAddress(address),
      prefix: 24,
      scope: 'global',
    },
  ];
  const own: Address = { family: 4, bits: (inside.bits & ~0xffn) | 1n };
  return [...line(outward, outside), ...line(inward ?? 'inside', own)];
}
