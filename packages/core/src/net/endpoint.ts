import { formatAddress, parseAddress, type Address } from './address.ts';
import { parsePort } from './ports.ts';

export type Transport = 'tcp' | 'udp';

/** An address with a transport port 0…65535. */
export interface Endpoint {
  readonly address: Address;
  readonly port: number;
}

/**
 * Reads `192.0.2.1:80` or `[2001:db8::1]:80`; without a port the given default is used. Null where it is
 * neither.
 */
export function parseEndpoint(text: string, defaultPort: number | null = null): Endpoint | null {
  const bracketed = /^\[([^\]]+)\](?::(\d{1,5}))?$/.exec(text);
  const plain = bracketed ?? /^([^:]+)(?::(\d{1,5}))?$/.exec(text);
  const host = plain ? plain[1]! : text;
  const address = parseAddress(host);
  const port = plain?.[2] === undefined ? defaultPort : parsePort(plain[2]);
  return address && port !== null ? { address, port } : null;
}

/** Reads `192.0.2.1:80/tcp` or `[2001:db8::1]:80/udp`; null for anything else. */
export function parseTarget(text: string): (Endpoint & { transport: Transport }) | null {
  const match = /^(.*)\/(tcp|udp)$/i.exec(text);
  const endpoint = match && parseEndpoint(match[1]!);
  return endpoint ? { ...endpoint, transport: match[2]!.toLowerCase() as Transport } : null;
}

/** `192.0.2.1:80`, or `[2001:db8::1]:80` (RFC 5952 §6). */
export function formatEndpoint({ address, port }: Endpoint): string {
  const text = formatAddress(address);
  return address.family === 6 ? `[${text}]:${port}` : `${text}:${port}`;
}
