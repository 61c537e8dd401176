import type { ForwardRow } from '../devices/index.ts';
import type { FaultId } from '../faults/index.ts';
import { addressSet, hasAddress, sameAddress, type Address } from '../net/index.ts';
import { isInPortal } from '../model/index.ts';
import type { MendContext } from './context.ts';
import { audience, endMachine, lastLeg, lineOf } from './context.ts';
import type { Mend } from './mend.ts';
import type { Finding } from './finding.ts';
import type { Served } from './served.ts';
import { withRow, withRows } from './scene.ts';

type Change = (row: ForwardRow) => Partial<ForwardRow>;

/**
 * What is wrong with a table of forwards that no live row of takes the packet: the row that comes nearest, or
 * a new one.
 */
export function rowMend(c: MendContext, stop: string, rows: readonly ForwardRow[], to: Address | null): Mend {
  const served = servedBy(c);
  const near = nearRow(c, rows, to, served);
  const mend = near ? changedRow(stop, rows, near) : addedRow(c, stop, rows, to, served);
  return isInPortal(c.facts, stop) ? { ...mend, keptBy: 'carrier' } : mend;
}

export const servedBy = ({ scene }: MendContext): Served => ({
  transport: scene.packet.transport,
  port: scene.packet.destination.port,
});

interface NearRow {
  readonly fault: FaultId;
  readonly row: ForwardRow;
  readonly finding: Finding;
  readonly change: Change;
}

function nearRow(
  c: MendContext,
  rows: readonly ForwardRow[],
  to: Address | null,
  served: Served,
): NearRow | null {
  const { source } = c.scene.packet;
  const { transport, port } = served;
  const speaks = (r: ForwardRow): boolean => r.protocol === 'both' || r.protocol === transport;
  const holds = (r: ForwardRow): boolean => port >= r.outside.first && port <= r.outside.last;
  const fitting = rows.filter((r) => holds(r) && speaks(r));
  const off = fitting.find((r) => !r.enabled);
  if (off) {
    const finding: Finding = { found: 'row-off', row: off, served };
    return { fault: 'fwd-disabled', row: off, finding, change: () => ({ enabled: true }) };
  }
  const staged = fitting.find((r) => r.applied === false);
  if (staged) {
    const finding: Finding = { found: 'row-staged', row: staged, served };
    const fault = staged.waitsFor ? 'fwd-needs-restart' : 'fwd-not-applied';
    return { fault, row: staged, finding, change: () => ({ applied: true }) };
  }
  for (const row of fitting) {
    const now = otherLine(c, row);
    if (now === null) continue;
    const finding: Finding = {
      found: 'row-line',
      row,
      served,
      now,
      dialled: c.scene.packet.destination.address,
    };
    return {
      fault: 'fwd-line',
      row,
      finding,
      change: () => ({ outsideAddress: undefined, line: undefined }),
    };
  }
  const barred = fitting.find(
    (r) => r.sources !== null && !hasAddress(addressSet(...r.sources), source.address),
  );
  if (barred) {
    const wanted = audience(c);
    const finding: Finding = { found: 'row-sources', row: barred, served, client: source.address, wanted };
    return { fault: 'fwd-source', row: barred, finding, change: () => ({ sources: wanted }) };
  }
  const other = rows.find((r) => holds(r) && !speaks(r));
  if (other) {
    const finding: Finding = { found: 'row-protocol', row: other, served };
    return { fault: 'fwd-protocol', row: other, finding, change: () => ({ protocol: 'both' }) };
  }
  const part = rows.find((r) => r.enabled && speaks(r) && !holds(r) && isOfService(r, c));
  if (part) {
    const ports = { first: Math.min(part.outside.first, port), last: Math.max(part.outside.last, port) };
    const finding: Finding = { found: 'row-range', row: part, served, mended: ports };
    const shift = part.insideFirst - part.outside.first;
    const change: Change = () => ({ outside: ports, insideFirst: ports.first + shift });
    return { fault: 'fwd-range', row: part, finding, change };
  }
  const shifted = rows.find(
    (r) =>
      speaks(r) &&
      r.insideAddress !== null &&
      (to === null || sameAddress(r.insideAddress, to)) &&
      r.insideFirst === port &&
      r.outside.first !== port,
  );
  if (!shifted) return null;
  const finding: Finding = { found: 'row-outside-port', row: shifted, served };
  const change: Change = () => ({ outside: { first: port, last: port } });
  return { fault: 'fwd-outside-port', row: shifted, finding, change };
}

/** The outside address or line that a row is bound to, where another one was dialled; null: it is not. */
function otherLine(c: MendContext, { outsideAddress, line }: ForwardRow): Address | string | null {
  const { address } = c.scene.packet.destination;
  if (outsideAddress) return sameAddress(outsideAddress, address) ? null : outsideAddress;
  const own = line === undefined ? undefined : lineOf(endMachine(c), line);
  const isOwn = own?.name === lastLeg(c)?.in || own?.addresses.some((a) => sameAddress(a.address, address));
  if (!own || isOwn) return null;
  return own.addresses.find((a) => a.address.family === address.family)?.address ?? own.name;
}

/** A row for other ports of a range that the service speaks on. */
function isOfService({ outside }: ForwardRow, { facts, scene }: MendContext): boolean {
  const { port } = scene.packet.destination;
  const range = facts.document.service?.endpoints?.find(
    (e) => port >= e.port && port <= (e.portEnd ?? e.port),
  );
  const last = range?.portEnd ?? range?.port;
  return (
    range !== undefined &&
    last !== undefined &&
    last > range.port &&
    outside.first <= last &&
    outside.last >= range.port
  );
}

function changedRow(
  stop: string,
  rows: readonly ForwardRow[],
  { fault, row, finding, change }: NearRow,
): Mend {
  return {
    fault,
    stop,
    finding,
    evidence: row.source ? [row.source] : [],
    apply: (scene) => withRow(scene, stop, rows, row, change(row)),
  };
}

function addedRow(
  c: MendContext,
  stop: string,
  rows: readonly ForwardRow[],
  to: Address | null,
  served: Served,
): Mend {
  const gateways = c.facts.document.path.filter((s) => s.role === 'gateway');
  const added: ForwardRow | null = to && {
    name: c.facts.document.service?.name ?? '',
    protocol: served.transport,
    outside: { first: served.port, last: served.port },
    insideAddress: to,
    insideFirst: served.port,
    enabled: true,
    applied: true,
    sources: null,
    doubts: [],
    source: null,
  };
  return {
    fault: missingFault(
      gateways.map((g) => g.id).filter((id) => id === stop || translates(c, id)),
      stop,
    ),
    stop,
    finding: { found: 'row-missing', served, to, isOneOfSeveral: gateways.length > 1 },
    evidence: rows.flatMap((r) => (r.source ? [r.source] : [])).slice(0, 1),
    apply: added ? (scene) => withRows(scene, stop, [...rows, added]) : null,
  };
}

/** A router that only filters needs no forward. */
const translates = ({ scene }: MendContext, id: string): boolean =>
  scene.rows.has(id) ||
  scene.site.machines
    .find((m) => m.id === id)
    ?.program[4]?.chains.some(({ rules }) => rules.some((r) => r.steps.some((s) => s.do === 'translate'))) ===
    true;

/** Of several gateways in a row it matters which one does not forward. */
function missingFault(gateways: readonly string[], stop: string): FaultId {
  if (gateways.length < 2) return 'fwd-none';
  return gateways[0] === stop ? 'outer-missing' : 'inner-missing';
}
