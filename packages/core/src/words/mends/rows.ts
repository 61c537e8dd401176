import { rowText, type ForwardRow, type RelayLease } from '../../devices/index.ts';
import type { Served, Target } from '../../mend/index.ts';
import { formatAddress, type Address } from '../../net/index.ts';
import type { StopNames } from '../named.ts';
import {
  peopleText,
  servedText,
  type FindingOf,
  type FindingWords,
  type MendParts,
  type ValueChange,
} from './parts.ts';

type RowFinding =
  | 'row-off'
  | 'row-staged'
  | 'row-line'
  | 'row-sources'
  | 'row-protocol'
  | 'row-outside-port'
  | 'row-range'
  | 'row-missing'
  | 'row-target'
  | 'inside-port'
  | 'lease'
  | 'shadowed'
  | 'translation-target';

const table = (at: string): string => `${at}, table of port forwards`;

/** What every change of a row has in common. */
const common = (at: string, { transport, port }: Served, row?: ForwardRow) => ({
  where: table(at),
  also: 'Save and apply the page, then look at the table again.',
  opens: `${transport} ${port} of the server for ${row?.sources ? peopleText(row.sources) : 'anyone'}`,
});

/** What the two kinds of stray forwards have in common. */
function strayParts(
  f: FindingOf<'row-target' | 'translation-target'>,
  names: StopNames,
): Omit<MendParts, 'title' | 'where'> {
  const { now, holder, target, served } = f;
  const whose = target.isGateway ? 'next gateway' : 'server';
  const mended = formatAddress(target.address);
  return {
    wrong: `its forward sends ${servedText(served)} to ${heldBy(now, holder)}, and the ${whose} is ${mended}`,
    values: [{ label: 'Inside address', now: formatAddress(now), mended }],
    also: reserve(target, names),
    opens: 'nothing that was not meant to be open',
  };
}

const portsText = ({ first, last }: { readonly first: number; readonly last: number }): string =>
  first === last ? `${first}` : `${first}-${last}`;

const lineText = (now: Address | string): string =>
  typeof now === 'string' ? `the line ${now}` : formatAddress(now);

const heldBy = (now: Address, holder: string | null): string =>
  holder === null ? formatAddress(now) : `${formatAddress(now)} (${holder} has it now)`;

const reserve = ({ address, stop }: Target, names: StopNames): string =>
  `Reserve ${formatAddress(address)} for ${names(stop)} in the lease table, or it moves again.`;

/** Of the tunnel, where nobody has shown it. */
const END = 'the server’s address in the tunnel';

const leaseText = ({ protocol, port }: RelayLease): string =>
  `${protocol === 'both' ? 'TCP and UDP' : protocol.toUpperCase()} ${port}`;

/** What is wrong with a relay's lease. */
const LEASES: Readonly<
  Record<FindingOf<'lease'>['part'], (served: Served, lease: RelayLease | null) => string>
> = {
  none: (served) => `it leases no port for ${servedText(served)}`,
  ended: (served, lease) => `the lease of ${servedText(served)} ended at ${lease?.until ?? 'its time'}`,
  port: (served, lease) =>
    `the lease says ${lease?.port ?? 'another port'}, and the client dials ${served.port}`,
  protocol: (served, lease) =>
    `the lease is for ${lease?.protocol.toUpperCase() ?? 'the other protocol'}, and the client comes with ` +
    served.transport.toUpperCase(),
  target: (_served, lease) =>
    `its lease leads to ${lease?.to ?? 'another customer'}, which is not the server`,
  'inside-port': (_served, lease) =>
    `its lease leads to port ${lease?.toPort ?? lease?.port ?? '?'}, on which the service is not`,
};

/** The values of a lease that change; all of them for a new one. */
function leaseValues(now: RelayLease | null, mended: RelayLease): ValueChange[] {
  const cells = (l: RelayLease): [string, string][] => [
    ['Protocol', l.protocol === 'both' ? 'TCP and UDP' : l.protocol.toUpperCase()],
    ['Leased port', `${l.port}`],
    ['Leads to', l.to === '' ? END : l.to],
    ['Port there', `${l.toPort ?? l.port}`],
    ['Ends', l.until ?? 'not by itself'],
  ];
  const old = new Map(now ? cells(now) : []);
  return cells(mended)
    .filter(([label, value]) => old.get(label) !== value)
    .map(([label, value]) => ({ label, now: old.get(label) ?? null, mended: value }));
}

