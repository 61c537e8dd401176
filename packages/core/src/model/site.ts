import { nth } from '../place/index.ts';
import { parseAddress, prefixContains, prefixOf, sameAddress } from '../net/index.ts';
import { type PathStop } from '../case/index.ts';
import { PRESUMED_OPEN } from '../rules/index.ts';
import { bareMachine, everyTransport, type Machine, type NetInterface, type Site } from '../site/index.ts';
import { factsOf, type CaseFacts, labelledAddress } from '../ledger/index.ts';
import { SettingsError } from '../devices/index.ts';
import { withSettings } from './devices.ts';
import { machineFrom } from './reconcile.ts';
import { forwardRows } from './forwards.ts';
import { otherLines, outsideUnknown, sharedAddresses } from './outside.ts';
import { withChanges } from './changed.ts';
import { entriesOf } from './entry.ts';
import { triesOf } from './tries.ts';
import { addressesByRoutes, showsAll } from './listedInterfaces.ts';
import { chained } from './chained.ts';
import { gatewayMachine, simpleInterface, PRESUMED_LENGTH } from './box.ts';

/** Builds the model of the whole way from the facts of a case. */
export function buildSite(facts: CaseFacts): Site {
  const { document } = facts;
  const read = document.path.map((stop) => machineOf(stop, facts));
  const {
    machines: laid,
    fronts,
    problems,
  } = withSettings(facts, chained(read), (stop) => forwardRows(facts, stop));
  // Lines that somebody filled in lead to the router before them as well.
  const machines = withChanges(facts, chained(laid));
  const carrier = document.path.find((s) => s.role === 'carrier');
  const client = clientMachine(facts, machines);
  const all = machines.map((m) => (m.id === client?.id ? client : asClient(m, facts)));
  const thinCarrier = carrier !== undefined && isThin(machines.find((m) => m.id === carrier.id));
  let internet;
  if (thinCarrier) internet = carrier.id;
  else if (carrier === undefined && isOutside(client, machines)) internet = 'internet';
  else internet = null;
  const outside = outsideUnknown(facts, all, fronts);
  return {
    machines: all,
    sharedAddresses: sharedAddresses(facts, all, carrier?.id ?? 'internet'),
    fronts: [
      ...fronts,
      ...[...entriesOf(all), ...otherLines(facts, all)].filter(
        (e) => !fronts.some((f) => sameAddress(f.address, e.address)),
      ),
    ],
    problems,
    tries: triesOf(facts),
    internet,
    ...(outside ? { outsideUnknown: outside } : {}),
  };
}

/**
 * Of the carrier nothing is known but that it carries. One whose own routes or listeners were shown is a
 * machine like any other, and where its addresses are missing they are missing.
 */
const isThin = (carrier: Machine | undefined): boolean =>
  carrier?.interfaces === null && !carrier.routes[4] && !carrier.routes[6] && carrier.sockets === null;

function machineOf(stop: PathStop, facts: CaseFacts): Machine {
  const readings = facts.files.filter((f) => f.stop === stop.id);
  const machine = machineFrom(stop.id, stop.role, readings, {
    forwarding: null,
    socketsComplete: everyTransport(true),
    kind: 'linux',
  });
  if (stop.role === 'gateway') {
    try {
      return gatewayMachine(machine, facts);
    } catch (error) {
      // Named where the settings are laid over the machine.
      if (error instanceof SettingsError) return machine;
      throw error;
    }
  }
  return stop.role === 'host' && !machine.interfaces ? hostFrom(machine, facts) : machine;
}

/** What a listing shows of an interface's link, be the listing whole or not. */
function linkOf(
  facts: CaseFacts,
  stop: string,
  name: string,
): Partial<Pick<NetInterface, 'adminUp' | 'carrier'>> {
  const said = factsOf(facts, 'interface').findLast((i) => i.stop === stop && i.fact.name === name)?.fact;
  return {
    ...(said?.adminUp === false ? { adminUp: false } : {}),
    ...(said?.carrier === undefined ? {} : { carrier: said.carrier }),
  };
}

