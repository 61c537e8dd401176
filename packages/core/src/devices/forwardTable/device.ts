import { nth } from '../../place/index.ts';
import type { Doubt } from '../../rules/index.ts';
import { addressOf, portsOf, prefixOfText, SettingsError } from '../build.ts';
import { interfacesOf, linePolicy, ownSockets, routesOf, type Device } from '../device.ts';
import type { DeviceInterface } from '../line.ts';
import { compileForwardTable } from './compile.ts';
import { type BoxLines, type ForwardManner } from './manner.ts';
import { type ForwardRow } from './row.ts';
import type { ForwardRowSettings, ForwardTableSettings } from './settings.ts';
import { everyTransport } from '../../site/index.ts';

const WHERE = 'forward table';

/** Rows as the form has them. @throws SettingsError for a value that cannot be read */
export function rowsOf(rows: readonly ForwardRowSettings[]): ForwardRow[] {
  return rows.flatMap((row, i) => {
    const where = `${WHERE}: row ${i + 1}${row.name ? ` (${row.name})` : ''}`;
    const parts = portsOf(row.ports, where) ?? [{ first: 1, last: 65535 }];
    const sources =
      row.sources && row.sources.length > 0 && !row.sources.includes('any')
        ? row.sources.map((s) => prefixOfText(s, where))
        : null;
    const top = parts[parts.length - 1];
    if (row.toPort !== undefined && top && row.toPort + top.last - nth(parts, 0).first > 65535)
      throw new SettingsError(`${where}: its inside ports would lie above 65535`);
    return parts.map((p): ForwardRow => ({
      name: row.name ?? '',
      protocol: row.protocol,
      outside: p,
      insideAddress: addressOf(row.to, where),
      insideFirst: row.toPort === undefined ? p.first : row.toPort + (p.first - nth(parts, 0).first),
      enabled: row.enabled !== false,
      applied: row.state === 'staged' || row.state === 'needs-restart' ? false : true,
      ...(row.state === 'needs-restart' ? { waitsFor: 'restart' as const } : {}),
      sources,
      ...(row.line ? { line: row.line } : {}),
      doubts: [],
      source: null,
    }));
  });
}

export const linesOf = (interfaces: readonly DeviceInterface[]): BoxLines => ({
  wan: interfaces.filter((d) => d.side === 'outside').map((d) => d.name),
  lan: interfaces.filter((d) => d.side === 'inside').map((d) => d.name),
});

/**
 * The router around the table: lines, routes, and with several outside lines the choice of the one that an
 * answer takes.
 * @param rows the rows in force: of this table, or of the carrier's portal
 * @param further why there may be rows beside them
 * @param page what its pages say of it
 * @throws SettingsError for a value that cannot be read
 */
export function forwardTableDevice(
  settings: ForwardTableSettings,
  lines: readonly DeviceInterface[],
  rows: readonly ForwardRow[] = rowsOf(settings.rows),
  further: Doubt | null = null,
  page: Partial<ForwardManner> = { ownPortsOpen: settings.ownPorts === undefined },
): Device {
  const interfaces = interfacesOf(lines, WHERE);
  const several =
    lines.filter((d) => d.side === 'outside').length > 1 && settings.answersBy !== 'default-line';
  const policy = several ? linePolicy(lines) : null;
  return {
    interfaces,
    routes: [...routesOf(lines, interfaces), ...(policy?.routes ?? [])],
    ...(policy ? { policy: policy.policy } : {}),
    sockets: ownSockets(settings.ownPorts, `${WHERE}: own ports`),
    presumed: {
      forwarding: true,
      socketsComplete: everyTransport(settings.ownPorts !== undefined),
      kind: 'box',
    },
    program: compileForwardTable(rows, linesOf(lines), {
      ...settings,
      ...page,
      interfaces: lines,
      further,
    }),
  };
}
