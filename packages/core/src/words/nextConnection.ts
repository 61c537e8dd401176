import { formatAddress, formatEndpoint, isReachable, type Address } from '../net/index.ts';

/** What becomes of the connection that a program asks its clients to make after its first answer. */
export interface NextConnectionFate {
  readonly now: Address;
  readonly port: number | null;
  /** Ports of such connections that do not get through to the address dialled; null: they do, or open. */
  readonly shut: { readonly first: number; readonly last: number } | null;
}

/** One line beside the verdict on the first connection. */
export function nextConnectionText({ now, port, shut }: NextConnectionFate): string {
  const where = port === null ? formatAddress(now) : formatEndpoint({ address: now, port });
  const what = isReachable(now) ? 'another address than the one dialled' : 'an inside address';
  const ports = shut && (shut.first === shut.last ? `TCP ${shut.first}` : `TCP ${shut.first}–${shut.last}`);
  const more = ports ? `, and ${ports} does not get through to the one dialled` : '';
  return `The first connection is answered; the next one goes to ${where}, ${what}${more}`;
}
