import type { Span } from '../../place/index.ts';
import type { TryOutcome } from './outcomes.ts';

/** What one line of a client program's output says about its try. */
export interface Try {
  readonly at: Span;
  readonly outcome: TryOutcome;
  /** Set apart from `outcome` where a program says more. */
  readonly says?: string;
  readonly to?: string;
  readonly protocol?: 'tcp' | 'udp';
  readonly client?: string;
  readonly status?: number;
}

/** `203.0.113.50:8214`, `[2001:db8::50]:8214` */
export const endpoint = (host: string, port: string): string =>
  host.includes(':') ? `[${host}]:${port}` : `${host}:${port}`;
