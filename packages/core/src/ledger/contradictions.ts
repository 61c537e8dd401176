import { addressKind, parseAddress } from '../net/index.ts';
import { nth, type SourceRef } from '../place/index.ts';
import { factsOf, type CaseFacts } from './caseFacts.ts';

/** One side of a contradiction. */
export interface Side {
  readonly value: string;
  readonly stop: string;
  readonly source: SourceRef;
  readonly typed: boolean;
  readonly at: string | null;
}

/** How one value is a slip of the pen for another. */
export type Slip = 'one digit off' | 'two digits swapped';

/** Facts about one thing that cannot all be true. The first side is the one that stands. */
export interface Contradiction {
  readonly about: 'outside-address' | 'server-address' | 'name' | 'setting';
  readonly stop: string;
  /** The name or the setting that has two values; null for addresses of the stop itself. */
  readonly of: string | null;
  readonly sides: readonly Side[];
  /** One value looks like a slip of the pen for another. */
  readonly slip: Slip | null;
}

/** Newest measured first: printed beats typed, newer beats older. */
const order = (a: Side, b: Side): number =>
  Number(a.typed) - Number(b.typed) || (b.at ?? '').localeCompare(a.at ?? '');

/** What the evidence says twice and differently. */
export function contradictions(facts: CaseFacts): Contradiction[] {
  return [...outsideAddresses(facts), ...serverAddresses(facts), ...names(facts), ...settings(facts)];
}

function told(
  about: Contradiction['about'],
  stop: string,
  of: string | null,
  sides: readonly Side[],
): Contradiction[] {
  const byValue = new Map<string, Side>();
  for (const side of [...sides].sort(order)) if (!byValue.has(side.value)) byValue.set(side.value, side);
  const firsts = [...new Set(sides.map((s) => s.value))].flatMap((v) => byValue.get(v) ?? []);
  const [a, b] = firsts;
  if (!a || !b) return [];
  return [{ about, stop, of, sides: firsts.sort(order), slip: slipOf(a.value, b.value) }];
}

const labelSides = (facts: CaseFacts, what: string, stop: string | null): Side[] =>
  factsOf(facts, 'labelled')
    .filter((l) => l.fact.what === what && (stop === null || l.stop === stop))
    .map((l) => ({ value: l.fact.value, stop: l.stop, source: l.source, typed: l.typed, at: l.at }));

/** What pages call the outside address; several lines of one page are no contradiction. */
function lineSides(facts: CaseFacts, stop: string): Side[] {
  const labelled = factsOf(facts, 'labelled').filter((l) => l.fact.what === 'wan-address' && l.stop === stop);
  const isFirst = (l: (typeof labelled)[number]): boolean =>
    l === labelled.find((o) => o.source.file === l.source.file);
  const sides = labelSides(facts, 'wan-address', stop);
  return sides.filter((_, i) => {
    const own = labelled[i];
    const label = labelled.find((o) => o.source.file === own?.source.file)?.fact.label;
    return own !== undefined && (isFirst(own) || own.fact.label === label);
  });
}

/**
 * The outside address of each gateway: its page, its interface of the default route, what it tells IGD and
 * NAT-PMP clients.
 */
function outsideAddresses(facts: CaseFacts): Contradiction[] {
  return facts.document.path
    .filter((s) => s.role === 'gateway')
    .flatMap((stop) => {
      const device = factsOf(facts, 'route').find(
        (r) => r.stop === stop.id && r.fact.to === 'default' && r.fact.family === 4,
      )?.fact.hops[0]?.dev;
      const own = factsOf(facts, 'address')
        .filter(
          (a) =>
            a.stop === stop.id && a.fact.family === 4 && a.fact.interface === device && !a.fact.secondary,
        )
        .map((a): Side => ({
          value: a.fact.address,
          stop: a.stop,
          source: a.source,
          typed: a.typed,
          at: a.at,
        }));
      const asked = factsOf(facts, 'external-address')
        .filter((n) => n.stop === stop.id)
        .map((n): Side => ({
          value: n.fact.value,
          stop: n.stop,
          source: n.source,
          typed: n.typed,
          at: n.at,
        }));
      const said = [...lineSides(facts, stop.id), ...asked];
      const [first] = own;
      // An interface may hold several addresses: one that it does not hold contradicts.
      const strange = first ? said.filter((s) => !own.some((o) => o.value === s.value)) : said;
      return told('outside-address', stop.id, null, first ? [first, ...strange] : strange);
    });
}

