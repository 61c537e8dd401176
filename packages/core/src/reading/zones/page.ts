import { type Coverage, type Fact, type Gap, type Problem, type ProblemReason } from '../../facts/index.ts';
import { parsePrefix } from '../../net/index.ts';
import { labelledIn } from '../gateways/labelled.ts';
import { problemAt } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { blocksOf, type Block } from '../tables/blocks.ts';
import { forwardColumns } from '../tables/columns.ts';
import { forwardRowsOf } from '../tables/forwards.ts';
import { isPorts } from '../tables/portCells.ts';
import { ACTION, endpointOf, MAC } from '../tables/values.ts';
import { linesOf, type Line } from '../text.ts';
import { columnsIn, type ZoneColumn, type ZoneTable } from './headings.ts';
import { endIn, orderIn, UNFILTERED } from './pageOrder.ts';
import { ARROW, COVERS, evened, factOf, lineOf } from './pageRows.ts';
import type { ZoneCells } from './rows.ts';

const isValue = (text: string): boolean =>
  isPorts(text) ||
  endpointOf(text) !== null ||
  MAC.test(text) ||
  parsePrefix(text) !== null ||
  ACTION.test(text) ||
  /^any$/i.test(text);

interface Part {
  readonly facts: readonly Fact[];
  readonly problems: readonly Problem[];
  readonly covers: readonly Coverage[];
}

/** What has to be among the columns of a table of each kind, and how many headings may be unknown. */
const NEEDED: Readonly<Record<ZoneTable, readonly (readonly ZoneColumn[])[]>> = {
  rules: [['action'], ['from-zone', 'to-zone', 'destinations'], ['services', 'ports', 'protocol']],
  mappings: [['outside'], ['inside']],
  lines: [['zone'], ['address']],
  names: [['name'], ['address']],
};

const KINDS = ['rules', 'mappings', 'lines', 'names'] as const;

/** The kind of table that the headings prove. */
function kindOf({ heading, loose }: Block): { table: ZoneTable; columns: (ZoneColumn | null)[] } | null {
  if (heading === null || loose) return null;
  const texts = heading.cells.map((c) => c.text);
  for (const table of KINDS) {
    const columns = columnsIn(table, texts);
    const isProven = NEEDED[table].every((some) => some.some((c) => columns.includes(c)));
    const strange = columns.filter((c, i) => c === null && texts[i] !== '').length;
    // A table of two sides alone may be one of many things: all its headings have to be known.
    if (isProven && (table === 'rules' ? strange <= 2 : strange === 0)) return { table, columns };
  }
  return null;
}

function read(block: Block, titles: readonly Line[]): Part | null {
  // A heading at the end of other things is where the copy broke off; a page says that its table is empty.
  if (block.rows.length === 0 && block.notes.length === 0) return null;
  const kind = kindOf(block);
  if (kind) return tableRead(block, kind);
  const roles = forwardColumns(block);
  if (!roles || block.loose || block.heading === null) return null;
  const { facts, notes } = forwardRowsOf(block, roles);
  const rest = notes.filter((n) => !titles.includes(n) && isRowLike(n.text));
  return {
    facts,
    problems: rest.map((l) => problemAt(l, 'no-forward-row')),
    covers: ['forwards'],
  };
}

function tableRead(block: Block, { table, columns }: NonNullable<ReturnType<typeof kindOf>>): Part {
  const facts: Fact[] = [];
  const problems: Problem[] = [];
  for (const { line, cells } of block.rows) {
    const own: ZoneCells = cells.map((c, i) => ({ column: columns[i] ?? null, text: c.text }));
    const fact = factOf(table, own, line);
    if (fact) facts.push(fact);
    else problems.push(problemAt(line, ROW[table]));
  }
  return { facts, problems, covers: COVERS[table] };
}

const ROW: Readonly<Record<ZoneTable, ProblemReason>> = {
  rules: 'no-zone-rule',
  mappings: 'no-mapping-row',
  lines: 'no-line-address',
  names: 'no-named-address',
};

/** What a page says where a table of it is empty. */
const EMPTY = /^(?:none|empty|(?:no|0) .{0,40})\.?$/i;

const TITLE = /translat|mapping|forward|\bnat\b/i;

/**
 * Lines of translations. One with ports alone may as well be a session (client and server with an arrow
 * between them): a title, or a whole address beside it, has to prove it.
 */
function arrowsIn(lines: readonly Line[]): Fact[] {
  const facts = lines.flatMap((l) => lineOf(l) ?? []);
  const isProven =
    facts.some((f) => f.kind === 'address-mapping') ||
    lines.some((l) => TITLE.test(l.text) && !ARROW.test(evened(l.text)));
  return isProven ? facts : [];
}

