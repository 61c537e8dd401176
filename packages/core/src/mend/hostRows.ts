import { settingsOfKind } from '../case/index.ts';
import {
  isElsewhere,
  sameProgram,
  writeHostRow,
  type HostRow,
  type HostRowChange,
} from '../devices/index.ts';
import type { FaultId } from '../faults/index.ts';
import { newestWith, type CaseFacts } from '../ledger/index.ts';
import { hostFirewallFrom } from '../model/index.ts';
import { addressSet, hasAddress, parsePortRange, parsePrefix, type Address } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Machine, Socket } from '../site/index.ts';
import { endMachine, lastLeg, type MendContext } from './context.ts';
import { chainOf } from './filterFault.ts';
import type { Filtered } from './filterMatch.ts';
import { listenerMend } from './listener.ts';
import type { Mend } from './mend.ts';
import { servedBy } from './rows.ts';

/** What a row is held against: the service as it arrives, and what listens there. */
interface Wanted {
  readonly transport: 'tcp' | 'udp';
  readonly port: number;
  readonly profile: string;
  /** The program behind the port; null: nothing listens, undefined: that is not known. */
  readonly program: string | null | undefined;
}
type Part = HostRowChange['part'];

const FAULTS: Readonly<Record<Part, FaultId>> = {
  profiles: 'host-profile',
  program: 'host-program',
  protocol: 'host-value',
  ports: 'host-value',
};

/**
 * A firewall with profiles dropped it although a row was made for the service: the one value in which that
 * row is off. Where the row is for a program that does not listen, the program is what is missing. null where
 * no row is meant for it.
 * @param allow the mend that adds a row for the service: what the corrected one comes to
 */
export function hostRowMend(c: MendContext, ending: Filtered, allow: Mend): Mend | null {
  const machine = endMachine(c);
  const { stop } = c.run;
  if (!machine || stop === null || c.run.direction !== 'forward' || ending.kind !== 'rule') return null;
  const { origin } = chainOf(ending, machine.program[c.scene.packet.source.address.family], ending.rule);
  const listed = origin.program === 'profiles' ? rowsAt(c.facts, stop) : null;
  if (origin.program !== 'profiles' || !listed) return null;
  const { transport } = c.scene.packet;
  const { port } = (lastLeg(c)?.after ?? c.scene.packet).destination;
  const listening = machine.sockets?.filter((s) => s.port === port && s.transport === transport) ?? null;
  const wanted = { transport, port, profile: origin.profile, program: programOf(listening) };
  const rows = listed.sure.filter((r) => letsIn(r, c.scene.packet.source.address));
  if (
    listening?.length === 0 &&
    rows.some((r) => r.program !== undefined && wrongIn(r, wanted).join('') === 'program')
  )
    return unheard(c, machine, port, allow);
  for (const row of rows) {
    const [part, ...more] = wrongIn(row, wanted);
    if (part === undefined || more.length > 0 || !isMeant(row, part, wanted)) continue;
    const change = changeOf(row, part, wanted);
    const isOnly = listed.all.filter((r) => r.name === row.name).length === 1;
    const written = isOnly ? writeHostRow(row, change) : null;
    const finding = {
      found: 'row-value',
      name: row.name ?? null,
      change,
      served: servedBy(c),
      written,
    } as const;
    return { ...allow, fault: FAULTS[part], finding, evidence: placesOf(c.facts, stop, row) };
  }
  return null;
}

/** The program of what listens on the port. */
function programOf(listening: readonly Socket[] | null): Wanted['program'] {
  if (listening === null) return undefined;
  return listening.length === 0 ? null : (listening[0]?.program ?? undefined);
}

