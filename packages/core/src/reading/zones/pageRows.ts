import {
  type AddressMappingRecord,
  open,
  known,
  type Coverage,
  type Fact,
  type ForwardFact,
} from '../../facts/index.ts';
import type { Line } from '../text.ts';
import { told } from '../noted.ts';
import type { ZoneTable } from './headings.ts';
import { type ZoneCells, zoneRule, addressMapping, zoneLine, namedAddress } from './rows.ts';
import { parseAddress, parsePort } from '../../net/index.ts';
import { protocolOf } from '../tables/values.ts';

export const COVERS: Readonly<Record<ZoneTable, readonly Coverage[]>> = {
  rules: ['zone-rules'],
  mappings: ['translations'],
  lines: ['zone-lines'],
  names: [],
};

export const SIDE = String.raw`((?:\d{1,3}\.){3}\d{1,3}|[\da-f]{1,4}:[\da-f:]{2,36})(?::(\d{1,5}))?`;

export const ARROW = new RegExp(
  String.raw`^(?:(\S{1,40}|[a-z][^\d]{0,38}) )?(?:(tcp|udp|tcp\+udp) )?${SIDE} ?` +
    String.raw`(↔|⇄|⇆|<[-=]{1,3}>|→|⇒|[-=]{1,3}>) ?${SIDE}(?: (tcp|udp|tcp\+udp))?$`,
  'i',
);

export const evened = (text: string): string => text.replaceAll(/\s+/g, ' ').trim();

export function factOf(table: ZoneTable, cells: ZoneCells, line: Line): Fact | null {
  const at = { line: line.number };
  const text = cells.flatMap((c) => (c.text === '' ? [] : [c.text])).join(' · ');
  switch (table) {
    case 'rules':
      return cells.length < 3 ? null : told('zone-rule', at, zoneRule(cells), text);
    case 'mappings':
      return told('address-mapping', at, addressMapping(cells), text);
    case 'lines': {
      const own = zoneLine(cells);
      return own && told('zone-line', at, own, text);
    }
    case 'names': {
      const own = namedAddress(cells);
      return own && told('named-address', at, own, text);
    }
  }
}

/** `WEB-MAP 203.0.113.52 ↔ 192.168.50.20`, or `tcp 203.0.113.51:80 → 192.168.50.20:8214`. */
export function lineOf(line: Line): Fact | null {
  const match = ARROW.exec(evened(line.text));
  if (!match) return null;
  const [, name, before, outside = '', port, arrow = '', inside = '', toPort, after] = match;
  if (!parseAddress(outside) || !parseAddress(inside)) return null;
  const at = { line: line.number };
  const label = name?.replace(/:$/, '');
  const protocol = protocolOf(label ?? '') ?? protocolOf(before ?? after ?? '');
  if (port === undefined && toPort === undefined) {
    const value: AddressMappingRecord = {
      name: label ?? null,
      outside: known(outside),
      inside: known(inside),
      twoWay: arrow.startsWith('<') || '↔⇄⇆'.includes(arrow),
      enabled: known(true),
      further: known(null),
    };
    return told('address-mapping', at, value, line.text.trim());
  }
  const [first, last] = [parsePort(port ?? ''), parsePort(toPort ?? port ?? '')];
  if (first === null || last === null) return null;
  const isNamed = label !== undefined && protocolOf(label) === null;
  const fact: ForwardFact = {
    kind: 'forward',
    ...(isNamed ? { name: label } : {}),
    protocol: protocol ? known(protocol) : open({ doubt: 'not-shown', fields: ['protocol'] }),
    outside: known([{ first, last: first }]),
    outsideWithin: null,
    target: known(inside),
    device: null,
    inside: known([{ first: last, last }]),
    enabled: known(true),
    applied: null,
    sources: known(null),
    outsideAddress: known(outside),
    narrowed: [],
    at,
  };
  return fact;
}
