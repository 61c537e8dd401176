import type {
  Coverage,
  Fact,
  ForwardFact,
  Gap,
  LabelKind,
  Problem,
  ProblemReason,
  Reading,
} from '../../facts/index.ts';
import { linesOf, type Line } from '../text.ts';
import { told } from '../noted.ts';
import { labelledIn } from '../gateways/labelled.ts';
import type { Block } from './blocks.ts';
import type { Grid } from './cells.ts';
import { isCut, lastOpen } from './ends.ts';
import { forwardRowsOf, type ForwardTable } from './forwards.ts';
import { isListTitle, isMappingList, mappingsOf } from './mappingLists.ts';

/** Lines of a page that say something beside its table. */
const PAGE_FACTS: ReadonlySet<LabelKind> = new Set([
  'wan-address',
  'lan-address',
  'guest-address',
  'exposed-host',
  'own-port',
  'line-state',
  'previous-address',
]);

const NO_ROW = 'no-forward-table-row';

/** Pages that are counted, of which this is one: `Page 1 of 3`, `1-10 of 23`. */
const PAGED = /\bpage \d+ (?:of|\/) \d+|\b\d+ ?(?:-|–|to) ?\d+ of \d+|\bshow more\b|\bnext page\b/i;

const isPaged = (text: string): boolean =>
  /page|show|\bof\b/i.test(text) &&
  linesOf(text).some((l) => l.text.length < 200 && PAGED.test(l.text.replace(/\s+/g, ' ')));

/** Rows that all lead to IPv6 open its filter: what is forwarded of IPv4 is another table of the device. */
const isPinholes = (facts: readonly ForwardFact[]): boolean =>
  facts.length > 0 && facts.every((f) => 'is' in f.target && (f.target.is ?? '').includes(':'));

/** What tables of forwards say, each row and what stands around them on their page. */
export function forwardsRead(
  text: string,
  tables: readonly ForwardTable[],
  others: readonly Block[],
): Reading {
  const isBroken = isCut(text, tables);
  const read = tables.map((t, i) => {
    const { facts, notes } = forwardRowsOf(t, t.roles);
    return { ...t, notes, facts: isBroken && i === tables.length - 1 ? lastOpen(facts) : facts };
  });
  const lists = read.map((t) => (isMappingList(t) ? mappingsOf(t, t.facts) : null));
  const lines = [
    ...read.flatMap((t, i) => [
      ...t.titles.filter((l) => lists[i] === null || !isListTitle(l.text)),
      ...t.notes,
    ]),
    ...others.flatMap((b) => [
      ...b.titles,
      ...(b.heading ? [b.heading.line] : []),
      ...b.rows.map((r) => r.line),
      ...b.notes,
    ]),
  ];
  const gaps: Gap[] = [
    ...(read.some((t) => !t.heading) ? (['no-heading'] as const) : []),
    ...(isPaged(text) ? (['page'] as const) : []),
    ...(isBroken ? (['cut'] as const) : []),
  ];
  // What stands around a table on its page is read for itself.
  const beside = lines.map((l) => ({ line: l, facts: labelledIn(l).filter((f) => PAGE_FACTS.has(f.what)) }));
  const portal = lines.filter((l) => PORTAL.test(l.text)).slice(0, 1);
  const rest = beside.filter((b) => b.facts.length === 0 && !portal.includes(b.line)).map((b) => b.line);
  return {
    format: 'forward-table',
    facts: [
      ...read.flatMap((t, i): readonly Fact[] => lists[i] ?? t.facts),
      ...beside.flatMap((b) => b.facts),
      ...portal.map((l) => told('portal-table', { line: l.number }, true, l.text.trim())),
    ],
    problems: rest.map((l) => problem(l, NO_ROW)).sort((a, b) => a.line - b.line),
    covers: [
      ...(read.some((t, i) => lists[i] === null && !isPinholes(t.facts)) ? (['forwards'] as const) : []),
      ...(lists.some((l) => l !== null) ? (['mappings'] as const) : []),
    ],
    ...(gaps.length > 0 ? { gaps } : {}),
  };
}

/** Titles of the pages that carriers give their customers. */
const PORTAL = new RegExp(
  String.raw`\bportal\b|\b(?:provider|carrier|operator|isp)\b.{0,30}\b(?:account|app|customer)\b|` +
    String.raw`\b(?:my|your) (?:connection|contract|account)\b`,
  'i',
);

/** What a list of devices or leases says. */
export const devicesRead = (rows: Parameters<typeof reading>[1], grid: Grid): Reading =>
  reading('device-table', rows, grid, ['leases'], 'no-device-row');

const problem = (line: Line, why: ProblemReason): Problem => ({
  line: line.number,
  text: line.text.trim().slice(0, 200),
  why,
});

/** Rows that are read as facts, and the others as problems with their lines. */
export function reading(
  format: string,
  rows: readonly (Fact | { readonly line: Line; readonly why: ProblemReason })[],
  grid: Grid,
  covers: readonly Coverage[],
  rest: ProblemReason,
): Reading {
  const facts = rows.filter((r): r is Fact => 'kind' in r);
  const problems = [
    ...rows.flatMap((r) => ('kind' in r ? [] : [problem(r.line, r.why)])),
    ...grid.rest.map((l) => problem(l, rest)),
  ];
  return { format, facts, problems: problems.sort((a, b) => a.line - b.line), covers };
}

export const nothing = (format: string, text: string, why: ProblemReason): Reading => ({
  format,
  facts: [],
  problems: [{ line: 1, text: text.slice(0, 120), why }],
  covers: [],
});
