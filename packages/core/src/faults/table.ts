import type { AskKind } from '../asks/index.ts';

/** Where in the way a fault lies. */
export type FaultPlace =
  'dialled' | 'carrier' | 'gateway' | 'perimeter' | 'host' | 'program' | 'test' | 'anywhere';

export interface FaultRow {
  readonly place: FaultPlace;
  /** What to ask for to see that it was mended; null where nothing that is printed shows it. */
  readonly shownBy: AskKind | null;
}

const row = (place: FaultPlace, shownBy: AskKind | null): FaultRow => ({ place, shownBy });

/**
 * Every id of the catalogue of faults (docs/faults.md says what each of them is; a test holds the two
 * together).
 */
export const FAULTS = {
  'dial-syntax': row('dialled', null),
  'dial-private': row('dialled', null),
  'dial-inside-port': row('dialled', null),
  'name-missing': row('dialled', 'name'),
  'name-stale': row('dialled', 'name'),
  'name-private': row('dialled', 'name'),
  'name-v6-closed': row('dialled', 'name'),
  'name-srv-wrong': row('dialled', 'name'),
  'name-cached': row('dialled', 'name'),
  'client-egress': row('dialled', 'dial'),
  'carrier-shared': row('carrier', 'status'),
  'carrier-v6-only': row('carrier', 'status'),
  'carrier-port-block': row('carrier', 'status'),
  'carrier-shield': row('carrier', 'status'),
  'carrier-portal': row('carrier', 'forwards'),
  'wan-changed': row('carrier', 'status'),
  'wan-down': row('carrier', 'status'),
  'wan-other-line': row('carrier', 'status'),
  'seen-is-tunnel': row('carrier', 'routes'),
  'fwd-none': row('gateway', 'forwards'),
  'fwd-disabled': row('gateway', 'forwards'),
  'fwd-not-applied': row('gateway', 'forwards'),
  'fwd-needs-restart': row('gateway', 'forwards'),
  'fwd-protocol': row('gateway', 'forwards'),
  'fwd-outside-port': row('gateway', 'forwards'),
  'fwd-inside-port': row('gateway', 'forwards'),
  'fwd-range': row('gateway', 'forwards'),
  'fwd-target-stale': row('gateway', 'forwards'),
  'fwd-target-typo': row('gateway', 'forwards'),
  'fwd-target-device': row('gateway', 'forwards'),
  'fwd-source': row('gateway', 'forwards'),
  'fwd-line': row('gateway', 'forwards'),
  'fwd-wan-literal': row('gateway', 'forwards'),
  'fwd-clash': row('gateway', 'forwards'),
  'fwd-shadowed': row('gateway', 'forwards'),
  'gateway-port': row('gateway', 'forwards'),
  'filter-missing': row('gateway', 'rules'),
  'filter-order': row('gateway', 'rules'),
  'filter-side': row('gateway', 'rules'),
  'filter-zone': row('gateway', 'rules'),
  'translate-missing': row('gateway', 'rules'),
  'static-inside-out': row('gateway', 'forwards'),
  'outer-missing': row('gateway', 'forwards'),
  'inner-missing': row('gateway', 'forwards'),
  'hairpin-missing': row('gateway', 'rules'),
  'forwarding-off': row('gateway', 'routes'),
  isolation: row('gateway', 'routes'),
  'link-down': row('gateway', 'addresses'),
  'auto-lapsed': row('gateway', 'forwards'),
  'session-stale': row('gateway', 'sessions'),
  'session-full': row('gateway', 'sessions'),
  'edge-none': row('perimeter', 'allow-list'),
  'edge-port': row('perimeter', 'allow-list'),
  'edge-protocol': row('perimeter', 'allow-list'),
  'edge-source': row('perimeter', 'allow-list'),
  'edge-group-only': row('perimeter', 'allow-list'),
  'edge-return': row('perimeter', 'allow-list'),
  'edge-no-address': row('perimeter', 'allow-list'),
  'host-drop': row('host', 'rules'),
  'host-profile': row('host', 'rules'),
  'host-scope': row('host', 'rules'),
  'host-block-wins': row('host', 'rules'),
  'host-program': row('host', 'rules'),
  'host-value': row('host', 'rules'),
  'host-no-gateway': row('host', 'routes'),
  'host-wrong-gateway': row('host', 'routes'),
  'host-prefix': row('host', 'routes'),
  'host-output-deny': row('host', 'rules'),
  'host-asymmetric': row('host', 'routes'),
  'host-rpfilter': row('host', 'routes'),
  'host-moved': row('host', 'addresses'),
  'host-duplicate': row('host', 'addresses'),
  'host-off': row('host', null),
  'container-unpublished': row('host', 'sockets'),
  'host-suite': row('host', 'drop-log'),
  'listen-none': row('program', 'sockets'),
  'listen-loopback': row('program', 'sockets'),
  'listen-address': row('program', 'sockets'),
  'listen-family': row('program', 'sockets'),
  'listen-port': row('program', 'sockets'),
  'listen-protocol': row('program', 'sockets'),
  'listen-taken': row('program', 'sockets'),
  'listen-acl': row('program', 'configuration'),
  'listen-full': row('program', 'configuration'),
  'listen-tls': row('program', 'configuration'),
  'announces-inside': row('program', 'configuration'),
  'test-from-inside': row('test', null),
  'test-while-down': row('test', null),
  'test-wrong-protocol': row('test', null),
  'test-udp-silence': row('test', null),
  'test-clock': row('test', null),
  'test-ping': row('test', null),
  'host-ban': row('anywhere', 'rules'),
  'path-mtu': row('anywhere', 'routes'),
  'port-excluded': row('anywhere', 'configuration'),
  'front-route': row('anywhere', 'configuration'),
  'time-limited': row('anywhere', 'rules'),
  'family-moved': row('anywhere', 'rules'),
} as const satisfies Record<string, FaultRow>;

export type FaultId = keyof typeof FAULTS;

export const FAULT_IDS = Object.keys(FAULTS) as readonly FaultId[];