/** Everything that a page of a firewall with zones says; null where nothing in it is of one. */
function pageIn(text: string): (Part & { readonly gaps: readonly Gap[] }) | null {
  const lines = linesOf(text);
  const arrows = arrowsIn(lines);
  const taken = new Set(arrows.map((f) => f.at.line));
  const rest = lines.filter((l) => !taken.has(l.number));
  // Lines of translations keep their places, so that every other line has its own number.
  const plain = lines.map((l) => (taken.has(l.number) ? '' : l.text)).join('\n');
  let parts: Part[] = [];
  let used = new Set<number>();
  for (const blocks of blocksOf(plain, isValue)) {
    const own = blocks.map((b) => ({ block: b, part: read(b, b.titles) }));
    if (!own.some((o) => o.part)) continue;
    parts = own.flatMap((o) => o.part ?? []);
    used = new Set(
      own.flatMap(({ block, part }) =>
        part
          ? [...(block.heading ? [block.heading.line.number] : []), ...block.rows.map((r) => r.line.number)]
          : [],
      ),
    );
    break;
  }
  if (![...arrows, ...parts.flatMap((p) => p.facts)].some(isZones)) return null;
  const beside = rest
    .filter((l) => !used.has(l.number) && l.text.trim() !== '')
    .map((line) => ({ line, facts: [...orderIn(line), ...endIn(line), ...labelledIn(line)] }));
  const unread = beside.filter(
    (b) => b.facts.length === 0 && !parts.some((p) => p.problems.some((x) => x.line === b.line.number)),
  );
  const odd = unread.filter((b) => b.line.text.includes('\t') || isRowLike(b.line.text));
  return {
    facts: [...arrows, ...parts.flatMap((p) => p.facts), ...beside.flatMap((b) => b.facts)],
    problems: [...parts.flatMap((p) => p.problems), ...odd.map((b) => problemAt(b.line, 'no-zone-row'))].sort(
      (a, b) => a.line - b.line,
    ),
    covers: [
      ...new Set([
        ...arrows.map((f) => (f.kind === 'forward' ? ('forwards' as const) : ('translations' as const))),
        ...parts.flatMap((p) => p.covers),
        ...(lines.some((l) => UNFILTERED.test(evened(l.text))) ? (['zone-rules'] as const) : []),
      ]),
    ],
    gaps: odd.length > 0 || parts.some((p) => p.problems.length > 0) ? ['unread'] : [],
  };
}

/**
 * What only a firewall with zones shows. Rules alone that name no zone are a filter of any kind, whose place
 * beside its forwards is not known.
 */
const isZones = (f: Fact): boolean =>
  f.kind === 'address-mapping' ||
  f.kind === 'zone-line' ||
  f.kind === 'forward' ||
  (f.kind === 'zone-rule' && [f.value.fromZone, f.value.toZone].some((z) => 'is' in z && z.is !== null));
/** Headings of parts of a page are a few words; anything else may be a row. */
const isRowLike = (text: string): boolean => !EMPTY.test(text.trim()) && /\d/.test(text);

export const zonePage: Reader = {
  format: 'zone-page',
  title: 'rules and translations of a firewall with zones',
  most: 0.86,
  recognise(text) {
    if (text.length > MOST || !mayHaveZones(text)) return 0;
    const page = pageIn(text);
    if (!page) return 0;
    const isPlain = page.facts.every((f) => f.kind === 'forward' || f.kind === 'labelled');
    if (isPlain && !hasArrows(text)) return 0;
    return page.covers.includes('zone-rules') || page.facts.some((f) => f.kind === 'address-mapping')
      ? 0.86
      : 0.75;
  },
  read(text) {
    const page = pageIn(text);
    if (!page)
      return {
        format: 'zone-page',
        facts: [],
        problems: [{ line: 1, text: text.slice(0, 120), why: 'no-zone-rows' }],
        covers: [],
      };
    const { gaps, ...rest } = page;
    return { format: 'zone-page', ...rest, ...(gaps.length > 0 ? { gaps } : {}) };
  },
};

const DIGIT = /\d/;

/**
 * Whether a line has an arrow, or what stands above rows can be the heading of a table of zones. A long list
 * of forwards is told apart by this alone.
 */
const hasArrows = (text: string): boolean =>
  /[↔⇄⇆→⇒]|[-=]>/.test(text) && text.split('\n').some((l) => ARROW.test(evened(l)));

function mayHaveZones(text: string): boolean {
  if (hasArrows(text)) return true;
  // What tells is above the rows: of each run of them two are enough.
  const few = text.split('\n').filter((l, i, all) => !DIGIT.test(l) || !DIGIT.test(all[i - 2] ?? ''));
  for (const blocks of blocksOf(few.join('\n'), isValue))
    if (blocks.some((b) => kindOf(b) !== null)) return true;
  return false;
}

/** Longer texts are logs and rule sets, which nobody copies off a page. */
const MOST = 400_000;
