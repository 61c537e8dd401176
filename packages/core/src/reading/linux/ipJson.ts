import { parseAddress, parsePrefix } from '../../net/index.ts';
import type {
  AddressFact,
  Coverage,
  Fact,
  InterfaceFact,
  PolicyFact,
  Problem,
  Reading,
  RouteFact,
} from '../../facts/index.ts';
import type { Span } from '../../place/index.ts';
import { parsePlacedJson, type PlacedJson } from '../json.ts';
import { asList, asNumber, asRecord, asString, type Reader } from '../reader.ts';

type Element = { readonly record: Readonly<Record<string, unknown>>; readonly at: Span };

const looksLikeArray = (text: string): boolean => /^\s*\[/.test(text);

/** JSON listings of ip(8) are arrays of objects; which listing it is shows in the keys of the first. */
function elementsOf(text: string): Element[] | null {
  if (!looksLikeArray(text)) return null;
  const parsed: PlacedJson | null = parsePlacedJson(text);
  if (!parsed || !Array.isArray(parsed.value)) return null;
  return parsed.elements.flatMap(({ value, at }) => {
    const record = asRecord(value);
    return record && Object.keys(record).length > 0 ? [{ record, at }] : [];
  });
}

const sniff =
  (...keys: readonly RegExp[]) =>
  (text: string): number =>
    looksLikeArray(text) && keys.every((key) => key.test(text.slice(0, 4000))) ? 0.9 : 0;

/** `ip -j addr` and `ip -j link`. */
export const ipAddrJson: Reader = {
  format: 'ip-addr-json',
  title: 'network interfaces and addresses (ip -j addr)',
  recognise: sniff(/"ifname"\s{0,9}:/, /"flags"\s{0,9}:/),
  read(text) {
    const elements = elementsOf(text);
    if (!elements) return damaged('ip-addr-json', text);
    const facts: Fact[] = elements.flatMap(({ record, at }) => interfaceFacts(record, at));
    return {
      format: 'ip-addr-json',
      facts,
      problems: [],
      covers: facts.some((f) => f.kind === 'address') ? ['addresses'] : [],
    };
  },
};

function interfaceFacts(
  record: Readonly<Record<string, unknown>>,
  at: Span,
): (InterfaceFact | AddressFact)[] {
  const name = asString(record['ifname']);
  if (name === null) return [];
  const flags = asList(record['flags']).map(String);
  const has = (flag: string): boolean => flags.includes(flag);
  const mac = asString(record['address']);
  const head: InterfaceFact = {
    kind: 'interface',
    at,
    name,
    adminUp: has('UP'),
    loopback: has('LOOPBACK'),
    noNeighbours: has('NOARP') || (has('POINTOPOINT') && record['link_type'] !== 'ether'),
    ...(has('UP') ? { carrier: has('LOWER_UP') || !has('NO-CARRIER') } : {}),
    ...(asNumber(record['ifindex']) !== null ? { index: asNumber(record['ifindex'])! } : {}),
    ...(asNumber(record['mtu']) !== null ? { mtu: asNumber(record['mtu'])! } : {}),
    ...(asString(record['operstate']) !== null
      ? { operstate: asString(record['operstate'])!.toLowerCase() }
      : {}),
    ...(mac !== null && /^[0-9a-f]{2}(:[0-9a-f]{2}){5}$/.test(mac) ? { mac } : {}),
  };
  const addresses = asList(record['addr_info']).flatMap((info): AddressFact[] => {
    const a = asRecord(info);
    const local = a && asString(a['local']);
    const prefix = a && asNumber(a['prefixlen']);
    if (!a || !local || prefix === null || !parseAddress(local)) return [];
    const peer = asString(a['address']);
    return [
      {
        kind: 'address',
        at,
        interface: name,
        family: local.includes(':') ? 6 : 4,
        address: local,
        prefix,
        scope: asString(a['scope']) ?? 'global',
        ...(peer ? { peer } : {}),
        ...(a['secondary'] === true ? { secondary: true } : {}),
        ...(a['tentative'] === true || a['dadfailed'] === true ? { unusable: true } : {}),
      },
    ];
  });
  return [head, ...addresses];
}

/** `ip -j route`, of one table or all, of one family or both. */
export const ipRouteJson: Reader = {
  format: 'ip-route-json',
  title: 'routes (ip -j route)',
  recognise: sniff(/"dst"\s{0,9}:/, /"(?:flags|protocol)"\s{0,9}:/),
  read(text) {
    const elements = elementsOf(text);
    if (!elements) return damaged('ip-route-json', text);
    const facts: RouteFact[] = [];
    const problems: Problem[] = [];
    const hasV6 = elements.some(
      ({ record }) => String(record['dst']).includes(':') || String(record['gateway']).includes(':'),
    );
    const hasV4 = elements.some(
      ({ record }) => String(record['dst']).includes('.') || String(record['gateway']).includes('.'),
    );
    for (const { record, at } of elements) {
      const fact = routeFact(record, at, hasV6 && !hasV4 ? 6 : 4);
      if (fact) facts.push(fact);
      else
        problems.push({
          line: at.line,
          text: JSON.stringify(record).slice(0, 200),
          why: 'a route without a readable destination',
        });
    }
    const covers: Coverage[] = [
      ...(facts.some((f) => f.family === 4) ? ['routes4' as const] : []),
      ...(facts.some((f) => f.family === 6) ? ['routes6' as const] : []),
    ];
    return { format: 'ip-route-json', facts, problems, covers };
  },
};

/** Keys whose presence changes which packets a route takes and that are not followed. */
const UNMODELLED_ROUTE_KEYS = ['tos', 'encap', 'nhid'];

function routeFact(r: Readonly<Record<string, unknown>>, at: Span, fallback: 4 | 6): RouteFact | null {
  const dst = asString(r['dst']);
  if (dst === null || (dst !== 'default' && !parsePrefix(dst))) return null;
  const via = asRecord(r['via']);
  const gateway = asString(r['gateway']) ?? (via ? asString(via['host']) : null);
  let family: 4 | 6;
  if (dst.includes(':')) family = 6;
  else if (dst !== 'default') family = 4;
  else if ((gateway ?? '').includes(':') && !via) family = 6;
  else if (gateway) family = 4;
  else if (r['metric'] === 1024 || r['pref'] !== undefined) family = 6;
  else family = fallback;
  const hops = asList(r['nexthops']).flatMap((hop) => {
    const h = asRecord(hop);
    return h ? [{ via: asString(h['gateway']), dev: asString(h['dev']) }] : [];
  });
  const flags = asList(r['flags']).map(String);
  const strange = UNMODELLED_ROUTE_KEYS.find((key) => r[key] !== undefined);
  const src = asString(r['prefsrc']);
  return {
    kind: 'route',
    at,
    family,
    table: asString(r['table']) ?? 'main',
    type: asString(r['type']) ?? 'unicast',
    to: dst,
    hops: hops.length > 0 ? hops : [{ via: gateway, dev: asString(r['dev']) }],
    metric: asNumber(r['metric']) ?? 0,
    ...(src ? { src } : {}),
    ...(flags.includes('dead') ? { dead: true } : {}),
    ...(strange ? { unmodelled: strange } : {}),
  };
}

/** `ip -j rule`. */
export const ipRuleJson: Reader = {
  format: 'ip-rule-json',
  title: 'routing rules (ip -j rule)',
  recognise: sniff(/"priority"\s{0,9}:\s{0,9}\d/, /"src"\s{0,9}:/),
  read(text) {
    const elements = elementsOf(text);
    if (!elements) return damaged('ip-rule-json', text);
    const facts = elements.flatMap(({ record, at }) => policyFact(record, at));
    // Only IPv4 has a `default` table rule; an address says the family for certain.
    const v6 = facts.some((f) => (f.from ?? '').includes(':') || (f.to ?? '').includes(':'));
    const v4 = facts.some(
      (f) => f.table === 'default' || /^\d+\./.test(f.from ?? '') || /^\d+\./.test(f.to ?? ''),
    );
    let family: 4 | 6 | null;
    if (v6) family = 6;
    else if (v4) family = 4;
    else if (facts.length > 0) family = 6;
    else family = null;
    return {
      format: 'ip-rule-json',
      facts: facts.map((f) => ({ ...f, family })),
      problems: [],
      covers: family === null ? [] : [family === 6 ? 'policy6' : 'policy4'],
    };
  },
};

const KNOWN_RULE_KEYS = new Set([
  'priority',
  'src',
  'srclen',
  'dst',
  'dstlen',
  'table',
  'fwmark',
  'fwmask',
  'iif',
  'oif',
  'not',
  'ipproto',
  'sport',
  'sport_start',
  'sport_end',
  'dport',
  'dport_start',
  'dport_end',
  'action',
  'goto',
  'nop',
  'suppress_prefixlen',
  'suppress_prefixlength',
  'protocol',
  'iif_detached',
  'oif_detached',
]);

function actionOf(r: Readonly<Record<string, unknown>>): PolicyFact['action'] {
  if (r['goto'] !== undefined) return 'goto';
  if (r['nop'] !== undefined) return 'nop';
  const action = asString(r['action']);
  return action === 'blackhole' || action === 'unreachable' || action === 'prohibit' ? action : 'lookup';
}

function policyFact(r: Readonly<Record<string, unknown>>, at: Span): PolicyFact[] {
  const priority = asNumber(r['priority']);
  if (priority === null) return [];
  const side = (key: string): string | undefined => {
    const a = asString(r[key]);
    const length = asNumber(r[`${key}len`]);
    if (a === null || a === 'all') return undefined;
    return length === null ? a : `${a}/${length}`;
  };
  const range = (key: string): { first: number; last: number } | undefined => {
    const one = asNumber(r[key]);
    const first = asNumber(r[`${key}_start`]) ?? one;
    return first === null ? undefined : { first, last: asNumber(r[`${key}_end`]) ?? first };
  };
  const from = side('src');
  const to = side('dst');
  const fwmark =
    r['fwmark'] === undefined
      ? undefined
      : { value: Number(r['fwmark']), mask: r['fwmask'] === undefined ? 0xffff_ffff : Number(r['fwmask']) };
  const strange = Object.keys(r).find((key) => !KNOWN_RULE_KEYS.has(key));
  const suppress = asNumber(r['suppress_prefixlen']) ?? asNumber(r['suppress_prefixlength']);
  const [iif, oif, protocol, table] = [
    asString(r['iif']),
    asString(r['oif']),
    asString(r['ipproto']),
    asString(r['table']),
  ];
  const [sport, dport] = [range('sport'), range('dport')];
  return [
    {
      kind: 'policy',
      at,
      family: null,
      priority,
      action: actionOf(r),
      ...(r['not'] !== undefined ? { not: true } : {}),
      ...(from ? { from } : {}),
      ...(to ? { to } : {}),
      ...(iif ? { iif } : {}),
      ...(oif ? { oif } : {}),
      ...(fwmark ? { fwmark } : {}),
      ...(protocol ? { protocol } : {}),
      ...(sport ? { sport } : {}),
      ...(dport ? { dport } : {}),
      ...(table ? { table } : {}),
      ...(typeof r['goto'] === 'number' ? { goto: r['goto'] } : {}),
      ...(suppress !== null ? { suppress } : {}),
      ...(strange ? { unmodelled: strange } : {}),
    },
  ];
}

/** `ip -j neigh`. */
export const ipNeighJson: Reader = {
  format: 'ip-neigh-json',
  title: 'neighbours (ip -j neigh)',
  recognise: (text) =>
    looksLikeArray(text) && /"dst"\s*:[\s\S]{0,200}"state"\s*:\s*\[/.test(text.slice(0, 4000)) ? 0.95 : 0,
  read(text) {
    const elements = elementsOf(text);
    if (!elements) return damaged('ip-neigh-json', text);
    const facts = elements.flatMap(({ record, at }): Fact[] => {
      const a = asString(record['dst']);
      return a && parseAddress(a)
        ? [
            {
              kind: 'neighbour',
              at,
              address: a,
              dev: asString(record['dev']),
              mac: asString(record['lladdr']),
              states: asList(record['state']).map(String),
            },
          ]
        : [];
    });
    return { format: 'ip-neigh-json', facts, problems: [], covers: ['neighbours'] };
  },
};

function damaged(format: string, text: string): Reading {
  return {
    format,
    facts: [],
    problems: [
      {
        line: 1,
        text: text.slice(0, 200),
        why: 'this begins like a JSON listing but is not whole; copy it again from the first to the last bracket',
      },
    ],
    covers: [],
  };
}