/** The values of a row that keep the service out. */
function wrongIn(row: HostRow, { transport, port, profile, program }: Wanted): Part[] {
  const isOnPort = row.localPorts === undefined || holds(row.localPorts, port);
  const isOnProfile = !row.profiles || row.profiles.some((p) => p === 'any' || isSame(p, profile));
  const isOfProgram =
    row.program === undefined || program === undefined || (program !== null && isFile(row.program, program));
  return [
    ...(isOnPort ? [] : ['ports' as const]),
    ...(['any', 'both', transport].includes(row.protocol) ? [] : ['protocol' as const]),
    ...(isOnProfile ? [] : ['profiles' as const]),
    ...(isOfProgram ? [] : ['program' as const]),
  ];
}

/** A row for any port may be any program's; one for another port is this service's only by its program. */
function isMeant(row: HostRow, part: Part, { program }: Wanted): boolean {
  if (part === 'ports')
    return row.program !== undefined && typeof program === 'string' && isFile(row.program, program);
  return row.localPorts !== undefined;
}

function changeOf(row: HostRow, part: Part, { transport, port, profile, program }: Wanted): HostRowChange {
  switch (part) {
    case 'profiles':
      return { part, now: row.profiles ?? [], mended: [...(row.profiles ?? []), profile] };
    case 'program':
      // Of a listener whose file is not known only its name is.
      return {
        part,
        now: [row.program ?? ''],
        mended: [program && /[\\/]/.test(program) ? program : 'Any'],
      };
    case 'protocol':
      return { part, now: [row.protocol], mended: [transport] };
    case 'ports':
      return { part, now: [String(row.localPorts ?? '')], mended: [String(port)] };
  }
}

/** The row holds as soon as its program listens. */
function unheard(c: MendContext, machine: Machine, port: number, allow: Mend): Mend | null {
  const endpoint = { address: c.scene.packet.destination.address, port };
  const near = (machine.sockets ?? []).filter((s) => s.port === port);
  const source = machine.sockets?.[0]?.source ?? null;
  const mend = listenerMend(c, { kind: 'closed-port', endpoint, near, source });
  if (!mend) return null;
  return {
    ...mend,
    apply: (scene) => {
      const heard = mend.apply?.(scene) ?? scene;
      return allow.apply?.(heard) ?? heard;
    },
  };
}

/** The rows of the firewall, and those of which nothing is open; null: none are known. */
function rowsAt(
  facts: CaseFacts,
  stop: string,
): { readonly all: readonly HostRow[]; readonly sure: readonly HostRow[] } | null {
  const own = facts.document.path.find((s) => s.id === stop);
  const typed = own && settingsOfKind(own, 'host-profiles');
  if (typed) return { all: typed.rows, sure: typed.rows };
  const listed = hostFirewallFrom(facts, stop);
  if (!listed) return null;
  const all = listed.settings.rows;
  return { all, sure: all.filter((_, i) => !listed.doubts.ofRow?.has(i + 1)) };
}

/** Whether a row would let the client in as far as it does not name the service itself. */
function letsIn(row: HostRow, client: Address): boolean {
  const senders = row.remoteAddresses ?? [];
  const isOpen =
    row.remotePorts === undefined && row.perhaps === undefined && isAny(row.localAddresses ?? []);
  return (
    row.direction === 'in' &&
    row.action === 'allow' &&
    row.enabled !== false &&
    isOpen &&
    (isAny(senders) || hasAddress(addressSet(...senders.flatMap((t) => parsePrefix(t) ?? [])), client))
  );
}

const isAny = (list: readonly string[]): boolean => list.length === 0 || list.includes('any');

function placesOf(facts: CaseFacts, stop: string, row: HostRow): SourceRef[] {
  const piece = newestWith(facts, stop, 'host-row');
  const fact = piece?.facts.find((f) => f.kind === 'host-row' && f.value.name === (row.name ?? null));
  return piece && fact ? [{ file: piece.file, ...fact.at }] : [];
}

const isSame = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();
const isFile = (row: string, listed: string): boolean =>
  sameProgram(row, listed) && !isElsewhere(listed, row);

const holds = (ports: string | number, port: number): boolean =>
  String(ports)
    .split(',')
    .some((p) => {
      const range = parsePortRange(p);
      return range !== null && range.first <= port && port <= range.last;
    });
