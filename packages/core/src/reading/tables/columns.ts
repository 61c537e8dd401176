import { nth } from '../../place/index.ts';
import type { ForwardRole } from '../../facts/index.ts';
import { addressKind, parseAddress, parsePrefix } from '../../net/index.ts';
import type { Block } from './blocks.ts';
import { headingOf, type Heading } from './headings.ts';
import { secondsOf } from './lifetimes.ts';
import { isOnePort, isPorts } from './portCells.ts';
import { isState } from './states.ts';
import { ACTION, ANY_SOURCE, endpointOf, isPrivate, MAC, protocolOf } from './values.ts';
import {
  all,
  type Column,
  headedPorts,
  isCounting,
  isWhole,
  settlePorts,
  settleStates,
  settleTargets,
} from './settled.ts';

/** Words of buttons and marks at the end of a row. */
const BUTTON = new RegExp(
  String.raw`^(edit|delete|remove|modify|copy|save|cancel|up|down|bearbeiten|löschen|modifier|` +
    String.raw`supprimer|editar|eliminar|⋮|…|🗑|✎)$`,
  'i',
);
/** Tables of other things: what a router lists beside its forwards. */
const OTHER_TABLE = new RegExp(
  String.raw`\b(download|upload|uploaded|downloaded|mb|kb|bandwidth|rate|metric|netmask|next hop|` +
    String.raw`nexthop|queue|qos|trigger|triggered|last seen|signal|vendor|tunnel ip|blocked|forbidden|` +
    String.raw`denied|restricted|gesperrte?[nrs]?|bloque[es]?s?|bloquead[ao]s?|bloccat[aeio])\b|` +
    String.raw`^(gateway|priority class)$`,
  'i',
);
const TIME_OF_DAY = /^\d{1,2}:\d{2}:\d{2}(?:[.,]\d+)?$/;
/** A heading of moments, or none. */
const WHEN = /^(?:time|when|zeit|uhrzeit|hora|heure|ora)?$/i;
/** States of connections (RFC 9293 §3.3.2, and those of packet filters). */
export const SESSION = new RegExp(
  String.raw`^(established|assured|unreplied|replied|time.wait|close.wait|` +
    String.raw`syn.(sent|recv|received)|fin.wait.?\d?|last.ack|closing)$`,
  'i',
);
export const OTHER_TITLE = new RegExp(
  String.raw`block|priorit|\bqos\b|quality of service|route|routing|session|connection table|` +
    String.raw`active connections|traffic|lease|reserv|statistic|trigger|parental|filter|wake|` +
    String.raw`pinhole|ipv6|portproxy|excluded`,
  'i',
);

/** Whether half of the cells or more are so. */
function agree(cells: readonly string[], test: (text: string) => boolean): boolean {
  let others = 0;
  for (const cell of cells) if (!test(cell) && ++others * 2 > cells.length) return false;
  return cells.length > 0;
}
/** Nothing is forwarded to every address of a machine, or to its loopback: there something listens. */
const isServed = (text: string): boolean => {
  const address = parseAddress(endpointOf(text)?.address ?? '');
  return address !== null && !['this-network', 'unspecified', 'loopback'].includes(addressKind(address).kind);
};
const isTarget = (text: string): boolean => isPrivate(text) || parseAddress(text) !== null;

const isSources = (text: string): boolean =>
  ANY_SOURCE.test(text) || text.split(/[\s,;]+/).every((p) => parsePrefix(p) !== null);

/**
 * What each column of a block is, by its heading and its cells together: both have to agree, one odd cell
 * changes nothing, and where two readings remain the column is `some-port` or `unknown`. Null where the
 * block is no table of forwards.
 */
export function forwardColumns(block: Block): ForwardRole[] | null {
  if (block.titles.some((t) => isOtherTitle(t.text))) return null;
  if (block.rows.length === 0 && !isFullHeading(block)) return null;
  const columns = Array.from({ length: block.width }, (_, i): Column => ({
    heading: headingOf(block.heading?.cells[i]?.text ?? ''),
    cells: block.rows.map((r) => r.cells[i]?.text ?? '').filter((t) => t !== ''),
  }));
  if (isOfOtherThings(columns)) return null;
  const roles = columns.map((c, i) => roleOf(c, i, block.heading !== null));
  nameFirst(columns, roles, block.heading !== null);
  settleStates(roles);
  settleTargets(columns, roles);
  settlePorts(columns, roles);
  const target = roles.findIndex((r) => r === 'inside-address' || r === 'endpoint' || r === 'device');
  if (target < 0) return null;
  if (block.heading) headedPorts(columns, roles, target);
  else bareRoles(block, columns, roles, target);
  return isWhole(block, roles) ? roles : null;
}

