import { pick, withLast, type Lots } from './lots.ts';
/** A small network as a generator of cases holds it: all that an owner could be asked about. */

/**
 * Where the server stands: behind a home router, behind one that stands behind the carrier's box, behind a
 * firewall with zones, rented behind a cloud's list, or behind a shared address, with a relay that leases it
 * a port.
 */
export type Surroundings = 'home' | 'doubled' | 'office' | 'rented' | 'relayed';
/** The server's system, which decides what its listings look like. */
export type System = 'windows' | 'nft' | 'iptables' | 'front-end' | 'mac';
export type Protocol = 'tcp' | 'udp';

/** A row that leads from outside to a machine inside. */
export interface Row {
  name: string;
  protocol: Protocol;
  port: number;
  to: string;
  toPort: number;
  enabled: boolean;
  /** Senders; null: everyone. */
  source: string | null;
}

/** A row of a firewall or list, for or against a port. */
export interface FilterRow {
  name: string;
  action: 'allow' | 'deny';
  protocol: Protocol;
  port: number;
  source: string | null;
  /** Zones of a firewall between networks. */
  toZone?: string;
  /** Profiles and program of a Windows row. */
  profiles?: string;
  program?: string;
}

export interface Listener {
  protocol: Protocol;
  /** `*` for every IPv4 address. */
  at: string;
  port: number;
  program: string;
}

/** A port of a relay, and where it leads through its tunnel. */
export interface Lease {
  protocol: Protocol;
  port: number;
  to: string;
  toPort: number;
  until?: string;
}

/** Everything is changed in place by a fault; what it was before is the healthy network. */
export interface Network {
  surroundings: Surroundings;
  system: System;
  service: { name: string; protocol: Protocol; port: number; program: string };
  client: string;
  /** Another network that the client is not in, for rows that let in the wrong one. */
  stranger: string;
  name: string | null;
  /** The address that the name leads to, or that is dialled. */
  answer: string;
  dialledPort: number;
  /** What the router's page, or the cloud's page of the machine, shows as its outside address. */
  wan: string;
  /** The outside address as the rest of the world sees it. */
  seen: string;
  router: string;
  rows: Row[];
  /** The carrier's box before the router, on whose inside network the router's outside address lies. */
  outer: { wan: string; readonly router: string; rows: Row[] } | null;
  /** An address of the outside that is the server's own, in offices. */
  mapping: { name: string; outside: string; inside: string; enabled: boolean };
  zoneRules: FilterRow[];
  allow: FilterRow[];
  server: string;
  /** Addresses of other machines, by their names. */
  others: Record<string, string>;
  /** The server's way out; null: none. */
  gateway: string | null;
  listeners: Listener[];
  rules: FilterRow[];
  /** The server's end of the relay's tunnel, and what the relay leases; null: there is no relay. */
  relay: { readonly address: string; readonly tunnel: string; readonly end: string; leases: Lease[] } | null;
}

const SERVICES = [
  { name: 'Gullcast', protocol: 'tcp', port: 8214, program: 'gullcast' },
  { name: 'Moorhen', protocol: 'udp', port: 8211, program: 'moorhen' },
  { name: 'Lantern Reef', protocol: 'udp', port: 28410, program: 'lanternreef' },
  { name: 'Tide Book', protocol: 'tcp', port: 5432, program: 'postgres' },
  { name: 'Buoy Map', protocol: 'tcp', port: 9443, program: 'buoymap' },
] as const;

const SYSTEMS: Readonly<Record<Surroundings, readonly System[]>> = {
  home: ['windows', 'windows', 'nft', 'front-end', 'mac', 'iptables'],
  doubled: ['windows', 'nft', 'front-end', 'mac'],
  office: ['windows', 'nft', 'iptables'],
  rented: ['nft', 'front-end', 'iptables', 'windows'],
  relayed: ['nft', 'iptables'],
};

/** The router's address behind another one. */
const INNER = '192.168.178.20';

