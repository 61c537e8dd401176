import type { Address } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Ask, Question } from '../rules/index.ts';
import type { Machine } from '../site/index.ts';
import { isLocalAddress, lookUpRoute } from './routing.ts';
import type { Ending } from './types.ts';

/** Values of rp_filter (RFC 3704): 0 no check, 1 strict, 2 loose. */
const LOOSE = 2;

/**
 * The reverse-path mode of an interface. `least` is what is known of it; `exact` says whether that is all.
 */
interface Mode {
  readonly least: number;
  readonly exact: boolean;
  readonly source: SourceRef | null;
}

/** The kernel takes the larger of the value for `all` and the interface's own (ip-sysctl: rp_filter). */
function modeOf(machine: Machine, device: string): Mode {
  const all = machine.settings.get('net.ipv4.conf.all.rp_filter');
  const own = machine.settings.get(`net.ipv4.conf.${device}.rp_filter`);
  const [a, o] = [Number(all?.value ?? 0), Number(own?.value ?? 0)];
  const least = Math.max(a, o);
  const exact = least >= LOOSE || (all !== undefined && own !== undefined);
  return { least, exact, source: (o >= a ? own?.source : all?.source) ?? null };
}

const modeQuestion = (machine: Machine, device: string): Question => ({
  key: `${machine.id}/rp_filter/${device}`,
  need: { need: 'reverse-path', stop: machine.id, interface: device },
  settle: { stop: machine.id, yields: 'routes' },
});

/**
 * Source validation at the routing decision (fib_validate_source; RFC 3704 §2.2 strict, §2.4 loose). IPv4
 * only. It comes after prerouting, so translated destinations and marks count, and it drops in silence.
 * @returns null where the packet passes
 */
export function checkSource(
  machine: Machine,
  packet: { readonly source: Address; readonly destination: Address; readonly mark: number },
  device: string,
  ask: Ask,
): Ending | null {
  if (packet.source.family === 6) return null;
  if (isLocalAddress(machine, packet.source)) return { kind: 'martian', address: packet.source };
  const { least, exact, source } = modeOf(machine, device);
  if (exact && least === 0) return null;
  const back = lookUpRoute(
    machine,
    {
      destination: packet.source,
      source: packet.destination,
      in: device,
      mark: usesMark(machine, device) ? packet.mark : 0,
    },
    ask,
  );
  if (back.is === 'unknown') return null;
  if (back.is === 'unicast' && back.route.hops.some((hop) => hop.device === device)) return null;
  const fails: Ending = { kind: 'reverse-path', address: packet.source, interface: device, source };
  const passesLoosely = back.is === 'unicast';
  if (exact) return least === LOOSE && passesLoosely ? null : fails;
  // Only now does it matter what is not said: no check and the loose one let it pass, the strict one does
  // not.
  if (least > 0 && !passesLoosely) return fails;
  return ask(modeQuestion(machine, device), 2) === 0 ? null : fails;
}

const usesMark = (machine: Machine, device: string): boolean =>
  [device, 'all'].some((name) => machine.settings.get(`net.ipv4.conf.${name}.src_valid_mark`)?.value === '1');
