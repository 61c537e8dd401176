import { maskLength, parseAddress } from '../../net/index.ts';
import {
  known,
  open,
  type AddressFact,
  type Fact,
  type InterfaceFact,
  type Problem,
  type RouteFact,
  type Said,
  type SocketFact,
} from '../../facts/index.ts';
import type { FieldName } from '../../rules/index.ts';
import {
  actionOf,
  categoryFact,
  directionOf,
  enabledOf,
  hostRow,
  profileFact,
  profilesOf,
  protocolOf,
  portsText,
  addressesOf,
  wholeListing,
  YES,
} from './hostFirewall.ts';
import { before, linesOf, spanOf, type Line } from '../text.ts';
import { lineAt, problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

/**
 * `   IPv4-Adresse  . . . . . . . . . . : 192.168.50.20(Bevorzugt)`: dots and a colon, whatever the words.
 */
const PAIR = /^\s{2,40}(\S.{0,80}?)[ .]{0,60}\. ?:\s?(.*)/;
const MAC = /^[0-9A-F]{2}(?:-[0-9A-F]{2}){5}$/i;

/**
 * `ipconfig` and `ipconfig /all` in any language. The words differ, the order does not: address, mask, then
 * the default gateway; values
 * tell the rest.
 */
export const ipconfig: Reader = {
  format: 'ipconfig',
  title: 'network interfaces and addresses (ipconfig)',
  recognise(text) {
    const lines = written(text.slice(0, 20_000));
    const dotted = lines.filter((l) => PAIR.test(l.text) && /(?:\. ){3,}|\.{3,}/.test(l.text)).length;
    return dotted >= 2 && lines.some((l) => /^\S.*:\s*$/.test(l.text)) && /(?:\d{1,3}\.){3}\d{1,3}/.test(text)
      ? 0.94
      : 0;
  },
  read(text) {
    const facts: Fact[] = [];
    let adapter: { name: string; mask: boolean; gatewayNext: boolean; last: 'gateway' | 'other' } | null =
      null;
    for (const line of linesOf(text)) {
      const head = /^(\S.*):$/.exec(line.text.trimEnd());
      if (head) {
        // The kind of adapter stands before its name: the last word or words are the name that people gave
        // it.
        const name = head[1]!.replace(
          /^.*?(?:adapter|Adapter|adaptador|Adaptador|Carte \S+|carte \S+|Ethernet-Adapter|LAN-Adapter)\s+/,
          '',
        );
        adapter = { name, mask: false, gatewayNext: false, last: 'other' };
        facts.push({ kind: 'interface', at: spanOf(line, name), name, adminUp: true });
        continue;
      }
      const pair = PAIR.exec(line.text);
      const more = !pair && adapter?.last === 'gateway' ? /^\s+([0-9a-fA-F.:%]+)\s*$/.exec(line.text) : null;
      if (!adapter || (!pair && !more)) continue;
      const raw = (pair ? pair[2]! : more![1]!).trim();
      const value = raw
        .replace(/\([^()]*\)$/, '')
        .replace(/%\d{1,9}$/, '')
        .trim();
      const address = parseAddress(value);
      const flagged = /\(/.test(raw);
      if (MAC.test(raw)) change(facts, adapter.name, { mac: raw.replaceAll('-', ':').toLowerCase() });
      else if (adapter.gatewayNext && (raw === '' || address) && pair) {
        adapter.gatewayNext = false;
        adapter.last = 'gateway';
        if (address) facts.push(gateway(line, value, adapter.name, address.family));
      } else if (more && address) facts.push(gateway(line, value, adapter.name, address.family));
      else if (
        address?.family === 4 &&
        maskLength(value) !== null &&
        /^(255|0)\./.test(value) &&
        !adapter.mask
      ) {
        adapter.mask = true;
        adapter.gatewayNext = true;
        withMask(facts, maskLength(value)!);
      } else if (
        address &&
        !adapter.mask &&
        (address.family === 6 ||
          flagged ||
          !facts.some((f) => f.kind === 'address' && f.interface === adapter!.name && f.family === 4))
      ) {
        facts.push({
          kind: 'address',
          at: spanOf(line, value),
          interface: adapter.name,
          family: address.family,
          address: value,
          prefix: address.family === 4 ? 24 : 64,
          scope: /^fe[89ab]/i.test(value) ? 'link' : 'global',
        });
        adapter.last = 'other';
      } else adapter.last = 'other';
    }
    const used = facts.filter(
      (f) => f.kind !== 'interface' || facts.some((o) => o.kind === 'address' && o.interface === f.name),
    );
    return {
      format: 'ipconfig',
      facts: used,
      problems: [],
      covers: used.some((f) => f.kind === 'address') ? ['addresses'] : [],
    };
  },
};

function change(facts: Fact[], name: string, more: Partial<InterfaceFact>): void {
  const at = facts.findIndex((f) => f.kind === 'interface' && f.name === name);
  if (at >= 0) facts[at] = { ...(facts[at] as InterfaceFact), ...more };
}

function withMask(facts: Fact[], prefix: number): void {
  for (let i = facts.length - 1; i >= 0; i--) {
    const f = facts[i]!;
    if (f.kind === 'address' && f.family === 4) {
      facts[i] = { ...f, prefix } as AddressFact;
      return;
    }
  }
}

const gateway = (line: Line, via: string, dev: string, family: 4 | 6): RouteFact => ({
  kind: 'route',
  at: spanOf(line, via),
  family,
  table: 'main',
  type: 'unicast',
  to: 'default',
  hops: [{ via, dev }],
  metric: 0,
});

const ROUTE4 =
  /^\s*((?:\d{1,3}\.){3}\d{1,3})\s+((?:\d{1,3}\.){3}\d{1,3})\s+(\S.{0,60}?)\s{1,60}((?:\d{1,3}\.){3}\d{1,3})\s{1,60}(\d{1,9})\s*$/;

/**
 * `route print`: destination, mask, gateway (or a word for on-link), interface address, metric. Interfaces
 * are named by their address.
 */
export const routePrint: Reader = {
  format: 'route-print',
  title: 'routes (route print)',
  recognise: (text) =>
    written(text.slice(0, 20_000)).filter((l) => ROUTE4.test(l.text)).length >= 2 ? 0.96 : 0,
  read(text) {
    const facts: RouteFact[] = [];
    for (const line of written(text)) {
      const m = ROUTE4.exec(line.text);
      const length = m ? maskLength(m[2]!) : null;
      if (!m || length === null) continue;
      // Own addresses, broadcast and multicast stand in the list too; they are no way to anywhere.
      if (length === 32 || /^(127|224|255)\./.test(m[1]!)) continue;
      facts.push({
        kind: 'route',
        at: spanOf(line, m[1]!),
        family: 4,
        table: 'main',
        type: 'unicast',
        to: length === 0 ? 'default' : `${m[1]}/${length}`,
        hops: [{ via: parseAddress(m[3]!) ? m[3]! : null, dev: m[4]! }],
        metric: Number(m[5]),
      });
    }
    return { format: 'route-print', facts, problems: [], covers: ['routes4'] };
  },
};

/** JSON and list forms of the shell's cmdlets: sockets, firewall rows, network profiles, addresses. */
export const cmdlets: Reader = {
  format: 'cmdlet-objects',
  title: 'objects of the system’s shell',
  recognise(text) {
    const list = objectsOf(text);
    return list.length > 0 && list.some((o) => kindOf(o.fields) !== null) ? 0.96 : 0;
  },
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    let tcp = false;
    let udp = false;
    for (const o of objectsOf(text)) {
      const get = (name: string): string => o.fields.get(name.toLowerCase()) ?? '';
      switch (kindOf(o.fields)) {
        case 'tcp': {
          const socket = socketOf(
            o.line,
            'tcp',
            get('LocalAddress'),
            get('LocalPort'),
            get('RemoteAddress'),
            get('RemotePort'),
            get('State'),
          );
          if (socket) facts.push(socket);
          tcp ||= socket?.state === 'LISTEN';
          break;
        }
        case 'udp': {
          const socket = socketOf(o.line, 'udp', get('LocalAddress'), get('LocalPort'), '', '', '');
          if (socket) facts.push(socket);
          udp = true;
          break;
        }
        case 'rule': {
          const program = get('Program');
          // The bare rule object holds neither ports nor addresses: they are objects of their own.
          const bare = !o.fields.has('protocol') && !o.fields.has('localport');
          facts.push(
            hostRow(o.line, {
              name: get('DisplayName') || get('Name'),
              enabled: enabledOf(get('Enabled')),
              direction: directionOf(get('Direction')),
              action: actionOf(get('Action')),
              profiles: profilesOf(get('Profile')),
              protocol: unlessMissing(bare, 'protocol', protocolOf(get('Protocol') || 'any')),
              localPorts: unlessMissing(bare, 'ports', portsText(get('LocalPort'))),
              remotePorts: unlessMissing(bare, 'ports', portsText(get('RemotePort'))),
              localAddresses: unlessMissing(bare, 'addresses', addressesOf(get('LocalAddress'))),
              remoteAddresses: unlessMissing(bare, 'addresses', addressesOf(get('RemoteAddress'))),
              program: unlessMissing(
                !o.fields.has('program'),
                'program',
                /^any$/i.test(program) ? null : program || null,
              ),
              further: known(null),
            }),
          );
          break;
        }
        case 'policy':
          facts.push(
            profileFact(
              o.line,
              get('Name'),
              YES.test(get('Enabled')),
              get('DefaultInboundAction'),
              get('DefaultOutboundAction'),
            ),
          );
          break;
        case 'profile':
          facts.push(categoryFact(o.line, get('NetworkCategory'), get('InterfaceAlias')));
          break;
        case 'address': {
          const address = parseAddress(before(get('IPAddress'), '%'));
          if (address)
            facts.push({
              kind: 'address',
              at: lineAt(o.line),
              interface: get('InterfaceAlias') || get('InterfaceIndex'),
              family: address.family,
              address: before(get('IPAddress'), '%'),
              prefix: Number(get('PrefixLength')),
              scope: scopeOf(get('IPAddress')),
            });
          break;
        }
        default:
          problems.push(problemAt(o.line, 'an object whose kind is not known'));
      }
    }
    facts.push(...wholeListing(facts));
    return {
      format: 'cmdlet-objects',
      facts,
      problems,
      covers: [
        ...(facts.some((f) => f.kind === 'address') ? ['addresses' as const] : []),
        ...(tcp ? ['sockets-tcp' as const] : []),
        ...(udp ? ['sockets-udp' as const] : []),
      ],
    };
  },
};

function socketOf(
  line: Line,
  protocol: 'tcp' | 'udp',
  local: string,
  port: string,
  peer: string,
  peerPort: string,
  state: string,
): SocketFact | null {
  const address = parseAddress(before(local, '%'));
  if (!address || !/^\d+$/.test(port)) return null;
  const listens =
    protocol === 'tcp' ? /^(listen|2)$/i.test(state) || (peerPort === '0' && state === '') : true;
  return {
    kind: 'socket',
    at: lineAt(line),
    protocol,
    family: address.family,
    address: before(local, '%'),
    port: Number(port),
    state: stateOf(protocol, listens),
    ...(address.bits === 0n && address.family === 6 ? { bothFamilies: 'not-said' as const } : {}),
    ...(!listens && parseAddress(peer) ? { peer, peerPort: Number(peerPort) } : {}),
    processes: [],
  };
}

function scopeOf(address: string): 'link' | 'host' | 'global' {
  if (/^fe[89ab]/i.test(address)) return 'link';
  return /^(127\.|::1$)/.test(address) ? 'host' : 'global';
}

function stateOf(protocol: string, listens: boolean): 'UNCONN' | 'LISTEN' | 'ESTAB' {
  if (protocol === 'udp') return 'UNCONN';
  return listens ? 'LISTEN' : 'ESTAB';
}

type Fields = ReadonlyMap<string, string>;

function kindOf(f: Fields): 'tcp' | 'udp' | 'rule' | 'profile' | 'policy' | 'address' | null {
  if (f.has('defaultinboundaction') && f.has('enabled')) return 'policy';
  if (f.has('networkcategory')) return 'profile';
  if (f.has('direction') && f.has('action')) return 'rule';
  if (f.has('localport') && f.has('localaddress'))
    return f.has('remoteport') || f.has('state') ? 'tcp' : 'udp';
  if (f.has('ipaddress') && f.has('prefixlength')) return 'address';
  return null;
}

/** `Name : value` blocks, JSON, or a table with a ruler below its heading. */
function objectsOf(text: string): { fields: Fields; line: Line }[] {
  const start = text.trimStart()[0];
  if (start === '[' || start === '{') return jsonObjects(text);
  return [...listObjects(text), ...tableObjects(text)];
}

function jsonObjects(text: string): { fields: Fields; line: Line }[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return [];
  }
  const list = (Array.isArray(value) ? value : [value]).filter(
    (o): o is Record<string, unknown> => typeof o === 'object' && o !== null && !Array.isArray(o),
  );
  return list.map((o) => ({
    line: { number: 1, text: '' },
    fields: new Map(
      Object.entries(o).map(([k, v]) => [
        k.toLowerCase(),
        typeof v === 'object' && v !== null
          ? String(
              (v as { value?: unknown; Value?: unknown }).Value ?? (v as { value?: unknown }).value ?? '',
            )
          : String(v ?? ''),
      ]),
    ),
  }));
}

