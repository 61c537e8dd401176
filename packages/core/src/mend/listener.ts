import type { Ending } from '../crossing/index.ts';
import type { FaultId } from '../faults/index.ts';
import { systemAt } from '../model/index.ts';
import { addressKind, sameAddress } from '../net/index.ts';
import type { Socket } from '../site/index.ts';
import type { MendContext } from './context.ts';
import type { Mend } from './mend.ts';
import type { Finding } from './finding.ts';
import { withMachine } from './scene.ts';

type Closed = Extract<Ending, { kind: 'closed-port' }>;
type How = Extract<Finding, { found: 'listener' }>['how'];

const FAULTS: Readonly<Record<How, FaultId>> = {
  loopback: 'listen-loopback',
  address: 'listen-address',
  family: 'listen-family',
  protocol: 'listen-protocol',
  none: 'listen-none',
};

/** The port is closed on the server: bind it elsewhere, or start it. */
export function listenerMend(c: MendContext, ending: Closed): Mend | null {
  const { stop } = c.run;
  if (stop === null) return null;
  const { transport } = c.scene.packet;
  const { endpoint } = ending;
  const { how, near } = nearest(c, ending);
  const socket: Socket = {
    transport,
    address: null,
    families: [endpoint.address.family],
    port: endpoint.port,
    device: null,
    program: near?.transport === transport ? near.program : null,
    source: null,
  };
  const service = c.facts.document.service?.name ?? null;
  const source = near?.source ?? ending.source;
  return {
    fault: FAULTS[how],
    stop,
    finding: {
      found: 'listener',
      how,
      endpoint,
      transport,
      near,
      system: systemAt(c.facts, stop),
      service,
    },
    evidence: source ? [source] : [],
    apply: (scene) => withMachine(scene, stop, (m) => ({ ...m, sockets: [...(m.sockets ?? []), socket] })),
  };
}

/** The socket that comes nearest, and in what it differs. */
function nearest(c: MendContext, { near, endpoint }: Closed): { how: How; near: Socket | null } {
  const { transport } = c.scene.packet;
  const same = near.find((s) => s.transport === transport) ?? null;
  if (same?.address && addressKind(same.address).kind === 'loopback') return { how: 'loopback', near: same };
  if (same?.address && !sameAddress(same.address, endpoint.address)) return { how: 'address', near: same };
  if (same && !same.families.includes(endpoint.address.family)) return { how: 'family', near: same };
  const other = near.find((s) => s.transport !== transport) ?? null;
  return other ? { how: 'protocol', near: other } : { how: 'none', near: same };
}
