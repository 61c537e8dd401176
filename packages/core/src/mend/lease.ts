import { settingsOfKind } from '../case/index.ts';
import { hasEnded, type RelayLease, type RelaySettings } from '../devices/index.ts';
import type { FaultId } from '../faults/index.ts';
import { slipOf } from '../ledger/index.ts';
import {
  formatAddress,
  hasAddress,
  addressSet,
  parseAddress,
  parsePrefix,
  sameAddress,
  type Address,
} from '../net/index.ts';
import type { Machine } from '../site/index.ts';
import { endMachine, type MendContext } from './context.ts';
import { isMeant } from './insidePort.ts';
import type { Mend } from './mend.ts';
import type { RowFinding } from './rowFindings.ts';
import { servedBy } from './rows.ts';
import { withRelay } from './scene.ts';

type Part = Extract<RowFinding, { found: 'lease' }>['part'];

interface Near {
  readonly part: Part;
  readonly lease: RelayLease | null;
  readonly mended: RelayLease;
}

const FAULTS: Readonly<Record<Exclude<Part, 'target'>, FaultId>> = {
  none: 'fwd-none',
  ended: 'auto-lapsed',
  port: 'fwd-outside-port',
  protocol: 'fwd-protocol',
  'inside-port': 'fwd-inside-port',
};

/** What was dialled is a relay's: no lease of it takes the packet, or the lease leads somewhere else. */
export function leaseMend(c: MendContext): Mend | null {
  const relay = relayOnWay(c);
  const server = relay && inTunnel(c, relay.settings);
  if (!relay || c.run.direction !== 'forward') return null;
  const near = nearLease(c, relay.settings, server);
  if (!near) return null;
  const { part, lease, mended } = near;
  const { settings, machine } = relay;
  const leases = lease
    ? settings.leases.map((l) => (l === lease ? mended : l))
    : [...settings.leases, mended];
  return {
    fault: part === 'target' ? targetFault(lease, mended) : FAULTS[part],
    stop: machine.id,
    finding: { found: 'lease', lease, mended, part, served: servedBy(c) },
    evidence: [],
    apply: mended.to === '' ? null : (scene) => withRelay(scene, machine.id, { ...settings, leases }),
  };
}

function relayOnWay({
  facts,
  scene,
  run,
}: MendContext): { machine: Machine; settings: RelaySettings } | null {
  for (const { stop, lane } of run.legs) {
    const own = facts.document.path.find((s) => s.id === stop);
    const settings = scene.relays?.get(stop) ?? settingsOfKind(own, 'relay');
    const machine = scene.site.machines.find((m) => m.id === stop);
    if (lane === 'forward' && settings && machine) return { machine, settings };
  }
  return null;
}

/** The server's own address in the tunnel. */
function inTunnel({ facts, scene }: MendContext, { tunnelAddress }: RelaySettings): Address | null {
  const net = parsePrefix(tunnelAddress);
  const hosts = facts.document.path.filter((s) => s.role === 'host').map((s) => s.id);
  const own = scene.site.machines
    .filter((m) => hosts.includes(m.id))
    .flatMap((m) => m.interfaces ?? [])
    .flatMap((i) => i.addresses.map((a) => a.address));
  return (net && own.find((a) => hasAddress(addressSet(net), a))) ?? null;
}

/** The lease that comes nearest, with its one value that is off; null: the lease is right. */
function nearLease(c: MendContext, settings: RelaySettings, server: Address | null): Near | null {
  const { transport, destination } = c.scene.packet;
  const speaks = (l: RelayLease): boolean => l.protocol === 'both' || l.protocol === transport;
  const takes = (l: RelayLease): boolean => l.port === destination.port;
  const inside = servicePort(c, transport);
  // Where nobody knows the server's end of the tunnel, the port of the service tells its lease.
  const isServers = (l: RelayLease): boolean => {
    const to = parseAddress(l.to);
    return server
      ? to !== null && sameAddress(to, server)
      : inside !== null && (l.toPort ?? l.port) === inside;
  };
  const { leases, at } = settings;
  const live = leases.filter((l) => !hasEnded(l, at));
  const taking = live.find((l) => takes(l) && speaks(l));
  if (taking) {
    if (server && !isServers(taking))
      return { part: 'target', lease: taking, mended: { ...taking, to: formatAddress(server) } };
    const host = endMachine(c);
    const leased = taking.toPort ?? taking.port;
    if (inside === null || host?.role !== 'host' || !isMeant(c, host, inside, leased)) return null;
    return { part: 'inside-port', lease: taking, mended: { ...taking, toPort: inside } };
  }
  const ended = leases.find((l) => takes(l) && speaks(l));
  if (ended) {
    const { until: _until, ...mended } = ended;
    return { part: 'ended', lease: ended, mended };
  }
  const other = live.find((l) => takes(l) && isServers(l));
  if (other) return { part: 'protocol', lease: other, mended: { ...other, protocol: 'both' } };
  const shifted = live.find((l) => isServers(l) && speaks(l));
  const { port } = destination;
  // It leads where it led before, by another port.
  if (shifted)
    return {
      part: 'port',
      lease: shifted,
      mended: { ...shifted, port, toPort: shifted.toPort ?? shifted.port },
    };
  const to = server ? formatAddress(server) : '';
  const mended = { protocol: transport, port, to, ...(inside === null ? {} : { toPort: inside }) };
  return { part: 'none', lease: null, mended };
}

/** The port on which the service is known to listen, where it is one; null: none, or several. */
function servicePort({ facts }: MendContext, transport: string): number | null {
  const own = (facts.document.service?.endpoints ?? []).filter((e) => e.protocol === transport);
  const [only] = own;
  return only && own.length === 1 && (only.portEnd ?? only.port) === only.port ? only.port : null;
}

const targetFault = (lease: RelayLease | null, { to }: RelayLease): FaultId =>
  lease && slipOf(lease.to, to) !== null ? 'fwd-target-typo' : 'fwd-target-stale';
