import type { Span } from '../place/index.ts';
import type { PortSet } from '../net/index.ts';
import type { ForwardFact } from './facts.ts';
import { known } from './field.ts';

/** A forward of which everything is said: on, for anyone, on every outside address. */
export const plainForward = (
  at: Span,
  protocol: 'tcp' | 'udp' | 'both',
  outside: PortSet,
  target: string,
  inside: PortSet | 'same' = 'same',
): ForwardFact => ({
  kind: 'forward',
  at,
  protocol: known(protocol),
  outside: known(outside),
  outsideWithin: null,
  target: known(target),
  device: null,
  inside: known(inside),
  enabled: known(true),
  applied: null,
  sources: known(null),
  outsideAddress: known(null),
  narrowed: [],
});
