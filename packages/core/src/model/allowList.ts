import type { AllowListSettings, AllowRow, SubnetRow } from '../devices/index.ts';
import { openFields, saidOr, type AllowRowRecord } from '../facts/index.ts';
import { factsOf, toldIn, type CaseFacts } from '../ledger/index.ts';
import type { Doubt } from '../rules/index.ts';

export interface ListedAllowList {
  readonly settings: AllowListSettings;
  /** Why rows that are not given may let a packet in; missing: somebody said that these are all. */
  readonly perhaps?: Doubt;
  /** What is open about a row, by the number of its list and its own, both from 1. */
  readonly ofRow: ReadonlyMap<string, Doubt>;
}

/**
 * The allow lists of a perimeter from what was pasted: all of them add up. What they do not let in may still
 * be let in by one that nobody has sent. Null where there is none, or where rows refuse too.
 */
export function listedAllowList(facts: CaseFacts, stop: string): ListedAllowList | null {
  const files = facts.files.filter(
    (f) =>
      f.stop === stop &&
      f.facts.some((x) => x.kind === 'allow-row' || x.kind === 'allow-nothing' || x.kind === 'allow-refuses'),
  );
  if (files.length === 0 || files.some((f) => toldIn(f, 'allow-refuses').length > 0)) return null;
  const subnet = subnetListAt(facts, stop);
  if (subnet === 'open') return null;
  const lists = files.map((f) => ({ records: toldIn(f, 'allow-row').map((n) => n.value) }));
  return {
    settings: {
      kind: 'allow-list',
      lists: lists.map(({ records }, i) => ({
        name: lists.length === 1 ? 'allow list' : `allow list ${i + 1}`,
        rows: records.map(rowOf),
      })),
      ...groupsAt(facts, stop),
      ...(subnet ? { subnetList: subnet } : {}),
    },
    ...(files.every((f) => f.covers.includes('allow-list'))
      ? {}
      : { perhaps: { doubt: 'further-list' } as const }),
    ofRow: new Map(
      lists.flatMap(({ records }, list) =>
        records.flatMap((record, row): (readonly [string, Doubt])[] => {
          const [doubt] = openFields(record);
          return doubt ? [[`${list + 1}/${row + 1}`, doubt]] : [];
        }),
      ),
    ),
  };
}

/** The subnet's stateless list; null: none was shown; `open`: a row of it could not be read. */
function subnetListAt(
  facts: CaseFacts,
  stop: string,
): NonNullable<AllowListSettings['subnetList']> | 'open' | null {
  const rows = factsOf(facts, 'subnet-row').filter((r) => r.stop === stop);
  if (rows.length === 0) return null;
  if (rows.some(({ fact }) => openFields(fact.value).length > 0)) return 'open';
  const listOf = (direction: 'in' | 'out'): SubnetRow[] =>
    rows
      .filter(({ fact }) => fact.value.direction === direction)
      .map(({ fact: { value } }, i) => ({
        number: i + 1,
        action: value.action,
        protocol: saidOr(value.protocol, 'any'),
        ...(value.ports === null ? {} : { ports: value.ports }),
        peers: saidOr(value.peers, null) ?? ['any'],
      }));
  return { in: listOf('in'), out: listOf('out') };
}

function groupsAt(facts: CaseFacts, stop: string): Pick<AllowListSettings, 'groups'> {
  const named = factsOf(facts, 'named-address').filter((n) => n.stop === stop);
  return named.length === 0
    ? {}
    : { groups: Object.fromEntries(named.map(({ fact: { value } }) => [value.name, value.members])) };
}

/** A field that is open narrows nothing here; the doubt that goes with the row does. */
function rowOf({ name, protocol, ports, sources }: AllowRowRecord): AllowRow {
  const text = saidOr(ports, null);
  return {
    ...(name === null ? {} : { name }),
    protocol: saidOr(protocol, 'any'),
    ...(text === null ? {} : { ports: text }),
    sources: saidOr(sources, ['any']),
  };
}
