import type { AskKind } from '../asks/index.ts';

/** Where in the way a fault lies. */
export type FaultPlace =
  'dialled' | 'carrier' | 'gateway' | 'perimeter' | 'host' | 'program' | 'test' | 'anywhere';

export interface FaultRow {
  readonly place: FaultPlace;
  /** What to ask for to see that it was mended; null where nothing that is printed shows it. */
  readonly shownBy: AskKind | null;
  /** What the client may see of it, the commonest first. */
  readonly sees: readonly FaultSign[];
  /**
   * How common it is at a way on which it can be, against the others: 1 seldom, 9 the first that comes to
   * mind. By what technicians of home and rented servers meet: rows that were never made, carriers without an
   * address of one's own and default drops lead; what takes two mistakes, or a device that few have, is
   * seldom.
   */
  readonly weight: number;
}

/** What somebody notices of a fault, in the words of a case's symptom. */
export type FaultSign = 'lost' | 'refused' | 'name-unknown' | 'connects-then-fails' | 'sometimes';

/** Nobody says anything. */
const SILENT: readonly FaultSign[] = ['lost'];
/** The machine itself says no; silence where its filter lies before it, and to UDP. */
const CLOSED: readonly FaultSign[] = ['refused', 'lost'];
/** Silence as a rule; what is there instead, or a router on the way, may refuse. */
const EITHER: readonly FaultSign[] = ['lost', 'refused'];
const NAME: readonly FaultSign[] = ['name-unknown'];
/** It connects, and what comes then fails. */
const BREAKS: readonly FaultSign[] = ['connects-then-fails'];
/** Now and then, or for some. */
const PASSING: readonly FaultSign[] = ['sometimes', 'lost'];

const row = (
  place: FaultPlace,
  shownBy: AskKind | null,
  sees: readonly FaultSign[],
  weight: number,
): FaultRow => ({ place, shownBy, sees, weight });

/**
 * Every id of the catalogue of faults (docs/faults.md says what each of them is; a test holds the two
 * together).
 */
