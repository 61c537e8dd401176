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

/** Who gets to a program from outside. */
export const reachText = (reach: 'anyone' | 'some' | 'perhaps' | 'nobody'): string =>
  ({ anyone: 'anyone', some: 'some senders', perhaps: 'not certain', nobody: 'nobody' })[reach];
