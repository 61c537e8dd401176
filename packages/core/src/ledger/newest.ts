import { nth } from '../place/index.ts';
import type { Family } from '../net/index.ts';
import type { Coverage, Fact, Reading } from '../facts/index.ts';

/** A reading with its age, as far as it is known. */
export interface AgedReading {
  readonly file: string;
  readonly facts: readonly Fact[];
  readonly covers: readonly Coverage[];
  readonly parts?: Reading['parts'];
  /** What it shows, whether or not it speaks for all of it. */
  readonly shows?: readonly Coverage[];
  /**
   * ISO 8601; readings without a time count as older than those with one, else the order of the case stands.
   */
  readonly at?: string | null;
  readonly typed?: boolean;
}

type Plain = Omit<AgedReading, 'parts'>;

/** Listings that leave out addresses: what they do not show may still be there. */
const INCOMPLETE_FORMATS = new Set(['ifconfig']);

/** Oldest first, typed before printed; several outputs in one paste count one after the other. */
function inOrder(readings: readonly AgedReading[]): (Plain & { format?: string })[] {
  return [...readings]
    .sort(
      (a, b) => Number(b.typed ?? false) - Number(a.typed ?? false) || (a.at ?? '').localeCompare(b.at ?? ''),
    )
    .flatMap(({ parts, ...r }) =>
      parts ? parts.map((p) => ({ ...r, format: p.format, facts: p.facts, covers: p.covers })) : [r],
    );
}

/**
 * What still stands of all readings of one machine: where a later listing speaks of the same thing again, the
 * earlier one is history. Listings of different tables, families, protocols or interfaces add up.
 * @returns readings oldest first, without the facts that a later one replaces
 */
export function standing(readings: readonly AgedReading[]): Plain[] {
  const later = new Later();
  return inOrder(readings)
    .reverse()
    .map((r) => {
      const facts = r.facts.flatMap((f) => later.rest(f));
      later.take(r);
      return { file: r.file, facts, covers: r.covers, at: r.at ?? null, typed: r.typed ?? false };
    })
    .reverse();
}

/** What the readings seen so far (the later ones) speak of. */
class Later {
  readonly #tables = new Set<string>();
  readonly #covers = new Set<Coverage>();
  readonly #addresses = new Set<string>();
  readonly #neighbours = new Set<string>();
  readonly #leases = new Set<string>();
  #interfaces: ReadonlySet<string> | null = null;

  /** What of a fact is not replaced: itself, nothing, or one of its families. */
  rest(fact: Fact): Fact[] {
    switch (fact.kind) {
      case 'route':
        return this.#tables.has(`${fact.family} *`) || this.#tables.has(`${fact.family} ${fact.table}`)
          ? []
          : [fact];
      case 'policy':
        return this.#policy(fact);
      case 'socket':
        return this.#covers.has(fact.protocol === 'tcp' ? 'sockets-tcp' : 'sockets-udp') ? [] : [fact];
      case 'interface':
        return this.#interfaces && !this.#interfaces.has(fact.name) ? [] : [fact];
      case 'address':
        return (this.#interfaces && !this.#interfaces.has(fact.interface)) ||
          this.#addresses.has(`${fact.interface} ${fact.family}`)
          ? []
          : [fact];
      case 'neighbour':
        return this.#neighbours.has(fact.address) ? [] : [fact];
      case 'lease':
        return this.#leases.has(fact.address) ||
          (fact.mac !== null && this.#leases.has(fact.mac.toLowerCase()))
          ? []
          : [fact];
      default:
        return [fact];
    }
  }

  #policy(fact: Extract<Fact, { kind: 'policy' }>): Fact[] {
    const open = ([4, 6] as const).filter(
      (f) =>
        (fact.family === null || fact.family === f) && !this.#covers.has(f === 4 ? 'policy4' : 'policy6'),
    );
    if (open.length === 0) return [];
    return fact.family === null && open.length === 1 ? [{ ...fact, family: nth(open, 0) }] : [fact];
  }

  take({ facts, covers, format }: Plain & { format?: string }): void {
    for (const c of covers) this.#covers.add(c);
    for (const family of [4, 6] as const)
      if (covers.includes(family === 4 ? 'routes4' : 'routes6')) this.#takeRoutes(facts, family);
    if (covers.includes('addresses')) this.#takeAddresses(facts, INCOMPLETE_FORMATS.has(format ?? ''));
    for (const f of facts) {
      if (f.kind === 'neighbour') this.#neighbours.add(f.address);
      if (f.kind === 'lease')
        for (const key of [f.address, f.mac?.toLowerCase()]) if (key) this.#leases.add(key);
    }
  }

  /**
   * A listing with the local table in it is one of all tables; else each table that it names is replaced by
   * itself.
   */
  #takeRoutes(facts: readonly Fact[], family: Family): void {
    const tables = new Set(
      facts.flatMap((f) => (f.kind === 'route' && f.family === family ? [f.table] : [])),
    );
    // A listing with the local table is one of all tables.
    const shown = tables.has('local') ? ['*'] : tables;
    for (const table of tables.size === 0 ? ['main'] : shown) this.#tables.add(`${family} ${table}`);
  }

  /**
   * A listing that shows the loopback is one of all interfaces. Families that it does not show at all may
   * have been left out (`ip -4`).
   */
  #takeAddresses(facts: readonly Fact[], incomplete: boolean): void {
    const names = new Set(
      facts.flatMap((f) => {
        if (f.kind === 'interface') return [f.name];
        return f.kind === 'address' ? [f.interface] : [];
      }),
    );
    const whole = facts.some(
      (f) =>
        (f.kind === 'interface' && f.loopback === true) || (f.kind === 'address' && /^127\./.test(f.address)),
    );
    const families = new Set(facts.flatMap((f) => (f.kind === 'address' ? [f.family] : [])));
    for (const family of families)
      if (!(incomplete && family === 4)) for (const name of names) this.#addresses.add(`${name} ${family}`);
    if (whole)
      this.#interfaces = this.#interfaces
        ? new Set([...this.#interfaces].filter((n) => names.has(n)))
        : names;
  }
}