/** A heading alone is that of a table of forwards where it names all that such a row has. */
function isFullHeading({ heading }: Block): boolean {
  const kinds = (heading?.cells ?? []).map((c) => headingOf(c.text));
  const ports = kinds.filter((h) => h.kind === 'port' && h.side !== null);
  return (
    ports.length > 0 && kinds.some((h) => h.kind === 'protocol') && kinds.some((h) => h.kind === 'address')
  );
}

export const isOtherTitle = (text: string): boolean =>
  OTHER_TITLE.test(text) && !/forward|virtual server|port map|portfreigabe|weiterleit|redirec/i.test(text);

/** Sessions, traffic, routes, priorities: tables with ports or addresses that forward nothing. */
function isOfOtherThings(columns: readonly Column[]): boolean {
  const texts = columns.map((c) => c.heading.text);
  // Lines of a log begin with the time of day, and name the very end that each packet came from.
  if (columns.some((c) => WHEN.test(c.heading.text) && all(c.cells, (t) => TIME_OF_DAY.test(t)))) return true;
  if (columns.some((c) => c.heading.filter === 'source' && all(c.cells, (t) => endpointOf(t) !== null)))
    return true;
  if (texts.some((t) => OTHER_TABLE.test(t) || /\b(listen on|connect to)\b/i.test(t))) return true;
  // What allows and refuses is a rule table: its ports are filtered, not forwarded.
  if (columns.some((c) => all(c.cells, (t) => ACTION.test(t)) && c.heading.kind !== 'state')) return true;
  if (columns.some((c) => agree(c.cells, (t) => SESSION.test(t)))) return true;
  const senders = columns.filter((c) => c.heading.filter === 'source');
  // The one address and the one port that each sender had: these came, and nobody let them in by a row.
  if (
    senders.some((c) => c.heading.kind === 'port' && all(c.cells, isOnePort)) &&
    senders.some((c) => c.heading.kind !== 'port' && all(c.cells, (t) => parseAddress(t) !== null))
  )
    return true;
  const sides = columns.filter((c) => c.heading.kind === 'port' && c.heading.side !== null);
  const isRanked = texts.some((t) => /^priorit/i.test(t));
  if (isRanked && sides.length === 0) return true;
  const remote = columns.some(
    (c) => c.heading.kind === 'port' && /remote|peer|foreign/i.test(c.heading.text),
  );
  return remote && columns.some((c) => c.heading.kind === 'port' && /local/i.test(c.heading.text));
}

/** Whole numbers alone: `12K` is rounded. */
const COUNT = /^\d{1,15}$/;

/** By heading, where there is one whose words are known; else by what every cell shows. */
function roleOf({ heading, cells }: Column, i: number, isHeaded: boolean): ForwardRole | null {
  if (
    heading.kind !== 'name' &&
    all(cells, (t) => protocolOf(t) !== null && /[a-z]/i.test(t) && !ANY_SOURCE.test(t))
  )
    return 'protocol';
  switch (heading.kind) {
    case 'protocol':
      return cells.length === 0 || agree(cells, (t) => protocolOf(t) !== null) ? 'protocol' : 'unknown';
    case 'port':
      return portRole(heading, cells);
    case 'address':
      return addressRole(heading, cells);
    case 'state':
      return 'enabled';
    case 'line':
      return 'wan';
    case 'schedule':
      return 'schedule';
    case 'lifetime':
      // The day since which something has been there limits nothing; a time that runs is of a mapping.
      return /since|\bage\b|last seen/.test(heading.text) && !all(cells, (t) => secondsOf(t) !== null)
        ? 'other'
        : 'lifetime';
    case 'name':
      return all(cells, isTarget) && cells.length > 0 ? 'inside-address' : 'name';
    case 'mac':
      return 'device';
    case 'counted':
      return all(cells, (t) => COUNT.test(t)) ? 'counted' : 'number';
    case 'idle':
      return 'number';
    case null:
      return cellRole(cells, i, isHeaded && heading.text !== '');
  }
}