/** The server's address: what people say it is against what it prints. */
function serverAddresses(facts: CaseFacts): Contradiction[] {
  return facts.document.path
    .filter((s) => s.role === 'host')
    .flatMap((stop) => {
      const said = labelSides(facts, 'server-address', null).filter((s) => s.typed || s.stop === stop.id);
      const own = factsOf(facts, 'address')
        .filter((a) => a.stop === stop.id && a.fact.family === 4 && a.fact.scope !== 'host')
        .map((a): Side => ({
          value: a.fact.address,
          stop: a.stop,
          source: a.source,
          typed: a.typed,
          at: a.at,
        }));
      // A machine may have several addresses: only a said one that it does not have contradicts.
      const strange = said.filter((s) => own.length > 0 && !own.some((o) => o.value === s.value));
      return strange.length === 0 ? [] : told('server-address', stop.id, null, [nth(own, 0), ...strange]);
    });
}

/** One name with different answers: a stale cache, or two views of it. */
function names(facts: CaseFacts): Contradiction[] {
  const byName = new Map<string, Side[]>();
  for (const n of factsOf(facts, 'name')) {
    if (n.fact.type !== 'A' && n.fact.type !== 'AAAA') continue;
    const key = `${n.fact.name} ${n.fact.type}`;
    byName.set(key, [
      ...(byName.get(key) ?? []),
      {
        value:
          n.fact.status === 'NOERROR' ? [...n.fact.answers].sort().join(', ') || 'no record' : n.fact.status,
        stop: n.stop,
        source: n.source,
        typed: n.typed,
        at: n.at,
      },
    ]);
  }
  return [...byName].flatMap(([key, sides]) =>
    told('name', nth(sides, 0).stop, nth(key.split(' '), 0), sides),
  );
}

function settings(facts: CaseFacts): Contradiction[] {
  const byKey = new Map<string, Side[]>();
  for (const s of factsOf(facts, 'setting'))
    byKey.set(`${s.stop} ${s.fact.key}`, [
      ...(byKey.get(`${s.stop} ${s.fact.key}`) ?? []),
      { value: s.fact.value, stop: s.stop, source: s.source, typed: s.typed, at: s.at },
    ]);
  return [...byKey].flatMap(([key, sides]) =>
    told('setting', nth(sides, 0).stop, nth(key.split(' '), 1), sides),
  );
}

/** How one address could be a slip of the pen for another. */
export function slipOf(a: string, b: string): Slip | null {
  const [one, other] = [parseAddress(a), parseAddress(b)];
  if (!one || !other || addressKind(one).kind !== addressKind(other).kind) return null;
  if (a.length !== b.length) {
    const [long, short] = a.length > b.length ? [a, b] : [b, a];
    return long.length - short.length === 1 &&
      [...long].some((_, i) => long.slice(0, i) + long.slice(i + 1) === short)
      ? 'one digit off'
      : null;
  }
  const differs = [...a].flatMap((c, i) => (c === b[i] ? [] : [i]));
  if (differs.length === 1) return 'one digit off';
  return differs.length === 2 &&
    differs[1] === nth(differs, 0) + 1 &&
    a[nth(differs, 0)] === b[nth(differs, 1)] &&
    a[nth(differs, 1)] === b[nth(differs, 0)]
    ? 'two digits swapped'
    : null;
}
