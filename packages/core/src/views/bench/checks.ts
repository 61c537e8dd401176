import { withId } from '../../place/index.ts';
import { FAULTS } from '../../faults/index.ts';
import type { Mend } from '../../mend/index.ts';
import type { Trace } from '../../crossing/index.ts';
import { awaited, factsOf, type CaseFacts } from '../../ledger/index.ts';
import { addressesByRoutes, wanAddress } from '../../model/index.ts';
import { isReachable } from '../../net/index.ts';
import type { Need } from '../../rules/index.ts';
import type { Site } from '../../site/index.ts';
import type { Aim } from './packet.ts';
import { check, type Check } from './check.ts';
import { inTurn } from './turns.ts';

type Settle = NonNullable<Trace['needs'][number]['settle']>;

/**
 * Where a need is settled: a portal's list is the carrier's, what a perimeter lets in stands in its lists.
 * Null where no stop of the way could tell.
 */
function askedAt({ document: { path } }: CaseFacts, need: Need, { stop, yields }: Settle): Settle | null {
  const isPortal = need.need === 'condition' && need.doubt.doubt === 'portal-not-known';
  const carrier = isPortal ? path.find((s) => s.role === 'carrier') : undefined;
  if (carrier) return { stop: carrier.id, yields: 'forwards' };
  const own = path.find((s) => s.id === stop);
  if (!own) return null;
  return own.role === 'edge' && yields === 'rules' ? { stop, yields: 'allow-list' } : { stop, yields };
}

/** The place of which something is known that a try speaks against: its listing once more. */
export const againAt = (mend: Mend | null): Check[] =>
  mend ? [check(mend.stop, FAULTS[mend.fault].shownBy ?? 'forwards', { why: 'seen-otherwise' })] : [];

/**
 * What is worth asking, each in its turn. What the trace itself waits for stands before what would only be
 * nice to know.
 */
export function openChecks(facts: CaseFacts, site: Site, aim: Aim, trace: Trace | null): Check[] {
  const { path, client, declined } = facts.document;
  const clientStop = path.find((s) => s.role === 'client')?.id ?? 'client';
  const out: Check[] = awaited(facts).map((c) => check(c.stop, c.yields, { why: 'changed', title: c.title }));
  if (!client?.dials && aim.address === null) out.push(check(clientStop, 'configuration', { why: 'dials' }));
  if (aim.name && aim.trouble === 'not-looked-up')
    out.push(check(clientStop, 'name', { why: 'not-looked-up', name: aim.name }));
  for (const [i, stop] of path.filter((s) => s.role === 'gateway').entries()) {
    const machine = withId(site.machines, stop.id);
    const wan = wanAddress(facts, machine);
    if (!wan) out.push(check(stop.id, 'status', { why: 'outside-address' }));
    else if (
      i === 0 &&
      !isReachable(wan.address) &&
      !factsOf(facts, 'labelled').some((l) => l.fact.what === 'seen-address')
    )
      out.push(check(stop.id, 'seen-address', { why: 'outside-not-public' }));
    if (machine.program[4] === null) out.push(check(stop.id, 'forwards', { why: 'forwards' }));
  }
  for (const stop of path.filter((s) => s.role === 'edge'))
    if (!facts.files.some((f) => f.stop === stop.id && f.shows.includes('allow-list')) && !stop.settings)
      out.push(check(stop.id, 'allow-list', { why: 'rules' }));
  for (const stop of path.filter((s) => s.role === 'host')) {
    if (!showsAddresses(facts, site, stop.id)) out.push(check(stop.id, 'addresses', { why: 'addresses' }));
  }
  for (const { need, settle } of trace?.needs ?? []) {
    const asked = settle && askedAt(facts, need, settle);
    if (asked) out.push(check(asked.stop, asked.yields, { why: 'need', need }));
    // What nobody is known to hold may be another address of a server that was not listed whole.
    if (need.need === 'holder')
      for (const { id } of site.machines.filter((m) => m.mayHoldMore))
        out.push(check(id, 'addresses', { why: 'need', need }));
  }
  for (const stop of path.filter((s) => s.role === 'host')) {
    const machine = withId(site.machines, stop.id);
    if (!machine.sockets) out.push(check(stop.id, 'sockets', { why: 'listeners' }));
    if (machine.program[4] === null) out.push(check(stop.id, 'rules', { why: 'rules' }));
    if (machine.routes[4] === null) out.push(check(stop.id, 'routes', { why: 'way-out' }));
  }
  // What is awaited is asked for again, although it is known.
  const seen = new Set<string>(declined ?? []);
  return inTurn(
    out.filter((c) => !seen.has(c.id) && seen.add(c.id)),
    facts,
  );
}

/** A listing of its addresses is there, or its routes show the one that it sends from. */
const showsAddresses = (facts: CaseFacts, site: Site, host: string): boolean =>
  facts.files.some((f) => f.stop === host && f.covers.includes('addresses')) ||
  addressesByRoutes(withId(site.machines, host)) !== null;
