/** What a column of a table of rules, mappings, zones or names is. */
export type ZoneColumn =
  | 'name'
  | 'action'
  | 'from-zone'
  | 'to-zone'
  | 'sources'
  | 'destinations'
  | 'services'
  | 'protocol'
  | 'ports'
  | 'enabled'
  | 'outside'
  | 'inside'
  | 'direction'
  | 'interface'
  | 'zone'
  | 'address'
  | 'mask'
  | 'idle'
  /** Senders' ports, hours, users: what else may narrow a row. */
  | 'further';

const plain = (text: string): string =>
  text
    .toLowerCase()
    .replaceAll(/[_./-]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/**
 * Headings with one meaning, the first that fits; those without effect on whether a packet passes are
 * numbers, counters, buttons, who made the row, and what is written to a log.
 */
const RULE_HEADINGS: readonly (readonly [ZoneColumn, RegExp])[] = [
  ['from-zone', /^(?:from|source|src|in|incoming|ingress)(?: (?:zone|interface|side|if))$|^zone from$/],
  ['to-zone', /^(?:to|destination|dest|dst|out|outgoing|egress)(?: (?:zone|interface|side|if))$|^zone to$/],
  ['further', /\b(?:source|src) ports?\b|schedule|hours|users?|group$|application|profile|nat\b/],
  ['ports', /^(?:(?:destination|dest|dst|service|to) )?ports?(?: range)?$/],
  ['protocol', /^(?:ip )?prot(?:o|ocol)$/],
  ['services', /^services?(?: ports?)?$/],
  ['sources', /^(?:from|sources?|src|senders?)(?: (?:address(?:es)?|ip|network|host|object))?$/],
  ['destinations', /^(?:to|destinations?|dest|dst)(?: (?:address(?:es)?|ip|network|host|object))?$/],
  ['action', /^(?:action|does|policy|decision|verdict|then)$/],
  ['enabled', /^(?:enabled?|active|state|status|on)$/],
  ['name', /^(?:rule|name|rule name|description|comment|label|rule description)$/],
  [
    'idle',
    new RegExp(
      String.raw`^(?:no|nr|#|id|order|position|pos|priority|hits?|packets|bytes|count(?:er)?s?|` +
        String.raw`log(?:ging)?|created|changed|owner|edit|last (?:hit|used))$`,
    ),
  ],
];

const MAPPING_HEADINGS: readonly (readonly [ZoneColumn, RegExp])[] = [
  ['outside', /^(?:outside|external|public|outer|wan|global)(?: (?:address|ip|side))?$/],
  ['inside', /^(?:inside|internal|private|inner|lan|local|mapped to|to)(?: (?:address|ip|side|host))?$/],
  ['direction', /^(?:direction|ways?|both ways|type|kind|mode)$/],
  ['enabled', /^(?:enabled?|active|state|status|on)$/],
  ['name', /^(?:mapping|name|description|comment|label)$/],
  ['idle', /^(?:no|nr|#|id|order|hits?|packets|bytes|created|changed|owner|edit)$/],
];

const LINE_HEADINGS: readonly (readonly [ZoneColumn, RegExp])[] = [
  ['zone', /^(?:security )?zone$/],
  ['interface', /^(?:interface|line|port|network|name|device)$/],
  ['address', /^(?:(?:ip|ipv4) )?(?:address(?:es)?|ip|network|subnet)(?: mask)?$/],
  ['mask', /^(?:subnet )?mask|netmask|prefix(?: length)?$/],
  ['enabled', /^(?:enabled?|active|state|status|link|on)$/],
  ['idle', /^(?:mac(?: address)?|mtu|speed|type|description|comment|no|#|id|vlan)$/],
];

const NAME_HEADINGS: readonly (readonly [ZoneColumn, RegExp])[] = [
  ['name', /^(?:object|name|object name|address name)$/],
  ['address', /^(?:address(?:es)?|ip|ip address|value|members?|network|content)$/],
  ['idle', /^(?:type|kind|description|comment|no|#|id|used|uses|refs?)$/],
];

export type ZoneTable = 'rules' | 'mappings' | 'lines' | 'names';

const HEADINGS: Readonly<Record<ZoneTable, typeof RULE_HEADINGS>> = {
  rules: RULE_HEADINGS,
  mappings: MAPPING_HEADINGS,
  lines: LINE_HEADINGS,
  names: NAME_HEADINGS,
};

/** Each heading's column in a table of one kind; null where the heading has no known meaning there. */
export const columnsIn = (table: ZoneTable, headings: readonly string[]): (ZoneColumn | null)[] =>
  headings.map((h) => HEADINGS[table].find(([, pattern]) => pattern.test(plain(h)))?.[0] ?? null);
