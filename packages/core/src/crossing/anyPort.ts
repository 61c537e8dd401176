import type { Header } from '../net/index.ts';
import type { Program, Step } from '../rules/index.ts';
import type { Site } from '../site/index.ts';
import { trace, type Trace } from './trace.ts';

/** Ports that clients take by themselves (RFC 6056 §2.1, §3.2). */
const EPHEMERAL = { first: 1024, last: 65535 };
/** Usual edges of such ranges: IANA's dynamic ports, and what common systems use. */
const USUAL = [1024, 32768, 49152, 60999, 61000, 65535];
/** More ports than these are not tried one by one. */
const MOST = 32;

/**
 * The verdict on a packet of which the sender's port is not told: it may be any that a client takes by
 * itself. Unknown where two of them end differently.
 * @param packet its source port is the one that is shown
 */
export function traceAnyPort(site: Site, packet: Header): Trace {
  const shown = trace(site, packet);
  if (shown.outcome === 'unknown') return shown;
  const edges = site.machines.flatMap((m) =>
    [m.program[4], m.program[6]].flatMap((p) => (p ? edgesOf(p, m.role === 'edge') : [])),
  );
  const ports = [...new Set([...edges, ...USUAL])]
    .filter((p) => p >= EPHEMERAL.first && p <= EPHEMERAL.last && p !== packet.source.port)
    .slice(0, MOST);
  const differs = edges.length > 0 && ports.some((port) => endsElsewise(site, packet, port, shown));
  return differs
    ? {
        ...shown,
        outcome: 'unknown',
        stop: null,
        seen: null,
        needs: [{ key: 'sender-port', need: { need: 'sender-port' }, settle: null }],
      }
    : shown;
}

function endsElsewise(site: Site, packet: Header, port: number, shown: Trace): boolean {
  const other = trace(site, { ...packet, source: { ...packet.source, port } }, { explain: false });
  return other.outcome !== shown.outcome;
}

/**
 * Ports at which a rule set tells senders apart: where a list looks at answers by themselves, also by
 * their destination.
 */
function edgesOf(program: Program, isStateless: boolean): number[] {
  const steps = program.chains.flatMap((c) => c.rules.flatMap((r) => r.steps));
  return steps.flatMap((step) => portsOf(step, isStateless));
}

function portsOf(step: Step, isStateless: boolean): number[] {
  if (step.do !== 'match') return [];
  return step.fields.flatMap((field, i) => {
    const looks = field.of === 'sport' || field.of === 'ct-sport' || (isStateless && field.of === 'dport');
    if (!looks) return [];
    return step.rows.flatMap((row) => {
      const set = row[i];
      return set?.type === 'numbers'
        ? set.set.flatMap(({ first, last }) => [first - 1, first, last, last + 1])
        : [];
    });
  });
}