function portRole(heading: Heading, cells: readonly string[]): ForwardRole {
  if (agree(cells, (t) => endpointOf(t) !== null)) return heading.side === 'out' ? 'outside' : 'endpoint';
  if (heading.filter === 'source') return 'source-port';
  // A column of addresses under `To` is none of ports; odd cells alone leave it what its heading says.
  if (all(cells, (t) => parseAddress(t) !== null || MAC.test(t)))
    return cellRole(cells, 1, true) ?? 'unknown';
  if (heading.side === 'out') return 'outside';
  return heading.side === 'in' ? 'inside' : 'some-port';
}

const NAMES_ADDRESS = /\b(?:ip|ipv4)\b|addr|adres|direcci|indirizz|endere/i;

function addressRole(heading: Heading, cells: readonly string[]): ForwardRole {
  if (heading.filter === 'source') return 'sources';
  if (agree(cells, (t) => endpointOf(t) !== null)) return heading.side === 'out' ? 'outside' : 'endpoint';
  // `LAN | WAN` above columns of ports alone; a number under “IP address” is a part of one.
  if (heading.side !== null && !NAMES_ADDRESS.test(heading.text) && agree(cells, isPorts))
    return heading.side === 'out' ? 'outside' : 'inside';
  if (heading.side === 'out') return 'outside-address';
  if (agree(cells, isTarget)) return 'inside-address';
  return agree(cells, (t) => MAC.test(t)) ? 'device' : 'device';
}

function cellRole(cells: readonly string[], i: number, isUnknownHeading: boolean): ForwardRole | null {
  if (cells.length === 0 || all(cells, (t) => BUTTON.test(t))) return 'other';
  if (all(cells, (t) => protocolOf(t) !== null && !/^\d/.test(t))) return 'protocol';
  if (all(cells, (t) => MAC.test(t))) return 'device';
  if (agree(cells, isServed)) return 'endpoint';
  if (all(cells, isPrivate)) return 'inside-address';
  if (isUnknownHeading)
    return i === 0 && all(cells, (t) => /\p{L}/u.test(t)) && !all(cells, isState) ? 'name' : 'unknown';
  if (all(cells, isPorts)) return 'some-port';
  // Single addresses without a heading may be the outside ones just as well.
  return all(cells, isSources) && !all(cells, (t) => parseAddress(t) !== null) ? 'sources' : null;
}

/** Words that nothing else explains: the first column of them is the name of the row. */
function nameFirst(columns: readonly Column[], roles: (ForwardRole | null)[], isHeaded: boolean): void {
  for (const [i, role] of roles.entries()) {
    if (role !== null) continue;
    const { cells } = nth(columns, i);
    const isName =
      !isHeaded && !roles.includes('name') && all(cells, (t) => /\p{L}/u.test(t)) && !all(cells, isState);
    roles[i] = isName ? 'name' : 'unknown';
  }
}

/** Without a heading only a place that leaves no choice makes a port the outside or the inside one. */
function bareRoles(
  { rows }: Block,
  columns: readonly Column[],
  roles: (ForwardRole | null)[],
  target: number,
): void {
  const counting = roles.findIndex(
    (r, i) => i === 0 && r === 'some-port' && isCounting(nth(columns, i).cells),
  );
  if (counting === 0 && roles.filter((r) => r === 'some-port').length > 1) roles[0] = 'number';
  const ports = roles.flatMap((r, i) => (r === 'some-port' ? [i] : []));
  const [a, b, c] = ports;
  if (a === undefined || ports.length > 4) return;
  const cell = (row: Block['rows'][number], i: number): string => row.cells[i]?.text ?? '';
  const same = b !== undefined && rows.every((r) => cell(r, a) === cell(r, b));
  if (ports.length === 1) roles[a] = 'outside';
  else if (ports.length === 2 && b !== undefined && same) {
    roles[a] = 'outside';
    roles[b] = 'inside';
  } else if (ports.length === 3 && b !== undefined && c !== undefined && b < target && target < c) {
    roles[a] = 'outside';
    roles[b] = 'outside-end';
    roles[c] = 'inside';
  }
}
