import type { FaultId } from '../faults/index.ts';

/** What a record, a try or the caller's own words show by themselves, in a sentence without its full stop. */
const TEXTS = {
  'fwd-disabled': (address: string) => `the mapping of ${address} is switched off`,
  'fwd-target-typo': (address) =>
    `The forward leads to ${address}, which is not on its own network: it is behind the next gateway`,
  'static-inside-out': (address) =>
    `${address} stands as the inside address of its mapping: the sides are exchanged`,
  'name-missing': (of) => `${of} has no address`,
  'name-cached': (of) => `${of} is answered in two ways: one of them is an old answer`,
  'name-srv-wrong': (of) => `The service record of ${of} names another port`,
  'dial-syntax': (of) => of,
  'dial-private': (of) => of,
  'name-v6-closed': () => 'The name also has an IPv6 address, and that way is closed',
  'listen-acl': () => 'The program’s own access list refuses the client',
  'listen-full': () => 'All places for connections are taken',
  'listen-tls': () => 'One side speaks TLS, and the other does not',
  'gateway-port': () => 'The gateway’s own page answers on this port',
  'host-drop': (from) => `The server’s own log shows packets from ${from} kept out`,
  'host-suite': () => 'Another security program on the server keeps packets out',
  'carrier-shield': () => 'The carrier’s shield holds it back',
  'carrier-portal': () => 'Forwards are kept in the carrier’s portal',
  'carrier-port-block': () => 'The carrier keeps this port out',
  'carrier-shared': () => 'The carrier shares the address',
  'wan-down': () => 'The outside line is down',
  'carrier-v6-only': () => 'The line has no IPv4 address of its own',
  'edge-no-address': () => 'The machine has no public address',
  'session-stale': () => 'An old session still leads the client’s packets to another machine',
  'auto-lapsed': () => 'The mapping that the program asked for has lapsed, or is another machine’s',
  'test-ping': () => 'A ping decides nothing about a port',
  'test-from-inside': () => 'It was tried from inside; from outside it works',
  'test-while-down': () => 'It was tried while nothing was listening',
  'test-wrong-protocol': () => 'The test spoke TCP, and the service speaks UDP',
  'test-udp-silence': () => 'Silence of a UDP service is not “closed”',
  'client-egress': () => 'The client’s own network lets this port not out',
  'hairpin-missing': () => 'The gateway does not turn round what comes from inside',
  'host-off': () => 'The server does not answer on its own network',
  'container-unpublished': () => 'The program runs in a container, and the machine does not publish its port',
  'port-excluded': () => 'The system keeps this port from programs',
  'announces-inside': () => 'The program tells clients an inside address',
  'host-asymmetric': (of) => `The answer leaves by ${of}`,
  'wan-other-line': (of) =>
    `The answer may leave by ${of}, and not by the line on which the question came in`,
} satisfies Partial<Record<FaultId, (of: string) => string>>;

export type ShownFault = keyof typeof TEXTS;

/** @param of what it is about: a name, an interface, a text; empty where there is nothing to name */
export const shownFaultText = (id: ShownFault, of: string): string =>
  (TEXTS[id] as (of: string) => string)(of);
