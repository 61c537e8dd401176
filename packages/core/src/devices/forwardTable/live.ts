import { type Doubt } from '../../rules/index.ts';
import { addressOf } from '../build.ts';
import type { AskedMapping } from './settings.ts';
import { type ForwardRow, rowText } from './row.ts';
import { type Live } from './clashes.ts';
import { sourcePrefixes, WHERE } from './fields.ts';

export const liveRows = (rows: readonly ForwardRow[]): Live[] =>
  rows.flatMap((row, i) =>
    row.enabled && row.applied !== false
      ? [
          {
            row,
            text: `row ${i + 1}${row.name ? ` (${row.name})` : ''}: ${rowText(row)} to the inside`,
            doubts: row.doubts,
            rivals: [],
          },
        ]
      : [],
  );

/**
 * RFC 6887 §15: a mapping lives until its lifetime ends; without the time of the look it is not known which
 * side of it this is.
 */
export function liveMapping(m: AskedMapping, number: number, at: string | undefined): Live[] {
  const until = m.until === undefined ? null : Date.parse(m.until);
  const now = at === undefined ? NaN : Date.parse(at);
  if (until !== null && !Number.isNaN(now) && until <= now) return [];
  const doubts: Doubt[] =
    until !== null && (Number.isNaN(now) || Number.isNaN(until))
      ? [{ doubt: 'mapping-there', protocol: m.protocol, port: m.port, until: m.until! }]
      : [];
  const sender = m.from ? sourcePrefixes([m.from]) : null;
  if (m.from && !sender) doubts.push({ doubt: 'word', field: 'source', text: m.from });
  const row: ForwardRow = {
    name: '',
    protocol: m.protocol,
    outside: m.port === 0 ? { first: 0, last: 65535 } : { first: m.port, last: m.port },
    insideAddress: addressOf(m.to, `${WHERE}: mapping ${number}`),
    insideFirst: m.port === 0 ? 0 : m.toPort || m.port,
    enabled: true,
    applied: true,
    sources: sender,
    doubts: [],
    source: null,
  };
  return [
    {
      row,
      text: `${m.protocol} ${m.port} to ${m.to}, asked for${m.by ? ` by ${m.by}` : ''}`,
      doubts,
      rivals: [],
    },
  ];
}