export const FAULTS = {
  'dial-syntax': row('dialled', null, NAME, 2),
  'dial-private': row('dialled', null, SILENT, 4),
  'dial-inside-port': row('dialled', null, EITHER, 1),
  'name-missing': row('dialled', 'name', NAME, 3),
  'name-stale': row('dialled', 'name', EITHER, 5),
  'name-private': row('dialled', 'name', SILENT, 1),
  'name-v6-closed': row('dialled', 'name', PASSING, 1),
  'name-srv-wrong': row('dialled', 'name', EITHER, 1),
  'name-cached': row('dialled', 'name', SILENT, 1),
  'client-egress': row('dialled', 'dial', EITHER, 1),
  'carrier-shared': row('carrier', 'status', SILENT, 8),
  'carrier-v6-only': row('carrier', 'status', SILENT, 5),
  'carrier-port-block': row('carrier', 'status', SILENT, 1),
  'carrier-shield': row('carrier', 'status', PASSING, 1),
  'carrier-portal': row('carrier', 'forwards', SILENT, 2),
  'wan-changed': row('carrier', 'status', SILENT, 5),
  'wan-down': row('carrier', 'status', SILENT, 1),
  'wan-other-line': row('carrier', 'status', SILENT, 1),
  'seen-is-tunnel': row('carrier', 'routes', SILENT, 1),
  'fwd-none': row('gateway', 'forwards', EITHER, 9),
  'fwd-disabled': row('gateway', 'forwards', EITHER, 4),
  'fwd-not-applied': row('gateway', 'forwards', EITHER, 1),
  'fwd-needs-restart': row('gateway', 'forwards', EITHER, 1),
  'fwd-protocol': row('gateway', 'forwards', EITHER, 5),
  'fwd-outside-port': row('gateway', 'forwards', EITHER, 3),
  'fwd-inside-port': row('gateway', 'forwards', EITHER, 4),
  'fwd-range': row('gateway', 'forwards', EITHER, 2),
  'fwd-target-stale': row('gateway', 'forwards', EITHER, 8),
  'fwd-target-typo': row('gateway', 'forwards', EITHER, 3),
  'fwd-target-device': row('gateway', 'forwards', EITHER, 2),
  'fwd-source': row('gateway', 'forwards', SILENT, 2),
  'fwd-line': row('gateway', 'forwards', SILENT, 1),
  'fwd-wan-literal': row('gateway', 'forwards', SILENT, 1),
  'fwd-clash': row('gateway', 'forwards', EITHER, 1),
  'fwd-shadowed': row('gateway', 'forwards', EITHER, 1),
  'gateway-port': row('gateway', 'forwards', BREAKS, 1),
  'filter-missing': row('gateway', 'rules', SILENT, 5),
  'filter-order': row('gateway', 'rules', SILENT, 3),
  'filter-side': row('gateway', 'rules', SILENT, 1),
  'filter-zone': row('gateway', 'rules', SILENT, 3),
  'translate-missing': row('gateway', 'rules', EITHER, 3),
  'static-inside-out': row('gateway', 'forwards', SILENT, 1),
  'outer-missing': row('gateway', 'forwards', SILENT, 5),
  'inner-missing': row('gateway', 'forwards', SILENT, 3),
  'hairpin-missing': row('gateway', 'rules', SILENT, 4),
  'forwarding-off': row('gateway', 'routes', SILENT, 1),
  isolation: row('gateway', 'routes', SILENT, 1),
  'link-down': row('gateway', 'addresses', EITHER, 1),
  'auto-lapsed': row('gateway', 'forwards', SILENT, 1),
  'session-stale': row('gateway', 'sessions', PASSING, 1),
  'session-full': row('gateway', 'sessions', PASSING, 1),
  'edge-none': row('perimeter', 'allow-list', SILENT, 9),
  'edge-port': row('perimeter', 'allow-list', SILENT, 4),
  'edge-protocol': row('perimeter', 'allow-list', SILENT, 3),
  'edge-source': row('perimeter', 'allow-list', SILENT, 6),
  'edge-group-only': row('perimeter', 'allow-list', SILENT, 1),
  'edge-return': row('perimeter', 'allow-list', SILENT, 1),
  'edge-no-address': row('perimeter', 'allow-list', SILENT, 1),
  'host-drop': row('host', 'rules', SILENT, 9),
  'host-profile': row('host', 'rules', SILENT, 5),
  'host-scope': row('host', 'rules', SILENT, 4),
  'host-block-wins': row('host', 'rules', SILENT, 3),
  'host-program': row('host', 'rules', SILENT, 3),
  'host-value': row('host', 'rules', SILENT, 3),
  'host-no-gateway': row('host', 'routes', SILENT, 2),
  'host-wrong-gateway': row('host', 'routes', SILENT, 2),
  'host-prefix': row('host', 'routes', SILENT, 1),
  'host-output-deny': row('host', 'rules', SILENT, 1),
  'host-asymmetric': row('host', 'routes', SILENT, 1),
  'host-rpfilter': row('host', 'routes', SILENT, 1),
  'host-moved': row('host', 'addresses', PASSING, 3),
  'host-duplicate': row('host', 'addresses', PASSING, 1),
  'host-off': row('host', null, EITHER, 3),
  'container-unpublished': row('host', 'sockets', CLOSED, 3),
  'host-suite': row('host', 'drop-log', SILENT, 1),
  'listen-none': row('program', 'sockets', CLOSED, 7),
  'listen-loopback': row('program', 'sockets', CLOSED, 5),
  'listen-address': row('program', 'sockets', CLOSED, 3),
  'listen-family': row('program', 'sockets', CLOSED, 2),
  'listen-port': row('program', 'sockets', CLOSED, 4),
  'listen-protocol': row('program', 'sockets', CLOSED, 2),
  'listen-taken': row('program', 'sockets', CLOSED, 1),
  'listen-acl': row('program', 'configuration', BREAKS, 4),
  'listen-full': row('program', 'configuration', BREAKS, 1),
  'listen-tls': row('program', 'configuration', BREAKS, 1),
  'announces-inside': row('program', 'configuration', BREAKS, 3),
  'test-from-inside': row('test', null, SILENT, 4),
  'test-while-down': row('test', null, CLOSED, 3),
  'test-wrong-protocol': row('test', null, CLOSED, 1),
  'test-udp-silence': row('test', null, SILENT, 3),
  'test-clock': row('test', null, SILENT, 1),
  'test-ping': row('test', null, SILENT, 1),
  'host-ban': row('anywhere', 'rules', EITHER, 1),
  'path-mtu': row('anywhere', 'routes', BREAKS, 1),
  'port-excluded': row('anywhere', 'configuration', CLOSED, 1),
  'front-route': row('anywhere', 'configuration', BREAKS, 1),
  'time-limited': row('anywhere', 'rules', PASSING, 1),
  'family-moved': row('anywhere', 'rules', SILENT, 1),
} as const satisfies Record<string, FaultRow>;

export type FaultId = keyof typeof FAULTS;

export const FAULT_IDS = Object.keys(FAULTS) as readonly FaultId[];

/** Faults of the server that a machine beside it does not feel. */
export const NEAR_IS_FINE: ReadonlySet<FaultId> = new Set([
  'host-scope',
  'host-no-gateway',
  'host-wrong-gateway',
  'host-prefix',
  'host-asymmetric',
  'host-rpfilter',
  'host-moved',
]);
