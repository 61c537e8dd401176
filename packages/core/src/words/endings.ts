import { inSentence, type StopNames } from './named.ts';
import type { Ending } from '../crossing/index.ts';
import { addressKind, formatAddress, formatEndpoint, type Address } from '../net/index.ts';
import { needLine } from './needs.ts';
import type { RejectKind } from '../rules/index.ts';

const REFUSALS: Readonly<Record<RejectKind, string>> = {
  'by-transport': 'with a reset, or “port unreachable” where it is not TCP',
  'tcp-reset': 'with a reset',
  'port-unreachable': 'with “port unreachable”',
  'host-unreachable': 'with “host unreachable”',
  'net-unreachable': 'with “network unreachable”',
  'admin-prohibited': 'with “prohibited”',
  'protocol-unreachable': 'with “protocol unreachable”',
};

const KIND_WORDS: Readonly<Partial<Record<ReturnType<typeof addressKind>['kind'], string>>> = {
  public: 'public',
  documentation: 'public',
  private: 'private',
  shared: 'shared by the carrier',
  'ds-lite': 'good only inside the carrier’s tunnel',
  'link-local': 'link-local',
  loopback: 'loopback',
  'unique-local': 'local to the site',
};

/** `100.72.14.9 (shared by the carrier, RFC 6598)` */
export function addressWithKind(a: Address): string {
  const row = addressKind(a);
  const word = KIND_WORDS[row.kind] ?? row.name;
  return row.kind === 'public' || row.kind === 'documentation'
    ? `${formatAddress(a)} (${word})`
    : `${formatAddress(a)} (${word}, ${row.rfc})`;
}

/** Rules that only look at the first packet of a connection. */
const OPENS = 'the connection opens, and then ';

/** One sentence: why the packet ended there. */
export function endingText(ending: Ending, stop: string | null, names: StopNames): string {
  const at = names(stop);
  switch (ending.kind) {
    case 'listener':
      return ending.socket?.program
        ? `${ending.socket.program} on ${at} takes it, and the answer gets back`
        : `${at} takes it, and the answer gets back`;
    case 'closed-port':
      return closedPortText(ending, at);
    case 'rule': {
      const what = ending.further ? 'what follows' : 'it';
      const does = ending.reject ? `refuses ${what} ${REFUSALS[ending.reject]}` : `drops ${what}`;
      return `${ending.further ? OPENS : ''}${at} ${does}: ${ending.rule.text}`;
    }
    case 'policy':
      return ending.further
        ? `${OPENS}${at} drops what follows: no rule of “${ending.chain.name}” lets ` +
            'connections that stand go on'
        : `${at} drops it: no rule of “${ending.chain.name}” lets it through`;
    case 'translation-impossible':
      return `${at} cannot translate it: ${ending.rule.text}`;
    case 'no-route':
      return `${at} has no route to ${formatAddress(ending.destination)}`;
    case 'special-route':
      return `${at} has ${ending.type === 'unreachable' ? 'an' : 'a'} ${ending.type} route for it`;
    case 'forwarding-off':
      return `forwarding is switched off on ${at}`;
    case 'reverse-path':
      return (
        `${at} drops it: the way back to ${formatAddress(ending.address)} does not lead out of ` +
        `${ending.interface} (reverse-path check)`
      );
    case 'martian':
      return `${at} drops it: ${formatAddress(ending.address)} cannot stand in a packet from outside`;
    case 'nobody-there':
      return ending.unlinked
        ? `${ending.unlinked.interface.name} of ${inSentence(names(ending.unlinked.stop))} has no link, ` +
            `so that nobody answers for ${formatAddress(ending.address)}`
        : `nobody answers for ${formatAddress(ending.address)} on ${ending.interface} of ${at}`;
    case 'link-down':
      return `${ending.interface.name} of ${at} has no link`;
    case 'loop':
      return `it goes round in a circle until ${at} gives up`;
    case 'not-expected':
      return (
        `what comes back to ${at} is from ${formatEndpoint(ending.got.source)} and not from ` +
        `${formatEndpoint(ending.expected.source)}, so the client ignores it`
      );
    case 'not-routed':
      return `${addressWithKind(ending.address)} cannot be reached across the internet`;
    case 'shared-address':
      return (
        `${formatAddress(ending.address)} belongs to the carrier and is shared; nothing there leads ` +
        `to ${names(ending.gateway)}`
      );
    case 'elsewhere':
      return `${formatAddress(ending.address)} is not the address of any stop of this case`;
    case 'astray':
      return `${at} sends it to ${formatAddress(ending.address)}, which is not the server`;
    case 'left-by-tunnel':
      return `it leaves ${at} through ${ending.interface}, whose far end is not known`;
    case 'not-known':
      return `not known: ${needLine(ending.need, names)}`;
  }
}

function closedPortText(ending: Extract<Ending, { kind: 'closed-port' }>, at: string): string {
  const asked = formatEndpoint(ending.endpoint);
  const near = ending.near[0];
  if (!near) return `nothing listens on port ${ending.endpoint.port} of ${at}`;
  const where = near.address
    ? formatEndpoint({ address: near.address, port: near.port })
    : `${near.families.includes(4) ? '0.0.0.0' : '[::]'}:${near.port}`;
  const who = near.program ?? 'the program';
  const isLoopback = near.address && addressKind(near.address).kind === 'loopback';
  return (
    `nothing on ${at} takes ${asked}: ${who} listens on ${where} ` +
    `${near.transport}${isLoopback ? ' only (loopback)' : ''}`
  );
}
