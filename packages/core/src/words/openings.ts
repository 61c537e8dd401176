import { isNeed } from '../crossing/index.ts';
import type { Exposure } from '../exposure/index.ts';
import { formatAddress } from '../net/index.ts';
import type { StopNames } from './named.ts';
import { needLine } from './needs.ts';

/** Who takes what comes from outside: a program, whatever listens there, or where nobody knows. */
export function listenerText({ socket, program, beyond }: Exposure, names: StopNames): string {
  if (beyond !== null) {
    if (isNeed(beyond)) return `nobody knows who: ${needLine(beyond, names)}`;
    if (beyond.kind === 'astray') return `${formatAddress(beyond.address)}, which is no stop of this case`;
    return beyond.kind === 'left-by-tunnel' ? `whatever is behind ${beyond.interface}` : 'somebody else';
  }
  if (!socket) return 'whatever listens there';
  const at = socket.address ? formatAddress(socket.address) : 'all addresses';
  return `${program ?? 'a program'} on ${at}:${socket.port}`;
}

/** More than this are told as a power of two. */
const COUNTABLE = 2 ** 33;

/** How many addresses a row lets in. */
export function letInText(count: number | 'anyone'): string {
  if (count === 'anyone') return 'every address';
  if (count > COUNTABLE) return `about 2^${Math.round(Math.log2(count))} addresses`;
  return count === 1 ? 'one address' : `${count.toLocaleString('en')} addresses`;
}

/** Whether the service of a case asks for an opening, and for all that it lets in. */
export function askedText(isAsked: boolean, isWider: boolean): string {
  if (!isAsked) return 'no service here asks for it';
  return isWider ? 'yes, but not for all of these' : 'yes';
}

/** Who gets to a program from outside. */
export const reachText = (reach: 'anyone' | 'some' | 'perhaps' | 'nobody'): string =>
  ({ anyone: 'anyone', some: 'some senders', perhaps: 'not certain', nobody: 'nobody' })[reach];
