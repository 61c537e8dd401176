import { nth } from '../../place/index.ts';
import { known, type Said, open, type ForwardRole, type ForwardFact } from '../../facts/index.ts';
import type { Doubt } from '../../rules/index.ts';
import { ANY_SOURCE, endpointOf, protocolOf } from './values.ts';
import { type PortCell, portCell, oddPorts, isEvery } from './portCells.ts';
import type { Cell } from './cells.ts';
import { type PortSet, parseAddress } from '../../net/index.ts';
import { secondsOf } from './lifetimes.ts';
import { stateOf, isPending, type RowState, isState } from './states.ts';

/** Values that narrow nothing: for any sender, at any hour, on any line. */
export const UNLIMITED = new RegExp(
  String.raw`^(any|anyone|all|everyone|everybody|\*|-|–|—|always|all day|every day|24\/7|24 ?h|` +
    String.raw`none|no|default|both|auto|alle|immer|toujours|siempre|sempre|n\/a)$`,
  'i',
);

export const said = (text: string): Doubt => ({ doubt: 'said', text: `the page says “${text}”` });

export const portsIn = (cell: Cell | undefined): PortCell | null => {
  if (!cell) return null;
  const endpoint = endpointOf(cell.text);
  if (endpoint) return { ports: known([endpoint.ports]), within: null, protocol: null, isPending: false };
  return portCell(cell.text) ?? oddPorts(cell.text);
};

/** Of several ports it is not known which is outside: it is about one of them, or about all between them. */
export function unclear(
  roles: readonly ForwardRole[],
  cells: readonly Cell[],
): { readonly is: Said<PortSet>; readonly within: PortSet | null } {
  const all = roles.flatMap((r, i): PortSet[] => {
    const ports = r === 'some-port' ? portCell(cells[i]?.text ?? '')?.ports : undefined;
    return ports && 'is' in ports && ports.is !== 'same' ? [ports.is] : [];
  });
  const parts = all.flat();
  const is = open({ doubt: 'not-shown', fields: ['ports'] });
  // One port alone is the end of a range, whose other end is not shown.
  if (all.length < 2) return { is, within: null };
  const [first, last] = [Math.min(...parts.map((p) => p.first)), Math.max(...parts.map((p) => p.last))];
  return { is, within: [{ first, last }] };
}

/** The outside ports; where a cell is odd, those that it may be about. */
export function outsidePorts(
  cell: PortCell | null,
  end: Cell | undefined,
): { readonly is: Said<PortSet>; readonly within: PortSet | null } {
  if (!cell) return { is: open({ doubt: 'not-shown', fields: ['ports'] }), within: null };
  if (!('is' in cell.ports)) return { is: cell.ports, within: cell.within };
  const ports = cell.ports.is;
  if (ports === 'same') return { is: open({ doubt: 'word', field: 'ports', text: 'any' }), within: null };
  const first = ports[0];
  const text = end?.text ?? '';
  if (text === '' || text === '0' || !first) return { is: known(ports), within: null };
  const last = Number(text);
  return /^\d{1,5}$/.test(text) && last >= first.first && last <= 65535
    ? { is: known([{ first: first.first, last }]), within: null }
    : { is: open({ doubt: 'word', field: 'ports', text }), within: null };
}

export function insidePorts(
  cell: Cell | undefined,
  endpoint: Cell | undefined,
): { readonly is: ForwardFact['inside']; readonly cell: PortCell | null } {
  const joint = endpoint ? endpointOf(endpoint.text) : null;
  if (joint) return { is: known([joint.ports]), cell: null };
  if (!cell) return { is: known('same'), cell: null };
  const ports = portCell(cell.text) ?? oddPorts(cell.text);
  return { is: ports.ports, cell: ports };
}

/** The one address of a cell that names the machine as well: `hall-pc (192.168.50.20)`, or the other way. */
function besideName(text: string): string | null {
  const parts = /^([^()[\],|–—]{1,80}?)(?: *[([,|–—] *| [-/] )([^()[\],|–—]{1,80}?)[)\]]?$/.exec(text);
  if (!parts) return null;
  const [one, other] = [nth(parts, 1), nth(parts, 2)];
  const [address, name] = parseAddress(one) ? [one, other] : [other, one];
  const isName =
    /\p{L}/u.test(name) && !parseAddress(name) && !/^(?:not|except|all but|any|to|bis)\b/i.test(name);
  return isName && parseAddress(address) ? address : null;
}

export function targetOf(
  address: Cell | undefined,
  endpoint: Cell | undefined,
  device: Cell | undefined,
): { readonly is: Said<string>; readonly cell: Cell | undefined } {
  const cell = address ?? endpoint ?? device;
  const text = cell?.text ?? '';
  const joint = endpointOf(text);
  const bare = text.replace(/\/(32|128)$/, '');
  const plain = joint?.address ?? (parseAddress(bare) ? bare : (besideName(text) ?? bare));
  if (parseAddress(plain)) return { is: known(plain), cell };
  const why: Doubt =
    text === '' ? { doubt: 'not-shown', fields: ['addresses'] } : { doubt: 'word', field: 'addresses', text };
  return { is: open(why), cell };
}