export const ROW_WORDS: { readonly [K in RowFinding]: FindingWords<K> } = {
  'row-off': ({ row, served }, at) => ({
    ...common(at, served, row),
    wrong: `the forward for ${rowText(row)} is switched off`,
    title: `Switch on the forward for ${rowText(row)}`,
    values: [{ label: 'Enabled', now: 'off', mended: 'on' }],
  }),
  'row-staged': ({ row, served }, at) =>
    row.waitsFor === 'restart'
      ? {
          ...common(at, served, row),
          wrong: `the forward for ${rowText(row)} is on, and waits for a restart of the device`,
          title: 'Restart the device',
          values: [{ label: 'State', now: 'restart needed', mended: 'in force' }],
          also: 'Everybody is without a connection until it is up again. Look at the table afterwards.',
        }
      : {
          ...common(at, served, row),
          wrong: `the forward for ${rowText(row)} was entered and never applied`,
          title: 'Apply the forward table',
          values: [{ label: 'State', now: 'not applied', mended: 'applied' }],
        },
  'row-sources': ({ row, served, client, wanted }, at) => ({
    ...common(at, served),
    wrong:
      `the forward for ${rowText(row)} is for ${peopleText(row.sources)}, and the client is ` +
      `${formatAddress(client)}`,
    title: `Let ${peopleText(wanted)} use the forward`,
    values: [{ label: 'Allowed source', now: peopleText(row.sources), mended: peopleText(wanted) }],
    opens: `${served.transport} ${served.port} of the server for ${peopleText(wanted)}`,
  }),
  'row-protocol': ({ row, served }, at) => ({
    ...common(at, served),
    wrong:
      `the forward for port ${served.port} is for ${row.protocol.toUpperCase()} only, and the ` +
      `client comes with ${served.transport.toUpperCase()}`,
    title: `Forward ${servedText(served)} as well`,
    values: [{ label: 'Protocol', now: row.protocol.toUpperCase(), mended: 'TCP and UDP' }],
  }),
  'row-line': ({ row, served, now, dialled }, at) => ({
    ...common(at, served, row),
    where: `${table(at)}${row.name ? `, row “${row.name}”` : ''}`,
    wrong:
      `the forward for ${servedText(served)} is bound to ${lineText(now)}, and ` +
      `${formatAddress(dialled)} was dialled`,
    title: `Let the forward for ${servedText(served)} hold on both lines`,
    values: [
      {
        label: 'Line',
        now: typeof now === 'string' ? now : `the one with ${formatAddress(now)}`,
        mended: `also the one with ${formatAddress(dialled)}`,
      },
    ],
  }),
  'row-outside-port': ({ row, served }, at) => ({
    ...common(at, served),
    wrong:
      `the forward to the server takes ${rowText(row)} from outside, ` +
      `and the client dials ${served.port}`,
    title: 'Correct the outside port',
    values: [{ label: 'Outside port', now: `${row.outside.first}`, mended: `${served.port}` }],
  }),
  'row-range': ({ row, served, mended }, at) => ({
    ...common(at, served, row),
    wrong: `the forward takes ${rowText(row)}, and the service needs port ${served.port} as well`,
    title: 'Let the forward take the whole range',
    values: [
      { label: 'Outside ports', now: portsText(row.outside), mended: portsText(mended) },
      { label: 'Inside ports', now: null, mended: 'the same range' },
    ],
  }),
  'row-missing': ({ served, to, isOneOfSeveral }, at) => ({
    ...common(at, served),
    wrong:
      `no forward takes ${servedText(served)}` + (isOneOfSeveral ? '; each of the gateways needs one' : ''),
    title: `Add a forward for ${servedText(served)}`,
    values: [
      { label: 'Protocol', now: null, mended: served.transport.toUpperCase() },
      { label: 'Outside port', now: null, mended: `${served.port}` },
      { label: 'Inside address', now: null, mended: to ? formatAddress(to) : 'the server’s inside address' },
      { label: 'Inside port', now: null, mended: `${served.port}` },
    ],
  }),
  lease: ({ lease, mended, part, served }, at) => ({
    wrong: LEASES[part](served, lease),
    title: lease ? `Correct the lease of ${leaseText(lease)}` : `Lease ${servedText(served)}`,
    where: `${at}, its leased ports`,
    values: leaseValues(lease, mended),
    also:
      part === 'port'
        ? `Or let the client dial port ${lease?.port ?? served.port}. Tell it to everyone who dials.`
        : 'Save it at the relay, and try from a network outside.',
    opens: `${leaseText(mended)} of the relay for anyone: it leads to ${mended.to === '' ? END : mended.to}`,
  }),
  'inside-port': ({ served, now, mended }, at) => ({
    ...common(at, served),
    wrong:
      `its forward leads ${servedText(served)} to port ${now} of the server, and the program ` +
      `listens on ${mended}`,
    title: `Correct the inside port to ${mended}`,
    values: [{ label: 'Inside port', now: `${now}`, mended: `${mended}` }],
  }),
  shadowed: ({ served, by, right, now, mended }, at) => ({
    ...common(at, served),
    wrong:
      `${by} takes ${servedText(served)} for ${formatAddress(now)} before ${right}, which leads to ` +
      'the server, is asked',
    title: `Move ${right} above ${by}`,
    values: [{ label: 'Order', now: `${by} first`, mended: `${right} first` }],
    also:
      `Or take port ${served.port} out of ${by}. What it carries to ${formatAddress(now)} ` +
      'on that port ends.',
    opens: `${servedText(served)} of ${formatAddress(mended)}; no longer of ${formatAddress(now)}`,
  }),
  'row-target': (f, at, names) => ({
    ...strayParts(f, names),
    title: `Send the forward for ${rowText(f.row)} to ${formatAddress(f.target.address)}`,
    where: `${table(at)}, row ${f.row.name ? `“${f.row.name}”` : f.number}`,
  }),
  'translation-target': (f, at, names) => ({
    ...strayParts(f, names),
    title: `Translate to ${formatAddress(f.target.address)}`,
    where: `${at}, the rule “${f.rule.text}”`,
  }),
};