/** A network on which the service works. */
export function workingNetwork(surroundings: Surroundings, lots: Lots): Network {
  const service = { ...pick(SERVICES, lots) };
  const system = pick(SYSTEMS[surroundings], lots);
  const net = pick(['192.168.50', '192.168.1', '10.20.30', '172.24.118'], lots);
  const wan = pick(['203.0.113.50', '198.51.100.77', '192.0.2.98'], lots);
  const elsewhere = wan.startsWith('198.51.100') ? '203.0.113' : '198.51.100';
  const client = `${elsewhere}.${20 + Math.floor(lots() * 60)}`;
  const server = surroundings === 'rented' ? wan : `${net}.${20 + Math.floor(lots() * 30)}`;
  const { protocol, port } = service;
  const mapped = withLast(wan, (last) => last + 2);
  const isOffice = surroundings === 'office';
  const relay = surroundings === 'relayed' ? relayOf(service) : null;
  const outer = surroundings === 'doubled' ? outerOf(service, wan) : null;
  const dialled = relay?.address ?? (isOffice ? mapped : wan);
  const open = { action: 'allow', protocol, port, source: null } as const;
  const other = port === 8214 ? 8215 : 8214;
  const routerAddress = (own: string): string => {
    // The carrier shares the outside address.
    if (relay) return '100.72.14.9';
    return outer ? INNER : own;
  };
  return {
    surroundings,
    system,
    service,
    client,
    stranger: '192.0.2.176/28',
    name: lots() < 0.5 ? 'play.reef.example' : null,
    answer: dialled,
    dialledPort: relay?.leases[1]?.port ?? port,
    wan: routerAddress(wan),
    seen: relay ? wan : dialled,
    router: surroundings === 'rented' ? withLast(wan, () => 1) : `${net}.1`,
    outer,
    rows:
      surroundings === 'home' || outer
        ? [
            {
              name: 'camera',
              protocol: 'tcp',
              port: 4455,
              to: `${net}.61`,
              toPort: 4455,
              enabled: true,
              source: null,
            },
            { name: service.name, protocol, port, to: server, toPort: port, enabled: true, source: null },
          ]
        : [],
    mapping: { name: 'SRV', outside: mapped, inside: server, enabled: true },
    zoneRules: isOffice
      ? [
          { name: 'mail', action: 'allow', protocol: 'tcp', port: 25, source: null, toZone: 'dmz' },
          { name: service.name, ...open, toZone: 'inside' },
        ]
      : [],
    allow:
      surroundings === 'rented'
        ? [
            { name: 'admin', action: 'allow', protocol: 'tcp', port: 22, source: '192.0.2.7/32' },
            { name: service.name, ...open },
          ]
        : [],
    server,
    others: { camera: `${net}.61`, printer: `${net}.62` },
    gateway: surroundings === 'rented' ? withLast(wan, () => 1) : `${net}.1`,
    listeners: [
      { protocol, at: '*', port, program: service.program },
      { protocol: 'tcp', at: '127.0.0.1', port: 6379, program: 'cache' },
    ],
    rules:
      system === 'mac'
        ? []
        : [
            {
              name: 'Other',
              action: 'allow',
              protocol: 'tcp',
              port: other,
              source: null,
              profiles: 'Domain,Private,Public',
            },
            {
              name: service.name,
              ...open,
              profiles: 'Domain,Private,Public',
              program: `C:\\Games\\${service.program}.exe`,
            },
          ],
    relay,
  };
}

/** The carrier's box with a row that leads to the router behind it. */
function outerOf({ name, protocol, port }: Network['service'], wan: string): NonNullable<Network['outer']> {
  const row = { enabled: true, source: null } as const;
  return {
    wan,
    router: '192.168.178.1',
    rows: [
      { ...row, name: 'phone', protocol: 'udp', port: 5060, to: '192.168.178.30', toPort: 5060 },
      { ...row, name, protocol, port, to: INNER, toPort: port },
    ],
  };
}

/** A relay with a lease for the service, and one of another customer. */
function relayOf({ protocol, port }: { protocol: Protocol; port: number }): Network['relay'] {
  const end = '10.66.0.2';
  return {
    address: '192.0.2.140',
    tunnel: '10.66.0.1/24',
    end,
    leases: [
      { protocol: 'tcp', port: 25_565, to: '10.66.0.7', toPort: 25_565 },
      { protocol, port: 10_000 + port, to: end, toPort: port },
    ],
  };
}
