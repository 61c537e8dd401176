import type { HostProfilesSettings, HostRow, HostSurroundings } from '../devices/index.ts';
import {
  addressRange,
  formatPrefix,
  parseAddress,
  parsePortRange,
  parsePrefix,
  toPrefixes,
} from '../net/index.ts';
import { openFields, saidOr, type HostRowRecord } from '../facts/index.ts';
import { newestOf, type CaseFacts } from '../ledger/index.ts';
import type { Doubt } from '../rules/index.ts';

/** The profiles that such a firewall has, and what they do as long as nobody changes them. */
const USUAL: HostProfilesSettings['profiles'] = {
  domain: { in: 'block', out: 'allow' },
  private: { in: 'block', out: 'allow' },
  public: { in: 'block', out: 'allow' },
};

type ListedFirewall = {
  readonly settings: HostProfilesSettings;
  readonly doubts: Omit<HostSurroundings, 'subnets' | 'sockets'>;
};

/**
 * A host firewall as its listings show it, with what they leave open; null where there is none. The newest
 * listing of each kind stands.
 */
export function hostFirewallFrom(facts: CaseFacts, stop: string): ListedFirewall | null {
  const listedRows = newestOf(facts, stop, 'host-row');
  const listed = newestOf(facts, stop, 'host-profile').map((f) => f.value);
  if (listedRows.length === 0 && listed.length === 0) return null;
  const rows = listedRows.flatMap((f) => modelled(f.value));
  const told = newestOf(facts, stop, 'active-profile').map((f) => f.value);
  const active = [...new Set(told.map((v) => v.profile))];
  const byInterface = new Map(
    told.flatMap((v) => (v.interface === null ? [] : [[v.interface, v.profile] as const])),
  );
  const profiles = {
    ...USUAL,
    ...Object.fromEntries(
      listed.map(({ name, on, blocksAll, ...p }) => [
        name,
        { ...p, on: on !== false, ...(blocksAll === true ? { blocksAll } : {}) },
      ]),
    ),
  };
  const [only] = active;
  const known = active.length === 1 && only !== undefined && profiles[only] ? { active: only } : {};
  const unsaid = Object.keys(USUAL).some(
    (p) =>
      !listed.some((l) => l.name === p && l.on !== null) &&
      (known.active === undefined || known.active === p),
  );
  const isWhole = facts.files.some((f) => f.stop === stop && f.covers.includes('host-rows'));
  const moreRows: Doubt = {
    doubt: listedRows.length === 0 ? 'rows-not-listed' : 'rows-perhaps-not-whole',
  };
  return {
    settings: { kind: 'host-profiles', ...known, profiles, rows: rows.map((r) => r.row) },
    doubts: {
      profileOf: byInterface,
      ofRow: new Map(rows.flatMap((r, i) => (r.doubt ? [[i + 1, r.doubt]] : []))),
      ...(isWhole ? {} : { moreRows }),
      ...(unsaid ? { perhapsOff: { doubt: 'host-firewall-on' } } : {}),
      ...(unsaid || listed.some((l) => l.blocksAll === 'perhaps')
        ? { perhapsClosed: { doubt: 'lets-nothing-in' } }
        : {}),
    },
  };
}

/** Protocols without ports, by name or number (IANA); a type of ICMP may stand behind its name. */
const OTHER_PROTOCOL = new RegExp(
  String.raw`^(?:icmp(?:v[46])?|ipv6-icmp|ipv6(?:-\w+)?|igmp|gre|esp|ah|hopopt|pgm|l2tp|vrrp|` +
    String.raw`ospf|sctp|[\d]{1,3})(?:\b.*)?$`,
);

interface DoubtedRow {
  readonly row: HostRow;
  readonly doubt: Doubt | null;
}

/**
 * A row in values that the device takes. What is open about it becomes its doubt; an action or a direction
 * that is not understood may be either, so that the row stands there as both.
 */
function modelled(record: HostRowRecord): DoubtedRow[] {
  const protocol = saidOr(record.protocol, 'any');
  // Rows for ICMP and tunnels say nothing about the packets of a service.
  if (OTHER_PROTOCOL.test(protocol)) return [];
  const isKnown = protocol === 'tcp' || protocol === 'udp' || protocol === 'any';
  const strange: Doubt[] = isKnown ? [] : [{ doubt: 'word', field: 'protocol', text: protocol }];
  const ports = (text: string | null): string | undefined => {
    if (text === null) return undefined;
    if (text.split(',').every((p) => parsePortRange(p))) return text;
    strange.push({ doubt: 'word', field: 'ports', text });
    return undefined;
  };
  const localPorts = ports(saidOr(record.localPorts, null));
  const remotePorts = ports(saidOr(record.remotePorts, null));
  const profiles = saidOr(record.profiles, []);
  const program = saidOr(record.program, null);
  const row = {
    ...(record.name === null ? {} : { name: record.name }),
    enabled: saidOr(record.enabled, true),
    ...(profiles.length > 0 ? { profiles } : {}),
    ...(program === null ? {} : { program }),
    protocol: isKnown ? protocol : 'any',
    ...(localPorts === undefined ? {} : { localPorts }),
    ...(remotePorts === undefined ? {} : { remotePorts }),
    localAddresses: prefixesOf(saidOr(record.localAddresses, []), strange),
    remoteAddresses: prefixesOf(saidOr(record.remoteAddresses, []), strange),
  } as const;
  const doubt = openFields(record)[0] ?? strange[0] ?? null;
  const actions = 'is' in record.action ? [record.action.is] : (['allow', 'block'] as const);
  const directions = 'is' in record.direction ? [record.direction.is] : (['in', 'out'] as const);
  return directions.flatMap((direction) =>
    actions.map((action): DoubtedRow => ({ row: { ...row, direction, action }, doubt })),
  );
}

/**
 * Prefixes and ranges. Where one of them is a word that stands for what is not known here
 * (“DefaultGateway”), or is cut, it may be any address: the row is then held to none of them, with a
 * doubt.
 */
function prefixesOf(list: readonly string[], strange: Doubt[]): string[] {
  const read = list.map((text) => {
    const [first, last] = text.split('-').map((t) => parseAddress(t.trim()));
    if (text === 'local-subnet' || parsePrefix(text)) return [text];
    return first && last && first.family === last.family && first.bits <= last.bits
      ? toPrefixes(addressRange(first, last)).map(formatPrefix)
      : null;
  });
  const odd = list.filter((_, i) => read[i] === null);
  if (odd.length === 0) return read.flatMap((r) => r ?? []);
  strange.push({ doubt: 'word', field: 'addresses', text: odd.join(', ') });
  return [];
}
