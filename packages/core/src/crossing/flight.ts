import { PROTOCOL, type Address, type Endpoint, type Header } from '../net/index.ts';
import type { Subject } from '../rules/index.ts';
import type { ErrorKind, Flight } from './types.ts';

export const laneOf = (flight: Flight): 'forward' | 'reply' =>
  flight.form === 'question' || flight.form === 'further' ? 'forward' : 'reply';

export const destinationOf = (flight: Flight): Address =>
  flight.form === 'error' ? flight.destination : flight.header.destination.address;

/** Errors carry no ports; for the wires of the picture they show the addresses they travel between. */
export function headerOf(flight: Flight): Header {
  if (flight.form !== 'error') return flight.header;
  return {
    transport: flight.quote.transport,
    source: { address: flight.source, port: 0 },
    destination: { address: flight.destination, port: 0 },
  };
}

/** SYN, SYN ACK, RST ACK, ACK (RFC 9293 §3.5). */
const FLAGS = { question: 0x02, answer: 0x12, reset: 0x14, further: 0x10 } as const;
/** Destination unreachable (RFC 792, RFC 4443 §3.1) and time exceeded (RFC 792, RFC 4443 §3.3). */
const UNREACHABLE = { 4: 3, 6: 1 } as const;
const TIME_EXCEEDED = { 4: 11, 6: 3 } as const;
/** ICMP codes by kind: RFC 792 and RFC 1812 §5.2.7.1, RFC 4443 §3.1. */
const CODE: Readonly<Record<ErrorKind, Readonly<Record<4 | 6, number>>>> = {
  'net-unreachable': { 4: 0, 6: 0 },
  'host-unreachable': { 4: 1, 6: 3 },
  'protocol-unreachable': { 4: 2, 6: 4 },
  'port-unreachable': { 4: 3, 6: 4 },
  'admin-prohibited': { 4: 13, 6: 1 },
  'time-exceeded': { 4: 0, 6: 0 },
};

/**
 * What travels, as the rules of a machine see it. Written out field by field: this runs for every packet at
 * every machine.
 */
export function subjectOf(flight: Flight, device: string | null): Subject {
  if (flight.form === 'error') return errorSubject(flight, device);
  const { source, destination, transport } = flight.header;
  const isTcp = transport === 'tcp';
  return {
    family: source.address.family,
    protocol: isTcp ? PROTOCOL.tcp : PROTOCOL.udp,
    source: source.address,
    destination: destination.address,
    sport: source.port,
    dport: destination.port,
    icmp: null,
    tcpFlags: isTcp ? FLAGS[flight.form] : null,
    in: device,
    out: null,
    nextHop: null,
    mark: 0,
    tracking: null,
    untracked: false,
  };
}

function errorSubject(flight: Extract<Flight, { form: 'error' }>, device: string | null): Subject {
  const { family } = flight.source;
  const type = flight.kind === 'time-exceeded' ? TIME_EXCEEDED[family] : UNREACHABLE[family];
  return {
    family,
    protocol: family === 4 ? PROTOCOL.icmp : PROTOCOL.icmpv6,
    source: flight.source,
    destination: flight.destination,
    sport: null,
    dport: null,
    icmp: { type, code: CODE[flight.kind][family] },
    tcpFlags: null,
    in: device,
    out: null,
    nextHop: null,
    mark: 0,
    tracking: null,
    untracked: false,
  };
}

/**
 * What travels, as the hooks left it. The quote of an error is translated with it
 * (nf_nat_icmp_reply_translation).
 */
export function flightOf(flight: Flight, subject: Subject): Flight {
  if (flight.form === 'error')
    return {
      ...flight,
      source: subject.source,
      destination: subject.destination,
      quote: translatedQuote(flight.quote, subject),
    };
  const source: Endpoint = { address: subject.source, port: subject.sport ?? 0 };
  const destination: Endpoint = { address: subject.destination, port: subject.dport ?? 0 };
  return { form: flight.form, header: { transport: flight.header.transport, source, destination } };
}

function translatedQuote(quote: Header, { tracking }: Subject): Header {
  const session = tracking?.session;
  if (!session || tracking.state !== 'related' || tracking.direction !== 'reply') return quote;
  return {
    ...quote,
    source: session.sourceTranslated ? session.original.source : quote.source,
    destination: session.destinationTranslated ? session.original.destination : quote.destination,
  };
}
