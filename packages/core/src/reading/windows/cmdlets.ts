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
  NO,
  YES,
} from './hostFirewall.ts';
import { before, type Line } from '../text.ts';
import { lineAt, problemAt } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { netFacts, netKindOf } from './netObjects.ts';
import { type Fields, objectsOf } from './objects.ts';

/** A switch that allows (GpoBoolean: False, True, NotConfigured): whether it denies, or that this is open. */
function deniedBy(word: string): boolean | 'perhaps' {
  if (/^(?:false|0)$/i.test(word)) return true;
  return /^(?:true|1|notconfigured|2)$/i.test(word) ? false : 'perhaps';
}

/** JSON and list forms of the shell's cmdlets: sockets, firewall rows, network profiles, addresses. */
export const cmdlets: Reader = {
  format: 'cmdlet-objects',
  title: 'objects of the system’s shell',
  recognise(text) {
    const list = objectsOf(text);
    return list.length > 0 && list.some((o) => kindOf(o.fields) !== null) ? 0.96 : 0;
  },
  read(text, command = '') {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    const bareSockets = /Get-NetTCPConnection/i.test(command) ? 'tcp' : udpOf(command);
    let tcp = false;
    let udp = false;
    for (const o of objectsOf(text)) {
      const get = (name: string): string => o.fields.get(name.toLowerCase()) ?? '';
      const kind = kindOf(o.fields);
      switch (kind === 'sockets' ? bareSockets : kind) {
        case null:
          problems.push(problemAt(o.line, 'socket-protocol'));
          break;
        case 'tcp': {
          const socket = socketOf(
            o.line,
            'tcp',
            get('LocalAddress'),
            get('LocalPort'),
            get('RemoteAddress'),
            get('RemotePort'),
            o.fields.has('state') ? get('State') : stateAsked(command),
          );
          if (socket) facts.push(socket);
          else problems.push(problemAt(o.line, 'socket-unreadable'));
          tcp ||= socket?.state === 'LISTEN';
          break;
        }
        case 'udp': {
          const socket = socketOf(o.line, 'udp', get('LocalAddress'), get('LocalPort'), '', '', '');
          if (socket) facts.push(socket);
          else problems.push(problemAt(o.line, 'socket-unreadable'));
          udp = true;
          break;
        }
        case 'rule': {
          const program = get('Program');
          const shown = <T>(name: string, field: FieldName, value: T): Said<T> =>
            unlessMissing(!o.fields.has(name), field, value);
          facts.push(
            hostRow(o.line, {
              name: get('DisplayName') || get('Name'),
              enabled: enabledOf(get('Enabled')),
              direction: directionOf(get('Direction')),
              action: actionOf(get('Action')),
              profiles: o.fields.has('profile') ? profilesOf(get('Profile')) : null,
              protocol: shown('protocol', 'protocol', protocolOf(get('Protocol') || 'any')),
              localPorts: shown('localport', 'ports', portsText(get('LocalPort'))),
              remotePorts: o.fields.has('localport')
                ? known(portsText(get('RemotePort')))
                : shown('remoteport', 'ports', null),
              localAddresses: o.fields.has('remoteaddress')
                ? known(addressesOf(get('LocalAddress')))
                : shown('localaddress', 'addresses', []),
              remoteAddresses: shown('remoteaddress', 'addresses', addressesOf(get('RemoteAddress'))),
              program: shown('program', 'program', /^any$/i.test(program) ? null : program || null),
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
              // Not configured stands for the system's own choice, and that is on (Get-NetFirewallProfile).
              onOf(get('Enabled')),
              get('DefaultInboundAction'),
              get('DefaultOutboundAction'),
              {
                blocksAll: deniedBy(get('AllowInboundRules')),
                // A word that is not known may say that they are not used, as "False" does.
                ignoresRows: deniedBy(get('AllowLocalFirewallRules') || 'True') !== false,
              },
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
              interface: get('InterfaceAlias') || get('InterfaceIndex') || get('ifIndex'),
              family: address.family,
              address: before(get('IPAddress'), '%'),
              prefix: Number(get('PrefixLength')),
              scope: scopeOf(get('IPAddress')),
              // What is still tried, or held by another machine too, is not used (RFC 5227, RFC 4862 §5.4).
              ...(/^(invalid|tentative|duplicate|0|1|2)$/i.test(get('AddressState'))
                ? { unusable: true }
                : {}),
            });
          break;
        }
        case 'other': {
          const own = netKindOf(o.fields);
          if (own === null) problems.push(problemAt(o.line, 'object-kind'));
          else facts.push(...netFacts(own, o));
          break;
        }
        default:
          problems.push(problemAt(o.line, 'object-kind'));
      }
    }
    return {
      format: 'cmdlet-objects',
      facts,
      problems,
      covers: [
        ...(facts.some((f) => f.kind === 'host-row') ? ['host-rows' as const] : []),
        ...(facts.some((f) => f.kind === 'address') ? ['addresses' as const] : []),
        ...(facts.some((f) => f.kind === 'neighbour') ? ['neighbours' as const] : []),
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
  // Neither its state nor its far end is shown: it may listen, or be one connection of many.
  if (protocol === 'tcp' && state === '' && peerPort === '') return null;
  const listens =
    protocol === 'tcp' ? /^(listen|2)$/i.test(state) || (peerPort === '0' && state === '') : true;
  return {
    kind: 'socket',
    at: lineAt(line),
    protocol,
    family: address.family,
    address: before(local, '%'),
    port: Number(port),
    state: listens ? stateOf(protocol, listens) : connectionState(state),
    ...(address.bits === 0n && address.family === 6 ? { bothFamilies: 'not-said' as const } : {}),
    ...(!listens && Number(peerPort) > 0 && parseAddress(peer) ? { peer, peerPort: Number(peerPort) } : {}),
    processes: [],
  };
}

function scopeOf(address: string): 'link' | 'host' | 'global' {
  if (/^fe[89ab]/i.test(address)) return 'link';
  return /^(127\.|::1$)/.test(address) ? 'host' : 'global';
}

/** States of MSFT_NetTCPConnection by their numbers. */
const STATES: Readonly<Record<string, string>> = {
  '1': 'closed',
  '3': 'syn-sent',
  '4': 'syn-received',
  '5': 'established',
  '6': 'fin-wait-1',
  '7': 'fin-wait-2',
  '8': 'close-wait',
  '9': 'closing',
  '10': 'last-ack',
  '11': 'time-wait',
  '12': 'delete-tcb',
  '100': 'bound',
};

function connectionState(said: string): string {
  const word = STATES[said] ?? said.replaceAll(/([a-z])([A-Z\d])/g, '$1-$2').toLowerCase();
  return word === 'established' || word === '' ? 'ESTAB' : word.toUpperCase();
}

function stateOf(protocol: string, listens: boolean): 'UNCONN' | 'LISTEN' | 'ESTAB' {
  if (protocol === 'udp') return 'UNCONN';
  return listens ? 'LISTEN' : 'ESTAB';
}

/** `-State Listen`: what all that is printed have in common. */
const stateAsked = (command: string): string => (/-State\s+["']?Listen\b/i.test(command) ? 'Listen' : '');

const udpOf = (command: string): 'udp' | null => (/Get-NetUDPEndpoint/i.test(command) ? 'udp' : null);

type Kind = 'tcp' | 'sockets' | 'rule' | 'profile' | 'policy' | 'address' | 'other';

/** What an object is; `sockets`: of TCP or UDP, which its fields alone do not tell. */
function kindOf(f: Fields): Kind | null {
  if (f.has('defaultinboundaction') && f.has('enabled')) return 'policy';
  if (f.has('networkcategory')) return 'profile';
  if (f.has('direction') && f.has('action')) return 'rule';
  if (f.has('localport') && f.has('localaddress'))
    return f.has('remoteport') || f.has('state') ? 'tcp' : 'sockets';
  if (f.has('ipaddress') && f.has('prefixlength')) return 'address';
  return netKindOf(f) === null ? null : 'other';
}

function onOf(text: string): boolean | null {
  if (YES.test(text) || /^(notconfigured|2)$/i.test(text)) return true;
  return NO.test(text) ? false : null;
}

/** A field of an object that may be kept in another object, which the listing does not show. */
const unlessMissing = <T>(isMissing: boolean, field: FieldName, value: T): Said<T> =>
  isMissing ? open({ doubt: 'not-shown', fields: [field] }) : known(value);
