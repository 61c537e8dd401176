import { named, type StopNames } from '../../words/index.ts';
import type { Trace } from '../../crossing/index.ts';
import { awaited, factsOf, type CaseFacts } from '../../ledger/index.ts';
import { wanAddress } from '../../model/index.ts';
import { isReachable } from '../../net/index.ts';
import type { Site } from '../../site/index.ts';
import type { Aim } from './packet.ts';

/** Something to ask for. `id` is `stop/yields`, as in the `declined` list of a case. */
export interface Check {
  readonly id: string;
  readonly stop: string;
  readonly yields: string;
  readonly why: string;
}

const check = (stop: string, yields: string, why: string): Check => ({
  id: `${stop}/${yields}`,
  stop,
  yields,
  why,
});

/**
 * What is worth asking, in the order in which practitioners work: what is dialled, who is who, what kind of outside address,
 * the forward, then the server. What the trace itself waits for stands before what would only be nice to know.
 */
export function openChecks(
  facts: CaseFacts,
  site: Site,
  aim: Aim,
  trace: Trace | null,
  names: StopNames,
): Check[] {
  const { path, client, declined } = facts.document;
  const clientStop = path.find((s) => s.role === 'client')?.id ?? 'client';
  const out: Check[] = awaited(facts).map((c) =>
    check(c.stop, c.yields, `it was changed (${c.title}), and what is here is from before`),
  );
  if (!client?.dials && aim.address === null)
    out.push(check(clientStop, 'configuration', 'nobody has said what the client dials'));
  if (aim.name && aim.trouble === 'not-looked-up')
    out.push(check(clientStop, 'name', `${aim.name} has not been looked up`));
  for (const [i, stop] of path.filter((s) => s.role === 'gateway').entries()) {
    const machine = site.machines.find((m) => m.id === stop.id)!;
    const wan = wanAddress(facts, machine);
    if (!wan) out.push(check(stop.id, 'status', 'its outside address is not known'));
    else if (
      i === 0 &&
      !isReachable(wan.address) &&
      !factsOf(facts, 'labelled').some((l) => l.fact.what === 'seen-address')
    )
      out.push(
        check(
          stop.id,
          'seen-address',
          'its outside address is not public; what the internet sees tells what stands before it',
        ),
      );
    if (machine.program[4] === null) out.push(check(stop.id, 'forwards', 'its forwards are not known'));
  }
  for (const stop of path.filter((s) => s.role === 'host')) {
    if (!facts.files.some((f) => f.stop === stop.id && f.covers.includes('addresses')))
      out.push(check(stop.id, 'addresses', 'its addresses are not known'));
  }
  for (const q of trace?.needs ?? [])
    if (q.settle && path.some((s) => s.id === q.settle!.stop))
      out.push(
        check(
          q.settle.stop,
          q.settle.yields,
          named(
            q.needs,
            path.map((p) => p.id),
            names,
          ),
        ),
      );
  for (const stop of path.filter((s) => s.role === 'host')) {
    const machine = site.machines.find((m) => m.id === stop.id)!;
    if (!machine.sockets) out.push(check(stop.id, 'sockets', 'what listens is not known'));
    if (machine.program[4] === null) out.push(check(stop.id, 'rules', 'its firewall is not known'));
    if (machine.routes[4] === null) out.push(check(stop.id, 'routes', 'its way out is not known'));
  }
  // What is awaited is asked for again, although it is known.
  const seen = new Set<string>(declined ?? []);
  return out.filter((c) => !seen.has(c.id) && seen.add(c.id));
}
