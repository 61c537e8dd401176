import type { NetInterface } from '../site/index.ts';
import type { Mend } from './mend.ts';
import { withMachine } from './scene.ts';

/** An interface has no link: a cable, a switch port or a virtual link. No rule is to blame. */
export function linkMend({ stop, interface: own }: { stop: string; interface: NetInterface }): Mend {
  return {
    fault: 'link-down',
    stop,
    finding: { found: 'no-link', interface: own.name },
    evidence: own.source ? [own.source] : [],
    apply: (scene) => {
      const linked = withMachine(scene, stop, (m) => ({
        ...m,
        interfaces:
          m.interfaces?.map((i) => (i.name === own.name ? { ...i, adminUp: true, carrier: true } : i)) ??
          null,
      }));
      // Who did not answer while the link was down was told to nobody since.
      const addresses = new Set(own.addresses.map((a) => a.address.bits));
      const machines = linked.site.machines.map((m) => ({
        ...m,
        neighbours: m.neighbours.filter((n) => !n.failed || !addresses.has(n.address.bits)),
      }));
      return { ...linked, site: { ...linked.site, machines } };
    },
  };
}
