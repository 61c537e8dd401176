import { nth, type SourceRef } from '../../place/index.ts';
import { serves, type ServiceEndpoint } from '../../case/index.ts';
import { isNeed, trace } from '../../crossing/index.ts';
import type { Exposure } from '../../exposure/index.ts';
import { addressKind, formatAddress, isReachable, type PortSet } from '../../net/index.ts';
import type { Chain, Program, Rule } from '../../rules/index.ts';
import type { Machine, Site, Socket } from '../../site/index.ts';
import { reachText, type StopNames } from '../../words/index.ts';
import { insideNeighbour } from '../bench/viewpoint.ts';

/** Who gets to a program: as far as it is known. */
export type Reach = 'anyone' | 'some' | 'perhaps' | 'nobody';

/** A program that listens, who can reach it, and by which row. */
export interface ProgramRow {
  readonly stop: string;
  readonly program: string | null;
  /** `tcp 0.0.0.0:8214` */
  readonly at: string;
  readonly outside: Reach;
  /** The same in words. */
  readonly reach: string;
  /** Other machines of its network; null where it has none or it is not known. */
  readonly inside: 'yes' | 'no' | null;
  /** The row that lets the outside in; null: none is needed, or nobody is let in. */
  readonly row: { readonly text: string; readonly source: SourceRef | null } | null;
  /** Whether the service of the case needs it. */
  readonly needed: boolean;
  readonly source: SourceRef | null;
}

/** A row that lets in what nothing on its machine takes. */
export interface IdleRow {
  readonly stop: string;
  readonly row: string;
  readonly ports: string;
  readonly source: SourceRef | null;
}

/** Programs of the servers, those that outsiders reach and nobody needs first. */
export function programRows(
  site: Site,
  found: readonly Exposure[],
  endpoints: readonly ServiceEndpoint[],
  names: StopNames,
): ProgramRow[] {
  // Where nobody knows who takes what comes in, or what a router does with it, it may be any of them.
  const isOpen =
    found.some((e) => e.socket === null && (e.maybe || (e.beyond !== null && isNeed(e.beyond)))) ||
    site.machines.some((m) => m.role === 'gateway' && m.program[4] === null);
  const rows = site.machines
    .filter((m) => m.role === 'host')
    .flatMap((machine) =>
      (machine.sockets ?? []).map((socket): ProgramRow => {
        const own = found.filter((e) => e.socket === socket);
        const outside = reachOf(socket, own, isOpen);
        const { text, source } = own[0]?.why.findLast((w) => w.stop === machine.id) ?? {};
        return {
          stop: names(machine.id),
          program: socket.program ?? null,
          at: `${socket.transport} ${placeOf(socket)}:${socket.port}`,
          outside,
          reach: reachText(outside),
          inside: reachedInside(site, machine, socket),
          row: text === undefined ? null : { text, source: source ?? null },
          needed: serves(endpoints, socket.transport, socket.port),
          source: socket.source ?? null,
        };
      }),
    );
  const rank = (r: ProgramRow): number => REACHES.indexOf(r.outside) + (r.needed ? REACHES.length : 0);
  return [...rows].sort((a, b) => rank(a) - rank(b));
}

/** Where it listens, as listings of sockets write it: all addresses of one family, or of both. */
function placeOf({ address, families }: Socket): string {
  if (address) return address.family === 6 ? `[${formatAddress(address)}]` : formatAddress(address);
  const [only] = families;
  if (families.length !== 1) return '*';
  return only === 6 ? '[::]' : '0.0.0.0';
}

const REACHES: readonly Reach[] = ['anyone', 'some', 'perhaps', 'nobody'];

const isLoopback = ({ address }: Socket): boolean =>
  address !== null && addressKind(address).kind === 'loopback';

function reachOf(socket: Socket, own: readonly Exposure[], isOpen: boolean): Reach {
  if (own.some((e) => e.anyone && !e.maybe)) return 'anyone';
  if (own.some((e) => !e.maybe)) return 'some';
  return own.length > 0 || (isOpen && !isLoopback(socket)) ? 'perhaps' : 'nobody';
}