function listObjects(text: string): { fields: Fields; line: Line }[] {
  const out: { fields: Map<string, string>; line: Line }[] = [];
  let current: { fields: Map<string, string>; line: Line } | null = null;
  for (const line of linesOf(text)) {
    const m = /^([A-Za-z]\w*)\s+:\s?(.*)$/.exec(line.text);
    if (!m) {
      if (line.text.trim() === '') current = null;
      continue;
    }
    if (!current || current.fields.has(m[1]!.toLowerCase()))
      out.push((current = { fields: new Map(), line }));
    current.fields.set(m[1]!.toLowerCase(), m[2]!.trim());
  }
  return out.filter((o) => o.fields.size >= 2);
}

function tableObjects(text: string): { fields: Fields; line: Line }[] {
  const lines = linesOf(text);
  const ruler = lines.findIndex((l) => /^-+(?:\s+-+)+\s*$/.test(l.text));
  if (ruler < 1) return [];
  const starts = [...lines[ruler]!.text.matchAll(/-+/g)].map((m) => m.index);
  const cut = (t: string): string[] => starts.map((s, i) => t.slice(s, starts[i + 1] ?? undefined).trim());
  const names = cut(lines[ruler - 1]!.text).map((n) => n.toLowerCase());
  return lines
    .slice(ruler + 1)
    .filter((l) => l.text.trim() !== '')
    .map((line) => ({ line, fields: new Map(cut(line.text).map((v, i) => [names[i] ?? '', v] as const)) }));
}

/** A field of an object that may be kept in another object, which the listing does not show. */
const unlessMissing = <T>(isMissing: boolean, field: FieldName, value: T): Said<T> =>
  isMissing ? open({ doubt: 'not-shown', fields: [field] }) : known(value);
