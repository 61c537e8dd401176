import type { Span } from '../place/index.ts';
import type { FrontEndListing } from '../devices/index.ts';
import type { Plain } from './plain.ts';
import type {
  AddressMappingRecord,
  FilterOrderRecord,
  NamedAddressRecord,
  ZoneLineRecord,
  ZoneRuleRecord,
} from './zone.ts';
import type {
  AllowRowRecord,
  AnnouncedRecord,
  ConversationRecord,
  HostProfileRecord,
  HostRowRecord,
  ListenRecord,
  MappingRecord,
  NoticeRecord,
  OutsideTestRecord,
  SessionRecord,
  SubnetRowRecord,
  TryRecord,
} from './records.ts';

/**
 * What people and programs say that something consumes, by kind: the value that goes with it. A kind that is
 * added here has to be given a group (`GROUPS`), words (`words/facts.ts`) and a place (`ledger/assign.ts`)
 * before it compiles.
 */
export interface ToldValues {
  'host-row': HostRowRecord;
  'host-profile': HostProfileRecord;
  /** The profile that holds on an interface. */
  'active-profile': { readonly profile: string; readonly interface: string | null };
  'bsd-rule': string;
  'bsd-rules-listed': true;
  'bsd-enabled': boolean;
  /** The packet filter of a Linux machine, as the program that people set it with lists it. */
  'front-end': FrontEndListing;
  /** Whether a firewall for programs is on. */
  'application-firewall': boolean;
  /** Whether it lets in nothing but what the system itself needs. */
  'application-blocks-all': boolean;
  /** What it does with one program: the path of its file or bundle. */
  application: { readonly app: string; readonly allow: boolean };
  'allow-row': AllowRowRecord;
  'subnet-row': SubnetRowRecord;
  'allow-nothing': true;
  'allow-refuses': true;
  /** Cells of a row by their heading. */
  'filter-row': { readonly [heading: string]: string };
  'zone-rule': ZoneRuleRecord;
  'address-mapping': AddressMappingRecord;
  'zone-line': ZoneLineRecord;
  'named-address': NamedAddressRecord;
  'filter-order': FilterOrderRecord;
  mapping: MappingRecord;
  /** What came of asking for a mapping. */
  'mapping-reply': MappingRecord;
  'external-address': string;
  session: SessionRecord;
  try: TryRecord;
  conversation: ConversationRecord;
  outcome: string;
  /** The sender that a program's refusal names. */
  'refused-client': string;
  /** Addresses that a trace of the path went through; null where nobody answered. */
  hops: readonly (string | null)[];
  'outside-test': OutsideTestRecord;
  /** What a carrier says about the line. */
  'carrier-notice': NoticeRecord;
  /** The table is the one that a carrier keeps in its portal. */
  'portal-table': true;
  'program-port': number;
  /** Addresses to which a program binds. */
  'program-bind': string | readonly string[];
  listen: ListenRecord;
  /** A line that says who may use a program, as its file or its own listing has it. */
  'program-access': Plain;
  'program-setting': { readonly key: string; readonly value: string | number };
  announced: AnnouncedRecord;
  /** A port of a container that the machine does not publish. */
  'unpublished-port': { readonly container: string; readonly port: number; readonly protocol: string };
  /** Ports that the system keeps from programs. */
  'kept-back': { readonly protocol: string; readonly first: number; readonly last: number };
  /** Ports of the connections that follow the first one, as the program is set. */
  'data-ports': { readonly first: number; readonly last: number };
}

export type ToldKind = keyof ToldValues;

export type ToldFactOf<K extends ToldKind> = {
  readonly kind: K;
  readonly at: Span;
  /** Under which name `read --json` prints it, as the program's own word where there is one. */
  readonly group: string;
  readonly value: ToldValues[K];
  /** For people. */
  readonly text: string;
};

export type ToldFact = { [K in ToldKind]: ToldFactOf<K> }[ToldKind];

/** The group of each kind in `read --json`, and whether a text says it once. */
export const GROUPS = {
  'host-row': { group: 'hostRows', once: false },
  'host-profile': { group: 'hostProfiles', once: false },
  'active-profile': { group: 'activeProfile', once: true },
  'bsd-rule': { group: 'bsdRules', once: false },
  'bsd-rules-listed': { group: 'bsdRulesListed', once: true },
  'bsd-enabled': { group: 'bsdEnabled', once: true },
  'front-end': { group: 'frontEnd', once: true },
  'application-firewall': { group: 'applicationFirewall', once: true },
  'application-blocks-all': { group: 'blocksAll', once: true },
  application: { group: 'applications', once: false },
  'allow-row': { group: 'allowRows', once: false },
  'subnet-row': { group: 'subnetRows', once: false },
  'allow-nothing': { group: 'allowNothing', once: true },
  'allow-refuses': { group: 'allowRefuses', once: true },
  'filter-row': { group: 'filterRows', once: false },
  'zone-rule': { group: 'zoneRules', once: false },
  'address-mapping': { group: 'addressMappings', once: false },
  'zone-line': { group: 'zoneLines', once: false },
  'named-address': { group: 'namedAddresses', once: false },
  'filter-order': { group: 'filterOrder', once: false },
  mapping: { group: 'mappings', once: false },
  'mapping-reply': { group: 'mapping', once: true },
  'external-address': { group: 'externalAddress', once: true },
  session: { group: 'flows', once: false },
  try: { group: 'tries', once: false },
  conversation: { group: 'conversations', once: false },
  outcome: { group: 'outcome', once: true },
  'refused-client': { group: 'client', once: true },
  hops: { group: 'hops', once: true },
  'outside-test': { group: 'outsideTest', once: false },
  'carrier-notice': { group: 'notices', once: false },
  'portal-table': { group: 'portalTable', once: true },
  'program-port': { group: 'port', once: true },
  'program-bind': { group: 'bind', once: true },
  listen: { group: 'listen', once: false },
  'program-access': { group: 'access', once: false },
  'program-setting': { group: 'configured', once: false },
  announced: { group: 'announced', once: false },
  'unpublished-port': { group: 'unpublished', once: false },
  'kept-back': { group: 'keptBack', once: false },
  'data-ports': { group: 'dataPorts', once: true },
} as const satisfies Record<ToldKind, { readonly group: string; readonly once: boolean }>;

export const isTold = (fact: { readonly kind: string }): fact is ToldFact => Object.hasOwn(GROUPS, fact.kind);
