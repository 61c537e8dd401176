import { nth } from '../../place/index.ts';
import type { FrontEndAction, FrontEndListing, FrontEndRow, FrontEndZone } from '../../devices/index.ts';
import type { Fact, Plain, Problem } from '../../facts/index.ts';
import { linesOf } from '../text.ts';
import { once, problemAt, told } from '../noted.ts';
import type { Reader } from '../reader.ts';

interface Zone {
  [key: string]: Plain;
}
interface Listed {
  readonly zone: Zone;
  readonly line: number;
  readonly active: boolean;
}

const LISTS: Readonly<Record<string, string>> = {
  interfaces: 'interfaces',
  sources: 'sources',
  services: 'services',
  ports: 'ports',
  protocols: 'protocols',
  'source-ports': 'sourcePorts',
  'icmp-blocks': 'icmpBlocks',
};
/**
 * Lines of a zone without effect on a new connection to the machine itself: descriptions, and which of ICMP's
 * messages are answered.
 */
const WITHOUT_EFFECT: ReadonlySet<string> = new Set(['summary', 'description', 'icmp-block-inversion']);

/** What `firewall-cmd` prints where the daemon does not run. */
const OFF = /^(?:FirewallD is )?not running$/im;

/** `firewall-cmd --list-all`, `--list-all-zones`, `--get-active-zones` and `--state` (firewalld.zone(5)). */
export const firewalld: Reader = {
  format: 'firewalld',
  title: 'zones of the host firewall (firewalld)',
  recognise: (text) => {
    if (/^[ \t]+(?:icmp-block-inversion: |rich rules:)/m.test(text)) return 0.96;
    if (OFF.test(text.trim()) && text.trim().split('\n').length === 1) return 0.9;
    return /^[\w-]+(?: \((?:active|default).*\))?\n\s+(?:interfaces|sources): /m.test(text.slice(0, 3000))
      ? 0.92
      : 0;
  },
  read(text) {
    if (OFF.test(text.trim())) {
      const off: FrontEndListing = { program: 'firewalld', on: false, zones: [] };
      const facts = [told('front-end', { line: 1 }, off, 'firewalld is off')];
      return { format: 'firewalld', facts, problems: [], covers: ['front-end'] };
    }
    const { zones, problems } = zonesIn(text);
    const told_ = [...zones].filter(
      ([, z]) =>
        zones.size === 1 || Object.keys(compact(z.zone)).some((k) => k === 'interfaces' || k === 'sources'),
    );
    const facts: Fact[] = [];
    if (zones.size === 1) {
      const [name, only] = nth([...zones], 0);
      facts.push(once('zone', { line: only.line }, name));
      for (const [key, value] of Object.entries(compact(only.zone)))
        facts.push(
          once(key, { line: only.line }, value, Array.isArray(value) ? value.join(', ') : String(value)),
        );
    }
    const [first] = told_;
    if (first) {
      facts.push(
        once(
          'zones',
          { line: first[1].line },
          Object.fromEntries(told_.map(([name, z]) => [name, compact(z.zone)])),
          told_.map(([name]) => name).join(', '),
        ),
      );
      const active = told_.filter(([, z]) => z.active).map(([name, z]) => frontEndZone(name, z));
      const names = active.map((z) => z.name).join(', ');
      if (active.length > 0)
        facts.push(
          told(
            'front-end',
            { line: first[1].line },
            { program: 'firewalld', on: true, zones: active },
            `firewalld is on: ${names}`,
          ),
        );
    }
    const isTold = facts.some((f) => f.kind === 'front-end');
    return { format: 'firewalld', facts, problems, covers: isTold ? ['front-end'] : [] };
  },
};

const compact = (z: Zone): Zone =>
  Object.fromEntries(Object.entries(z).filter(([, v]) => !(Array.isArray(v) && v.length === 0)));

function zonesIn(text: string): { readonly zones: Map<string, Listed>; readonly problems: Problem[] } {
  const zones = new Map<string, Listed>();
  const problems: Problem[] = [];
  let current: Zone | null = null;
  let list: string[] | null = null;
  for (const line of linesOf(text)) {
    if (line.text.trim() === '') continue;
    const head = /^(\S[\w-]*)(?: \(([^)]*)\))?\s*$/.exec(line.text);
    const entry = /^ {2}([\w -]+?):(?: (.*))?$/.exec(line.text);
    if (head) {
      current = {};
      list = null;
      const active = head[2]?.includes('active') ?? true;
      zones.set(nth(head, 1), { zone: current, line: line.number, active });
    } else if (entry && current) {
      const [, key = '', value = ''] = entry;
      const words = value.trim() === '' ? [] : value.trim().split(/\s+/);
      const name = LISTS[key];
      list = null;
      if (name) current[name] = words;
      else if (key === 'forward-ports') current['forwardPorts'] = list = words;
      else if (key === 'rich rules') current['richRules'] = list = [];
      else if (key === 'target') current['target'] = value.trim();
      else if (key === 'masquerade' || key === 'forward') current[key] = value.trim() === 'yes';
      else if (!WITHOUT_EFFECT.has(key) && value.trim() !== '')
        problems.push(problemAt(line, { is: 'zone-setting', key }));
    } else if (list && /^\s+\S/.test(line.text)) list.push(line.text.trim());
    else problems.push(problemAt(line, 'no-zone-line'));
  }
  return { zones, problems };
}

/** Ports of the usual services, as firewalld's own files have them (`/usr/lib/firewalld/services`). */
const SERVICES: Readonly<Record<string, readonly string[]>> = {
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

/** `ACCEPT` lets the rest in, `DROP` says nothing; `default` refuses it like `%%REJECT%%`. */
const TARGET: Readonly<Record<string, FrontEndAction>> = {
  ACCEPT: 'allow',
  DROP: 'deny',
  '%%REJECT%%': 'reject',
  REJECT: 'reject',
  default: 'reject',
};

const wordsIn = (zone: Zone, key: string): string[] => {
  const value = zone[key];
  return Array.isArray(value) ? value.map(String) : [];
};

/** Rich rules that refuse come before those that let in (firewalld.richlanguage(5)). */
function frontEndZone(name: string, { zone, line }: Listed): FrontEndZone {
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

/** Where a port is sent on to, the machine's own rows no longer decide. */
function forwardRow(spec: string, blank: FrontEndRow): FrontEndRow {
  const port = /\bport=([\d-]+)/.exec(spec)?.[1] ?? null;
  const protocol = /\bproto=(tcp|udp)\b/.exec(spec)?.[1];
  return {
    ...blank,
    text: `forward-port ${spec}`,
    ports: port,
    protocol: protocol === 'tcp' || protocol === 'udp' ? protocol : 'any',
  };
}

const VERB: Readonly<Record<string, FrontEndAction>> = { drop: 'deny', reject: 'reject', accept: 'allow' };
const FAMILY: Readonly<Record<string, 4 | 6>> = { ipv4: 4, ipv6: 6 };

/** A rich rule as far as it is understood; whatever else it says leaves open whether it holds. */
function richRow(text: string): Partial<FrontEndRow> {
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

const transport = (word: string | undefined): 'tcp' | 'udp' | 'any' =>
  word === 'tcp' || word === 'udp' ? word : 'any';