/** Whether a neighbour in the machine's own network gets an answer. */
function reachedInside(site: Site, machine: Machine, socket: Socket): ProgramRow['inside'] {
  if (isLoopback(socket)) return 'no';
  const own = (machine.interfaces ?? [])
    .filter((i) => !i.loopback)
    .flatMap((i) => i.addresses)
    .find(
      (a) =>
        !isReachable(a.address) &&
        a.address.family === (socket.address?.family ?? 4) &&
        a.scope !== 'link' &&
        (!socket.address || socket.address.bits === a.address.bits),
    );
  if (!own) return null;
  const neighbour = insideNeighbour(site);
  if (!neighbour || neighbour.family !== own.address.family) return null;
  const { outcome } = trace(
    site,
    {
      transport: socket.transport,
      source: { address: neighbour, port: 51_514 },
      destination: { address: own.address, port: socket.port },
    },
    { explain: false },
  );
  if (outcome === 'unknown') return null;
  return outcome === 'answered' ? 'yes' : 'no';
}

/** Rows of the servers that let in ports on which nothing listens, where all listeners are known. */
export function idleRows(site: Site, names: StopNames): IdleRow[] {
  return site.machines
    .filter((m) => m.role === 'host' && m.sockets !== null)
    .flatMap((machine) => {
      const program = machine.program[4] ?? machine.program[6];
      return inwardChains(program)
        .flatMap((c) => c.rules)
        .flatMap((rule) => idle(rule, machine, names));
    });
}

/** The chains through which packets to the machine itself pass: of the input hook, and where they lead. */
function inwardChains(program: Program | null): Chain[] {
  const found = new Set<Chain>(
    (program?.baseChains ?? []).filter((b) => b.hook === 'input').map((b) => b.chain),
  );
  for (const { rules } of found)
    for (const step of rules.flatMap((r) => r.steps))
      if (step.do === 'verdict' && 'chain' in step.verdict) found.add(step.verdict.chain);
  return [...found];
}

function idle(rule: Rule, machine: Machine, names: StopNames): IdleRow[] {
  const last = rule.steps.at(-1);
  if (last?.do !== 'verdict' || last.verdict.verdict !== 'accept') return [];
  const { transports, ports } = asksFor(rule);
  const isTaken = (machine.sockets ?? []).some(
    (s) =>
      (transports.length === 0 || transports.includes(s.transport)) &&
      ports.some((p) => s.port >= p.first && s.port <= p.last),
  );
  const isKnown = (transports.length > 0 ? transports : (['tcp', 'udp'] as const)).every(
    (t) => machine.presumed.socketsComplete[t],
  );
  if (ports.length === 0 || isTaken || !isKnown) return [];
  const text = ports.map((p) => (p.first === p.last ? `${p.first}` : `${p.first}-${p.last}`)).join(', ');
  return [{ stop: names(machine.id), row: rule.text, ports: text, source: rule.source }];
}

const TRANSPORTS: Readonly<Record<number, 'tcp' | 'udp'>> = { 6: 'tcp', 17: 'udp' };

function asksFor({ steps }: Rule): { transports: ('tcp' | 'udp')[]; ports: PortSet } {
  const transports = new Set<'tcp' | 'udp'>();
  let ports: PortSet = [];
  for (const step of steps) {
    if (step.do !== 'match' || step.fields.length !== 1 || step.negate) continue;
    const field = nth(step.fields, 0);
    const values = step.rows.flatMap(([v]) => (v?.type === 'numbers' ? [...v.set] : []));
    if (field.of === 'dport') {
      ports = values;
      const named = field.protocol === null ? undefined : TRANSPORTS[field.protocol];
      if (named) transports.add(named);
    }
    if (field.of === 'protocol')
      for (const { first } of values) {
        const named = TRANSPORTS[first];
        if (named) transports.add(named);
      }
  }
  return { transports: [...transports], ports };
}
