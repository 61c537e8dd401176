import { parsePrefix } from '../../net/index.ts';
import type { Coverage, Problem, RouteFact } from '../../facts/index.ts';
import type { Span } from '../../place/index.ts';
import { asList, asNumber, asRecord, asString, type Reader } from '../reader.ts';
import { elementsOf, sniff, damaged, unreadRow } from './ipJsonElements.ts';

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
      else problems.push(unreadRow(record, at, 'route-destination'));
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
    ...(flags.includes('linkdown') ? { linkDown: true } : {}),
    ...(strange ? { unmodelled: strange } : {}),
  };
}
