import type { HostProfilesSettings, HostRow, HostSurroundings } from '../devices/index.ts';
import {
  addressRange,
  formatPrefix,
  parseAddress,
  parsePortRange,
  parsePrefix,
  toPrefixes,
} from '../net/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import type { NotedFact } from '../facts/index.ts';

/** The profiles that such a firewall has, and what they do as long as nobody changes them. */
const USUAL: HostProfilesSettings['profiles'] = {
  domain: { in: 'block', out: 'allow' },
  private: { in: 'block', out: 'allow' },
  public: { in: 'block', out: 'allow' },
};

type ListedProfile = {
  readonly name: string;
  readonly on: boolean;
  readonly in: 'allow' | 'block';
  readonly out: 'allow' | 'block';
};

/** A host firewall as its listings show it, with what they leave open; null where there is none. The newest listing of each kind stands. */
export function hostFirewallFrom(
  facts: CaseFacts,
  stop: string,
): { settings: HostProfilesSettings; doubts: Omit<HostSurroundings, 'subnets' | 'sockets'> } | null {
  const newest = (topic: string): NotedFact[] => {
    const file = facts.files
      .filter((f) => f.stop === stop && f.facts.some((x) => x.kind === 'noted' && x.topic === topic))
      .pop();
    return (file?.facts ?? []).filter((f): f is NotedFact => f.kind === 'noted' && f.topic === topic);
  };
  const rows = newest('hostRows').flatMap((f) => modelled(f.value as unknown as HostRow));
  const listed = newest('hostProfiles').map((f) => f.value as unknown as ListedProfile);
  if (newest('hostRows').length === 0 && listed.length === 0) return null;
  const active = [...new Set(newest('activeProfile').map((f) => String(f.value)))];
  const profiles = { ...USUAL, ...Object.fromEntries(listed.map(({ name, ...p }) => [name, p])) };
  const known = active.length === 1 && profiles[active[0]!] ? { active: active[0]! } : {};
  const unsaid = Object.keys(USUAL).some(
    (p) => !listed.some((l) => l.name === p) && (known.active === undefined || known.active === p),
  );
  return {
    settings: { kind: 'host-profiles', ...known, profiles, rows },
    doubts: {
      ...(newest('hostRowsWhole').length > 0
        ? {}
        : {
            moreRows:
              newest('hostRows').length === 0
                ? 'the rows of the host firewall have not been listed'
                : 'whether the listing holds all rows of the host firewall is not known',
          }),
      ...(unsaid ? { perhapsOff: 'whether the host firewall is on has not been listed' } : {}),
    },
  };
}

/** A row in values that the dialect takes; words that stand for what is not known here (“RPC”, “DefaultGateway”) become a doubt. */
function modelled(row: HostRow): HostRow[] {
  // Rows for ICMP and tunnels say nothing about the packets of a service.
  if (!['tcp', 'udp', 'any'].includes(row.protocol)) return [];
  const strange: string[] = [];
  const ports = (text: string | number | undefined): string | undefined => {
    if (
      text === undefined ||
      String(text)
        .split(',')
        .every((p) => parsePortRange(p))
    )
      return text === undefined ? undefined : String(text);
    strange.push(String(text));
    return undefined;
  };
  const prefixes = (list: readonly string[] | undefined): string[] =>
    (list ?? []).flatMap((text) => {
      const [first, last] = text.split('-').map((t) => parseAddress(t.trim()));
      if (text === 'local-subnet' || parsePrefix(text)) return [text];
      if (first && last && first.family === last.family && first.bits <= last.bits)
        return toPrefixes(addressRange(first, last)).map(formatPrefix);
      strange.push(text);
      return [];
    });
  const [localPorts, remotePorts] = [ports(row.localPorts), ports(row.remotePorts)];
  const [localAddresses, remoteAddresses] = [prefixes(row.localAddresses), prefixes(row.remoteAddresses)];
  const { localPorts: _l, remotePorts: _r, localAddresses: _a, remoteAddresses: _b, ...rest } = row;
  const whole: HostRow = {
    ...rest,
    ...(localPorts ? { localPorts } : {}),
    ...(remotePorts ? { remotePorts } : {}),
    localAddresses,
    remoteAddresses,
  };
  return [
    strange.length > 0
      ? { ...whole, perhaps: `what “${strange.join(', ')}” stands for is not known` }
      : whole,
  ];
}
