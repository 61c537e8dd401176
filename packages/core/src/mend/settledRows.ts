import {
  SUBNET_LIST,
  type AllowListSettings,
  type AllowRow,
  type HostProfilesSettings,
  type HostRow,
  type HostRowChange,
  type RuleWish,
  type StopSettings,
  type SubnetRow,
  type TranslationLine,
  type TranslationLinesSettings,
} from '../devices/index.ts';
import { formatAddress, formatPrefix, parsePrefix } from '../net/index.ts';
import type { Rule } from '../rules/index.ts';
import type { Finding } from './finding.ts';

/**
 * Settings of a device that compiles its rows to rules, with what was found put right in them; null where the
 * finding is not about one of its rows.
 */
export function rowsWith(settings: StopSettings | undefined, finding: Finding): StopSettings | null {
  switch (settings?.kind) {
    case 'allow-list':
      return perimeterWith(settings, finding);
    case 'host-profiles':
      return profilesWith(settings, finding);
    case 'translation-lines':
      return linesWith(settings, finding);
    default:
      return null;
  }
}

type NotAllowed = Extract<Finding, { found: 'not-allowed' }>;
type Near = Extract<Finding, { found: 'translation-near' }>;
type TooNarrow = Extract<Finding, { found: 'sources-too-narrow' }>;

/** Where a client's ports are that answers go to (RFC 6056 §3.2). */
const CLIENT_PORTS = '1024-65535';

function perimeterWith(settings: AllowListSettings, finding: Finding): AllowListSettings | null {
  if (finding.found === 'sources-too-narrow') {
    const { list, at } = finding.rule.row ?? {};
    const lists = settings.lists.map((l, i) =>
      list === `lists/${i}`
        ? { ...l, rows: changed(l.rows, at, (r) => ({ ...r, sources: sourcesWith(r.sources, finding) })) }
        : l,
    );
    if (list?.startsWith('lists/')) return { ...settings, lists };
    return subnetWith(settings, list, (rows) =>
      changed(rows, at, (r) => ({ ...r, peers: sourcesWith(r.peers ?? [], finding) })),
    );
  }
  if (finding.found !== 'not-allowed') return null;
  const { wish, rule, chain } = finding;
  const [first, ...others] = settings.lists;
  if (chain.id === SUBNET_LIST)
    return subnetWith(settings, `subnetList/${wish.side === 'answer' ? 'out' : 'in'}`, (rows) =>
      withSubnetRow(rows, finding, rule?.row?.at),
    );
  if (wish.side === 'answer') return null;
  const row: AllowRow = {
    protocol: wish.transport,
    ports: `${wish.port}`,
    sources: wish.peers?.map(formatPrefix) ?? ['any'],
  };
  return {
    ...settings,
    lists: [{ name: first?.name ?? 'allow list', rows: [...(first?.rows ?? []), row] }, ...others],
  };
}

function subnetWith(
  settings: AllowListSettings,
  list: string | undefined,
  change: (rows: readonly SubnetRow[]) => readonly SubnetRow[] | null,
): AllowListSettings | null {
  const { subnetList } = settings;
  const side = list === 'subnetList/out' ? 'out' : 'in';
  const rows = subnetList && list?.startsWith('subnetList/') ? change(subnetList[side]) : null;
  return subnetList && rows ? { ...settings, subnetList: { ...subnetList, [side]: rows } } : null;
}

/** The stateless list with a row before the one that decides; null where no number is free between them. */
function withSubnetRow(
  rows: readonly SubnetRow[],
  { wish }: NotAllowed,
  above: number | undefined,
): readonly SubnetRow[] | null {
  const numbers = rows.map((r) => r.number);
  const before = above === undefined ? undefined : rows[above]?.number;
  const last = Math.max(0, ...numbers.filter((n) => before === undefined || n < before));
  const number = before === undefined ? last + 10 : Math.floor((last + before) / 2);
  if (number <= last) return null;
  const row: SubnetRow = {
    number,
    action: 'allow',
    protocol: wish.transport,
    ports: wish.side === 'answer' ? CLIENT_PORTS : `${wish.port}`,
    ...(wish.peers ? { peers: wish.peers.map(formatPrefix) } : {}),
  };
  return [...rows, row];
}

function profilesWith(settings: HostProfilesSettings, finding: Finding): HostProfilesSettings | null {
  switch (finding.found) {
    case 'row-blocks':
      return hostRowsWith(settings, finding.rule, (r) => ({ ...r, enabled: false }));
    case 'row-value':
      return {
        ...settings,
        rows: settings.rows.map((r) => (r.name === finding.name ? corrected(r, finding.change) : r)),
      };
    case 'sources-too-narrow':
      return hostRowsWith(settings, finding.rule, (r) => ({
        ...r,
        remoteAddresses: sourcesWith(r.remoteAddresses ?? [], finding),
      }));
    case 'not-allowed':
      return { ...settings, rows: [...settings.rows, hostRow(finding.wish, settings.active)] };
    default:
      return null;
  }
}

