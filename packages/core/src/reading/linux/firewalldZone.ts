import type { FrontEndAction, FrontEndRow, FrontEndZone } from '../../devices/index.ts';
import type { Plain } from '../../facts/index.ts';

/** `ACCEPT` lets the rest in, `DROP` says nothing; `default` refuses it like `%%REJECT%%`. */
export const TARGET: Readonly<Record<string, FrontEndAction>> = {
  ACCEPT: 'allow',
  DROP: 'deny',
  '%%REJECT%%': 'reject',
  REJECT: 'reject',
  default: 'reject',
};

export const VERB: Readonly<Record<string, FrontEndAction>> = {
  drop: 'deny',
  reject: 'reject',
  accept: 'allow',
};

export const FAMILY: Readonly<Record<string, 4 | 6>> = { ipv4: 4, ipv6: 6 };

export const wordsIn = (zone: Zone, key: string): string[] => {
  const value = zone[key];
  return Array.isArray(value) ? value.map(String) : [];
};

export const transport = (word: string | undefined): 'tcp' | 'udp' | 'any' =>
  word === 'tcp' || word === 'udp' ? word : 'any';

/** A rich rule as far as it is understood; whatever else it says leaves open whether it holds. */
export function richRow(text: string): Partial<FrontEndRow> {
  const value = (pattern: RegExp): string | null => pattern.exec(text)?.[1] ?? null;
  const protocol = value(/\bprotocol="(tcp|udp)"/);
  const service = value(/\bservice name="([\w-]+)"/);
  const spec = service === null ? undefined : SERVICES[service];
  const [port, ofService] = spec?.length === 1 ? (spec[0] ?? '').split('/') : [];
  const family = value(/\bfamily="(ipv4|ipv6)"/);
  const verb = value(/\b(accept|reject|drop)\b(?:\s+type="[\w-]+")?(?:\s+limit .*)?$/);
  const from = value(/\bsource address="([^"]+)"/);
  const known = text
    .replace(/^rule\b/, '')
    .replace(/\b(?:family|protocol|priority)="[^"]*"/g, '')
    .replace(/\bsource address="[^"]*"|\bdestination address="[^"]*"/g, '')
    .replace(/\bport port="[^"]*"|\bport="[^"]*"|\bservice name="[^"]*"/g, '')
    .replace(/\blog\b(?:\s+(?:prefix|level)="[^"]*")*|\baudit\b/g, '')
    .replace(/\b(?:accept|drop|reject)\b(?:\s+type="[\w-]+")?$/, '')
    .trim();
  const isNegated = /\bNOT\b|priority="/i.test(text);
  const isOpen = known !== '' || isNegated || (service !== null && port === undefined) || verb === null;
  return {
    action: VERB[verb ?? ''] ?? 'allow',
    family: FAMILY[family ?? ''] ?? null,
    protocol: protocol === 'tcp' || protocol === 'udp' ? protocol : transport(ofService),
    ports: value(/\bport port="([\d-]+)"/) ?? port ?? null,
    from,
    to: value(/\bdestination address="([^"]+)"/),
    open: isOpen ? text : null,
  };
}

/** Where a port is sent on to, the machine's own rows no longer decide. */
export function forwardRow(spec: string, blank: FrontEndRow): FrontEndRow {
  const port = /\bport=([\d-]+)/.exec(spec)?.[1] ?? null;
  const protocol = /\bproto=(tcp|udp)\b/.exec(spec)?.[1];
  return {
    ...blank,
    text: `forward-port ${spec}`,
    ports: port,
    protocol: protocol === 'tcp' || protocol === 'udp' ? protocol : 'any',
  };
}

/** Rich rules that refuse come before those that let in (firewalld.richlanguage(5)). */
export function frontEndZone(name: string, { zone, line }: Listed): FrontEndZone {
  const blank: FrontEndRow = {
    text: '',
    line,
    direction: 'in',
    action: 'allow',
    family: null,
    protocol: 'any',
    ports: null,
    senderPorts: null,
    to: null,
    from: null,
    device: null,
    open: null,
  };
  const rich = wordsIn(zone, 'richRules').map((text) => ({ ...blank, ...richRow(text), text }));
  const ported = (text: string, spec: string): FrontEndRow => {
    const [ports = '', protocol] = spec.split('/');
    const isKnown = protocol === 'tcp' || protocol === 'udp';
    return { ...blank, text, ports, protocol: isKnown ? protocol : 'any', open: isKnown ? null : spec };
  };
  const services = wordsIn(zone, 'services').flatMap((service): FrontEndRow[] => {
    const specs = SERVICES[service];
    return specs
      ? specs.map((spec) => ported(`service ${service}`, spec))
      : [{ ...blank, text: `service ${service}`, open: service }];
  });
  const target = zone['target'];
  return {
    name,
    devices: wordsIn(zone, 'interfaces'),
    senders: wordsIn(zone, 'sources'),
    rows: [
      ...rich.filter((r) => r.action !== 'allow'),
      ...rich.filter((r) => r.action === 'allow'),
      ...services,
      ...wordsIn(zone, 'ports').map((spec) => ported(`port ${spec}`, spec)),
      ...wordsIn(zone, 'sourcePorts').map((spec) => {
        const row = ported(`source port ${spec}`, spec);
        return { ...row, ports: null, senderPorts: row.ports };
      }),
      ...wordsIn(zone, 'protocols').flatMap((p): FrontEndRow[] =>
        p === 'tcp' || p === 'udp' ? [{ ...blank, text: `protocol ${p}`, protocol: p }] : [],
      ),
    ],
    sentOn: wordsIn(zone, 'forwardPorts').map((spec) => forwardRow(spec, blank)),
    rest: typeof target === 'string' ? (TARGET[target] ?? null) : null,
    outgoing: 'allow',
  };
}

export interface Zone {
  [key: string]: Plain;
}

export interface Listed {
  readonly zone: Zone;
  readonly line: number;
  readonly active: boolean;
}

/** Ports of the usual services, as firewalld's own files have them (`/usr/lib/firewalld/services`). */

export const SERVICES: Readonly<Record<string, readonly string[]>> = {
  ssh: ['22/tcp'],
  http: ['80/tcp'],
  https: ['443/tcp'],
  http3: ['443/udp'],
  ftp: ['21/tcp'],
  telnet: ['23/tcp'],
  smtp: ['25/tcp'],
  smtps: ['465/tcp'],
  'smtp-submission': ['587/tcp'],
  dns: ['53/tcp', '53/udp'],
  dhcp: ['67/udp'],
  'dhcpv6-client': ['546/udp'],
  ntp: ['123/udp'],
  imap: ['143/tcp'],
  imaps: ['993/tcp'],
  pop3s: ['995/tcp'],
  ldap: ['389/tcp'],
  mdns: ['5353/udp'],
  ipp: ['631/tcp', '631/udp'],
  'ipp-client': ['631/udp'],
  nfs: ['2049/tcp'],
  samba: ['137/udp', '138/udp', '139/tcp', '445/tcp'],
  'samba-client': ['137/udp', '138/udp'],
  postgresql: ['5432/tcp'],
  mysql: ['3306/tcp'],
  redis: ['6379/tcp'],
  mongodb: ['27017/tcp'],
  cockpit: ['9090/tcp'],
  rdp: ['3389/tcp'],
  'vnc-server': ['5900-5903/tcp'],
  openvpn: ['1194/udp'],
  wireguard: ['51820/udp'],
  mqtt: ['1883/tcp'],
  'mqtt-tls': ['8883/tcp'],
};
