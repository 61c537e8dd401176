import type { Misplaced, Whose } from '../ledger/index.ts';
import type { StopNames } from './named.ts';

/** Why a piece of evidence is taken to be from a stop: the rest of "likely this one: …". */
export function whoseText(w: Whose, names: StopNames): string {
  switch (w.by) {
    case 'forward-table':
      return 'a forward table is a gateway’s';
    case 'zone-page':
      return 'rules and translations of zones are a gateway’s';
    case 'portal':
      return 'forwards are kept in the carrier’s portal';
    case 'leases':
      return 'leases are given out by a gateway';
    case 'lookup':
      return 'a name is looked up by the client';
    case 'status-page':
      return 'it looks like a status page';
    case 'mappings':
      return 'mappings are kept by a gateway';
    case 'outside':
      return 'it was tried from outside';
    case 'program':
      return 'it is how a program on the server is set';
    case 'own-firewall':
      return 'it is a machine’s own firewall';
    case 'perimeter':
      return 'it is what the perimeter lets in';
    case 'only-machine':
      return 'only the server has rules';
    case 'translates':
      return 'it translates or forwards';
    case 'guards':
      return 'it only guards the machine itself';
    case 'listeners':
      return 'what listens is asked of the server first';
    case 'notice':
      return 'it says what a carrier does';
    case 'own-settings':
      return 'an address beside its default gateway is a machine’s own';
    case 'nothing':
      return 'nothing in it says whose it is';
    case 'names':
      return `it names the ${w.what}`;
    case 'page':
      return `“${w.label}” stands on a gateway’s page`;
    case 'forwarding':
      return w.on ? 'it forwards' : 'it does not forward';
    case 'inside-network':
      return `${w.address} lies on its inside network`;
    case 'holds':
      return `it holds the address ${w.address}`;
    case 'default-gateway-of-other':
      return `${w.address} is another stop’s default gateway`;
    case 'forward-target':
      return `a forward sends to ${w.address}`;
    case 'dialled':
      return `the client dials ${w.address}`;
    case 'gateway-is-inside-address':
      return `its default gateway ${w.address} is the gateway’s inside address`;
    case 'outside-kind':
      return `its outside address ${w.address} is ${w.reachable ? 'public' : 'private'}`;
    case 'address-kind':
      return `${w.address} is ${w.reachable ? 'public' : 'an inside address'}`;
    case 'packets':
      return `it holds packets to ${w.to}`;
    case 'log':
      return `it logs packets to ${w.to}`;
    case 'address-of':
      return `it holds the ${w.what}’s address ${w.address}`;
    case 'same-address':
      return `it holds ${w.address}, as ${names(w.stop)} does`;
    case 'prompt':
      return `its prompt is of ${w.host}`;
    case 'listener':
      return `${w.program ?? 'a program'} listens on ${w.port} there`;
    case 'gateway-in-network':
      return `its default gateway lies in the network of ${names(w.stop)}`;
    case 'gateway-kind':
      return w.reachable ? 'its default gateway is public' : 'its default gateway is inside';
  }
}

/** Why a piece of evidence cannot be from the stop that it lies at, and what that means. */
export const misplacedText = (m: Misplaced, stop: string, names: StopNames): string =>
  `Another machine’s: ${proofText(m, stop, names)}. It counts nowhere until it is moved.`;

function proofText(m: Misplaced, stop: string, names: StopNames): string {
  const own = names(stop);
  switch (m.by) {
    case 'own-gateway':
      return `its default route leads to ${m.address}, which is ${own} itself`;
    case 'interfaces':
      return `its routes leave by ${m.names.join(', ')}, which ${own} does not have`;
    case 'sockets':
      return `it listens on ${m.address}, which is an address of ${names(m.stop)}`;
  }
}
