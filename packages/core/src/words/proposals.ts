import type { StopReason } from '../case/index.ts';
import type { ClientProposal, Proposal } from '../proposals/index.ts';
import type { StopNames } from './named.ts';
import { inSentence } from './named.ts';

/** A proposal for people: what was found, and what taking or refusing it does. */
export interface ProposalWords {
  readonly text: string;
  readonly accept: string;
  readonly refuse: string;
}

/** Why a stop stands on the way that nobody has named. */
export function reasonText(reason: StopReason, names: StopNames): string {
  switch (reason.by) {
    case 'private-wan':
      return (
        `the outside address of ${inSentence(names(reason.gateway))}, ${reason.address}, is private, ` +
        'so another router stands before it'
      );
    case 'shared-wan':
      return (
        `the outside address of ${inSentence(names(reason.gateway))}, ${reason.address}, is shared by ` +
        'a carrier (RFC 6598)'
      );
    case 'hops':
      return `on the way out a second private address, ${reason.address}, answers behind the gateway’s`;
    case 'tunnel-route':
      return (
        `${inSentence(names(reason.machine))} sends everything into ${reason.device}, so its answers ` +
        'leave at the tunnel’s far end'
      );
    case 'container':
      return (
        `${inSentence(names(reason.machine))} translates the port to ${reason.address} on its bridge ` +
        `${reason.device}: the program runs in a container`
      );
    case 'provider':
      return (
        `${inSentence(names(reason.machine))} has private addresses only, and the internet sees ` +
        `${reason.address}: a perimeter of its provider stands before it`
      );
    case 'inner-router':
      return (
        `the default gateway of ${inSentence(names(reason.machine))}, ${reason.via}, is not on the ` +
        `network of ${inSentence(names(reason.gateway))}, so a router stands between`
      );
  }
}

const endpointsText = (
  list: readonly { readonly protocol: string; readonly port: number; readonly portEnd?: number }[],
): string =>
  list.map((e) => `${e.protocol.toUpperCase()} ${e.port}${e.portEnd ? `–${e.portEnd}` : ''}`).join(' and ');

function writtenText({ written, slip }: ClientProposal): string {
  if (written === null) return 'nobody has said which address the client has';
  return `the case says that the client is ${written}${slip ? ` (${slip})` : ''}`;
}

const configurationOf = (program: string): string =>
  program === 'nginx' || /^[A-Z]/.test(program)
    ? `${program}’s configuration`
    : program.replace(/^the/, 'The');

export function proposalWords(p: Proposal, names: StopNames): ProposalWords {
  switch (p.kind) {
    case 'stop':
      return {
        text: `${p.stop.name}: ${reasonText(p.reason, names)}.`,
        accept: 'Put it on the crossing',
        refuse: 'It is not there',
      };
    case 'endpoint':
      return {
        text:
          `${configurationOf(p.program)} says ${endpointsText(p.endpoints)}` +
          `${p.protocolUnsaid && !p.instead ? ' (not which of the two)' : ''}, ` +
          (p.instead
            ? `and the case has ${endpointsText([p.instead])}.`
            : 'which the service of this case lacks.'),
        accept: p.instead ? 'Take it instead' : 'Add it to the service',
        refuse: 'Not part of it',
      };
    case 'logged-port':
      return {
        text:
          `${names(p.stop)}: its log ${p.isKeptOut ? 'kept out' : 'shows'} ` +
          `${p.count === 1 ? 'a packet' : `${p.count} packets`} from ${p.from} to ` +
          `${endpointsText([p.endpoint])}, which the service of this case lacks.`,
        accept: 'Add it to the service',
        refuse: 'Not part of it',
      };
    case 'client-address':
      return {
        text: `${p.seen} came to the service’s port; ${writtenText(p)}.`,
        accept: `The client is ${p.seen}`,
        refuse: 'Somebody else',
      };
    case 'typed-slip':
      return {
        text: `${names(p.stop)}: ${p.typed} was typed, and ${p.printed} is what was printed (${p.slip}).`,
        accept: `Take the typed ${p.typed} away`,
        refuse: 'Keep both',
      };
    case 'same-machine':
      return {
        text:
          `${names(p.stop)} and ${names(p.other)} are one machine: both have ` +
          `${'mac' in p.by ? `the link address ${p.by.mac}` : p.by.address}.`,
        accept: `Join them as ${names(p.stop)}`,
        refuse: 'Two machines',
      };
  }
}
