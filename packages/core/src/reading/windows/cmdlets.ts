import { parseAddress } from '../../net/index.ts';
import { known, open, type Fact, type Problem, type Said, type SocketFact } from '../../facts/index.ts';
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
import { before, type Line } from '../text.ts';
import { lineAt, problemAt } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { type Fields, objectsOf } from './objects.ts';

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

function kindOf(f: Fields): 'tcp' | 'udp' | 'rule' | 'profile' | 'policy' | 'address' | null {
  if (f.has('defaultinboundaction') && f.has('enabled')) return 'policy';
  if (f.has('networkcategory')) return 'profile';
  if (f.has('direction') && f.has('action')) return 'rule';
  if (f.has('localport') && f.has('localaddress'))
    return f.has('remoteport') || f.has('state') ? 'tcp' : 'udp';
  if (f.has('ipaddress') && f.has('prefixlength')) return 'address';
  return null;
}

/** A field of an object that may be kept in another object, which the listing does not show. */
const unlessMissing = <T>(isMissing: boolean, field: FieldName, value: T): Said<T> =>
  isMissing ? open({ doubt: 'not-shown', fields: [field] }) : known(value);