/** A row with the value that a mend corrects. */
function corrected(row: HostRow, { part, mended }: HostRowChange): HostRow {
  switch (part) {
    case 'profiles':
      return { ...row, profiles: mended };
    case 'program':
      return mended[0] === 'Any' ? { ...row, program: undefined } : { ...row, program: mended[0] };
    case 'protocol':
      return { ...row, protocol: mended[0] === 'tcp' ? 'tcp' : 'udp' };
    case 'ports':
      return { ...row, localPorts: mended.join(',') };
  }
}

const hostRow = ({ side, transport, port, peers }: RuleWish, active: string | undefined): HostRow => ({
  enabled: true,
  direction: side === 'answer' ? 'out' : 'in',
  action: 'allow',
  protocol: transport,
  localPorts: `${port}`,
  ...(active === undefined ? {} : { profiles: [active] }),
  ...(peers ? { remoteAddresses: peers.map(formatPrefix) } : {}),
});

function hostRowsWith(
  settings: HostProfilesSettings,
  { row }: Rule,
  change: (row: HostRow) => HostRow,
): HostProfilesSettings | null {
  return row?.list === 'rows' ? { ...settings, rows: changed(settings.rows, row.at, change) } : null;
}

function linesWith(settings: TranslationLinesSettings, finding: Finding): TranslationLinesSettings | null {
  if (finding.found === 'translation-missing') {
    const { wish, to } = finding;
    if (!wish.destination) return null;
    const line: TranslationLine = {
      type: 'port',
      protocol: wish.transport,
      outside: formatAddress(wish.destination),
      outsidePort: wish.port,
      inside: formatAddress(to),
      insidePort: wish.port,
    };
    // The first line that takes a packet decides; the new one stands above them, as it was rehearsed.
    return { ...settings, lines: [line, ...settings.lines] };
  }
  const edit = lineEdit(finding);
  const row = edit?.rule?.row;
  const old = row?.list === 'lines' ? settings.lines[row.at] : undefined;
  if (!edit || old === undefined || old.type === 'many') return null;
  const line = edit.change(old);
  return line && { ...settings, lines: changed(settings.lines, row?.at, () => line) };
}

type Line = Exclude<TranslationLine, { type: 'many' }>;

function lineEdit(
  finding: Finding,
): { readonly rule: Rule | null; readonly change: (line: Line) => TranslationLine | null } | null {
  const ofPort = (change: Partial<Extract<Line, { type: 'port' }>>) => (line: Line) =>
    line.type === 'port' ? { ...line, ...change } : null;
  switch (finding.found) {
    case 'translation-target': {
      const inside = formatAddress(finding.target.address);
      return { rule: finding.rule, change: (line) => ({ ...line, inside }) };
    }
    case 'inside-port':
      return { rule: finding.rule, change: ofPort({ insidePort: finding.mended }) };
    case 'translation-near':
      return { rule: finding.rule, change: (line) => nearLine(line, finding) };
    default:
      return null;
  }
}

/** A line of this kind is bound to no sender and to no line of the house. */
function nearLine(line: Line, { part, served, mended }: Near): TranslationLine | null {
  if (part === 'address') return { ...line, outside: mended };
  if (line.type !== 'port') return null;
  if (part === 'protocol') return { ...line, protocol: served.transport };
  return part === 'port' ? { ...line, outsidePort: served.port } : null;
}

/** The sources as they were written, with the new ones; a slip of the pen is put right in its place. */
function sourcesWith(old: readonly string[], { sources, added, slip, allowed }: TooNarrow): string[] {
  if (sources === null) return ['any'];
  const fresh = added.map(formatPrefix);
  if (slip === null) return [...old, ...fresh.filter((f) => !old.includes(f))];
  const kept = new Set(sources.map(formatPrefix));
  const gone = new Set(allowed.map(formatPrefix).filter((a) => !kept.has(a)));
  const isGone = (text: string): boolean => {
    const prefix = parsePrefix(text);
    return prefix !== null && gone.has(formatPrefix(prefix));
  };
  return [...old.filter((t) => !isGone(t)), ...fresh];
}

const changed = <T>(list: readonly T[], at: number | undefined, change: (item: T) => T): readonly T[] =>
  list.map((item, i) => (i === at ? change(item) : item));
