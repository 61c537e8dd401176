import type { Address } from '../net/index.ts';
import type { Ask } from '../rules/index.ts';
import type { Machine, SourceRef } from '../site/index.ts';
import { isLocalAddress, lookUpRoute } from './routing.ts';

export type SourceCheck =
  | { readonly passes: true }
  | { readonly passes: false; readonly why: 'martian' | 'reverse-path'; readonly source: SourceRef | null };

const PASSES: SourceCheck = { passes: true };

/** Value of a per-interface IPv4 setting as the kernel combines it for rp_filter: the larger of `all` and the interface's own. */
function reversePathMode(machine: Machine, device: string): { mode: number | null; source: SourceRef | null } {
  const all = machine.settings.get('net.ipv4.conf.all.rp_filter');
  const own = machine.settings.get(`net.ipv4.conf.${device}.rp_filter`);
  if (!all && !own) return { mode: null, source: null };
  const [a, o] = [Number(all?.value ?? 0), Number(own?.value ?? 0)];
  return o >= a ? { mode: o, source: own?.source ?? null } : { mode: a, source: all?.source ?? null };
}

/**
 * Source validation at the routing decision (fib_validate_source; RFC 3704 §2.2 strict, §2.4 loose). IPv4 only.
 * It comes after prerouting, so translated destinations and marks count, and it drops in silence.
 */
export function checkSource(machine: Machine, packet: { readonly source: Address; readonly destination: Address; readonly mark: number }, device: string, ask: Ask): SourceCheck {
  if (packet.source.family === 6) return PASSES;
  if (isLocalAddress(machine, packet.source)) return { passes: false, why: 'martian', source: null };
  const { mode, source } = reversePathMode(machine, device);
  if (mode === 0) return PASSES;
  const useMark = machine.settings.get(`net.ipv4.conf.${device}.src_valid_mark`)?.value === '1' || machine.settings.get('net.ipv4.conf.all.src_valid_mark')?.value === '1';
  const back = lookUpRoute(machine, { destination: packet.source, source: packet.destination, in: device, mark: useMark ? packet.mark : 0 }, ask);
  if (back.is === 'unknown') return PASSES;
  const strict = back.is === 'unicast' && back.route.hops.some((hop) => hop.device === device);
  const loose = back.is === 'unicast';
  if (strict || (mode === 2 && loose)) return PASSES;
  if (mode === null) {
    // Not said: only now does it matter.
    const off = ask({ key: `${machine.id}/rp_filter/${device}`, needs: `the reverse-path setting of ${machine.id} (net.ipv4.conf.${device}.rp_filter)`, settle: { stop: machine.id, yields: 'routes' } }, 2) === 0;
    return off ? PASSES : { passes: false, why: 'reverse-path', source: null };
  }
  return { passes: false, why: 'reverse-path', source };
}
