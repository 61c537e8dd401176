import { parseAddress } from '../../net/index.ts';
import type { AddressFact, Fact, InterfaceFact, Problem } from '../../facts/index.ts';
import type { Span } from '../../place/index.ts';
import { asList, asNumber, asRecord, asString, type Reader } from '../reader.ts';
import { elementsOf, sniff, damaged, unreadRow } from './ipJsonElements.ts';

/** `ip -j addr` and `ip -j link`. */
export const ipAddrJson: Reader = {
  format: 'ip-addr-json',
  title: 'network interfaces and addresses (ip -j addr)',
  recognise: sniff(/"ifname"\s{0,9}:/, /"flags"\s{0,9}:/),
  read(text) {
    const elements = elementsOf(text);
    if (!elements) return damaged('ip-addr-json', text);
    const problems: Problem[] = [];
    const facts: Fact[] = elements.flatMap(({ record, at }) => interfaceFacts(record, at, problems));
    return {
      format: 'ip-addr-json',
      facts,
      problems,
      covers: facts.some((f) => f.kind === 'address') ? ['addresses'] : [],
    };
  },
};

function interfaceFacts(
  record: Readonly<Record<string, unknown>>,
  at: Span,
  problems: Problem[],
): (InterfaceFact | AddressFact)[] {
  const name = asString(record['ifname']);
  if (name === null) {
    problems.push(unreadRow(record, at, 'nameless-interface'));
    return [];
  }
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
    if (!a || !local || prefix === null || !parseAddress(local)) {
      problems.push(unreadRow(info, at, 'address-unreadable'));
      return [];
    }
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
