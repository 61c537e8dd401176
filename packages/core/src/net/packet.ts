import { formatEndpoint, type Endpoint, type Transport } from './endpoint.ts';

/** IANA protocol numbers of the transports. */
export const PROTOCOL = { icmp: 1, tcp: 6, udp: 17, icmpv6: 58 } as const;

/** The five-tuple of one datagram as it stands on one wire. */
export interface Header {
  readonly transport: Transport;
  readonly source: Endpoint;
  readonly destination: Endpoint;
}

/** The header that an answer carries. */
export const reversed = (h: Header): Header => ({
  transport: h.transport,
  source: h.destination,
  destination: h.source,
});

export const sameEndpoint = (a: Endpoint, b: Endpoint): boolean =>
  a.port === b.port && a.address.bits === b.address.bits && a.address.family === b.address.family;

export const sameHeader = (a: Header, b: Header): boolean =>
  a.transport === b.transport &&
  sameEndpoint(a.source, b.source) &&
  sameEndpoint(a.destination, b.destination);

export const formatHeader = (h: Header): string =>
  `${h.transport} ${formatEndpoint(h.source)} → ${formatEndpoint(h.destination)}`;