/** A server of which no listing of its addresses is there: its routes show them, or somebody said one. */
function hostFrom(machine: Machine, facts: CaseFacts): Machine {
  // Of an interface whose own line could not be read nobody knows whether it has a link.
  const isUnread = facts.files.some(
    (f) => f.stop === machine.id && f.problems.length > 0 && f.facts.some((x) => x.kind === 'interface'),
  );
  const shown = isUnread ? null : addressesByRoutes(machine);
  const byRoutes = shown?.map((i) => ({ ...i, ...linkOf(facts, machine.id, i.name) }));
  if (byRoutes)
    return { ...machine, interfaces: byRoutes, ...(showsAll(machine) ? {} : { mayHoldMore: true }) };
  // The page of a rented machine shows its address before the perimeter turns it.
  const edge = facts.document.path.find((s) => s.role === 'edge')?.id;
  const server =
    labelledAddress(facts, machine.id, 'own-address') ??
    labelledAddress(facts, null, 'server-address') ??
    (edge === undefined ? null : labelledAddress(facts, edge, 'own-address'));
  if (!server) return machine;
  return {
    ...machine,
    interfaces: [simpleInterface('net', server.address, server.prefix ?? PRESUMED_LENGTH, server.source)],
  };
}

const RULE_FACTS: ReadonlySet<string> = new Set([
  'nft',
  'iptables',
  'front-end',
  'host-row',
  'host-profile',
  'bsd-rule',
]);

/**
 * A client of which some listings are there: rules that nobody asks for let its call out and the answer in,
 * and without routes it sends like any machine of its network (law 8).
 */
function asClient(machine: Machine, { files }: CaseFacts): Machine {
  if (machine.role !== 'client' || !machine.interfaces) return machine;
  const pieces = files.filter((f) => f.stop === machine.id);
  // What was listed in part is there: it is looked at, and not taken for granted.
  const hasRules = pieces.some((f) => f.facts.some((x) => RULE_FACTS.has(x.kind)));
  const hasRoutes = pieces.some((f) => f.facts.some((x) => x.kind === 'route'));
  const { program, routes, interfaces } = machine;
  const own = interfaces.filter((i) => !i.loopback && i.addresses.some((a) => a.scope !== 'link'));
  const [first] = own;
  const isSilent = !hasRoutes && routes[4] === null && routes[6] === null && first !== undefined;
  const address = first?.addresses[0]?.address;
  return {
    ...machine,
    program: hasRules ? program : { 4: program[4] ?? PRESUMED_OPEN, 6: program[6] ?? PRESUMED_OPEN },
    ...(isSilent && address ? { interfaces: own, presumed: bareMachine(machine.id, address).presumed } : {}),
  };
}

/** The client by its address alone, where nothing else is known of it. */
function clientMachine(facts: CaseFacts, machines: readonly Machine[]): Machine | null {
  const stop = machines.find((m) => m.role === 'client');
  const said = facts.document.client?.address;
  const address =
    (said ? parseAddress(said) : null) ??
    labelledAddress(facts, stop?.id ?? null, 'client-address')?.address ??
    null;
  // One whose own routes were shown goes by them, and by addresses that are then missing.
  if (!stop || stop.interfaces || stop.routes[address?.family ?? 4] || !address) return null;
  const held = machines.some((m) =>
    m.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, address))),
  );
  return held ? null : { ...bareMachine(stop.id, address) };
}

/**
 * Whether the client is somewhere on the internet: it has no address on a network of the case. A client
 * of which nothing is known is; one whose own listing is there is where its routes lead.
 */
function isOutside(client: Machine | null, machines: readonly Machine[]): boolean {
  if (!client) return !machines.some((m) => m.role === 'client' && m.interfaces !== null);
  const own = nth(nth(client.interfaces!, 0).addresses, 0).address;
  return !machines.some(
    (m) =>
      m !== client &&
      m.interfaces?.some((i) =>
        i.addresses.some((a) => prefixContains(prefixOf(a.address, a.prefixLength), own)),
      ),
  );
}