export function protocolIn(cell: Cell | undefined, beside: 'tcp' | 'udp' | null): ForwardFact['protocol'] {
  if (!cell) return beside ? known(beside) : open({ doubt: 'not-shown', fields: ['protocol'] });
  const { text } = cell;
  const read = protocolOf(text);
  if (read) return known(read);
  return open(
    text === '' ? { doubt: 'not-shown', fields: ['protocol'] } : { doubt: 'word', field: 'protocol', text },
  );
}

export const stateIsOn = (text: string): boolean => {
  const { enabled, applied } = stateOf(text);
  return 'is' in enabled && enabled.is && applied !== false && !isPending(text);
};

const ON: RowState = { enabled: known(true), applied: null };

export function rowState(enabled: Cell | undefined, applied: Cell | undefined, name: string): RowState {
  const state = enabled ? stateOf(enabled.text) : ON;
  const live = applied ? stateOf(applied.text) : null;
  if (saysOff(name)) return { ...state, enabled: open({ doubt: 'word', field: 'state', text: name }) };
  if (!live) return state;
  if (!('is' in live.enabled)) return { enabled: live.enabled, applied: null };
  const { waitsFor } = live;
  return {
    enabled: state.enabled,
    applied: live.enabled.is && live.applied !== false,
    ...(waitsFor ? { waitsFor } : {}),
  };
}

/** A name that is struck out, or that ends with a state other than “on”: `game server (paused)`. */
function saysOff(name: string): boolean {
  if (/^~~.*~~$/.test(name)) return true;
  const note = /[([]([^()[\]]{1,40})[)\]]\s*$/.exec(name)?.[1] ?? '';
  return note !== '' && isState(note) && !stateIsOn(note);
}

export function sourcesIn(cell: Cell | undefined): ForwardFact['sources'] {
  if (!cell || cell.text === '' || ANY_SOURCE.test(cell.text) || UNLIMITED.test(cell.text))
    return known(null);
  return known(cell.text.split(/[\s,;]+/).filter((t) => t !== ''));
}

/** A cell that limits its row; null where it holds no limit. */
export function limit(cell: Cell | undefined, field: 'addresses'): Said<string | null> {
  const text = cell?.text ?? '';
  if (text === '' || UNLIMITED.test(text) || /^(wan|any|router|external|public)( ip| address)?$/i.test(text))
    return known(null);
  const address = endpointOf(text)?.address ?? text.replace(/\/32$/, '');
  return parseAddress(address) ? known(address) : open({ doubt: 'word', field, text });
}

/** Columns that may limit a row. */
const NARROWING: ReadonlySet<ForwardRole> = new Set([
  'wan',
  'schedule',
  'source-port',
  'lifetime',
  'unknown',
]);

/** A column that may limit a row. */
export interface NarrowingColumn {
  readonly role: ForwardRole;
  readonly at: number;
}

export const narrowingColumns = (roles: readonly ForwardRole[]): readonly NarrowingColumn[] =>
  roles.flatMap((role, at) => (NARROWING.has(role) ? [{ role, at }] : []));

/** What else limits a row: its line, its hours, ports of the sender, and columns that nobody understands. */
export function narrowings(
  columns: readonly NarrowingColumn[],
  cells: readonly Cell[],
  width: number,
): Doubt[] {
  if (columns.length === 0 && cells.length <= width) return [];
  const own = columns.flatMap(({ role, at: i }): Doubt[] => {
    const text = cells[i]?.text ?? '';
    const isOff = role === 'unknown' && isState(text) && !stateIsOn(text);
    if (text === '' || (UNLIMITED.test(text) && !isOff)) return [];
    switch (role) {
      case 'wan':
        return PLAIN_LINE.test(text) ? [] : [{ doubt: 'narrowed', text }];
      case 'schedule':
        return [{ doubt: 'narrowed', text }];
      // A length of time runs as long as it is shown; whether a day has come or gone, the row does not say.
      case 'lifetime':
        return secondsOf(text) === null ? [{ doubt: 'narrowed', text }] : [];
      case 'source-port':
        return isEvery(text) || /^0$/.test(text)
          ? []
          : [{ doubt: 'narrowed', text: `sender’s port ${text}` }];
      // A word for on narrows nothing, whatever it is that is on; one for off may.
      case 'unknown':
        return stateIsOn(text) ? [] : [{ doubt: 'word', field: 'option', text }];
      default:
        return [];
    }
  });
  const beyond = cells.slice(width).filter((c) => c.text !== '');
  return [...own, ...beyond.map((c): Doubt => ({ doubt: 'word', field: 'option', text: c.text }))];
}

export const PLAIN_LINE = /^(wan|internet|wan ?\(?(ipv4|ip|dhcp|pppoe)?\)?|any wan|all wans?)$/i;
