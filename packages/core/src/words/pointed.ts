import type { Pointed, PointedMeaning } from '../intake/index.ts';

const MEANINGS: Readonly<Record<PointedMeaning, string>> = {
  'outside-address': 'the gateway’s outside address',
  'inside-address': 'the gateway’s inside address',
  'server-address': 'the server’s address',
  'client-address': 'the client’s address',
  'seen-address': 'what the internet sees of it',
  forward: 'a forward',
  'tcp-port': 'a TCP port of the service',
  'udp-port': 'a UDP port of the service',
};

/** `203.0.113.50 is the gateway’s outside address` */
export const pointedText = ({ part, meaning }: Pointed): string => `${part} is ${MEANINGS[meaning]}`;
