import type { Assumption } from '../crossing/index.ts';
import { formatAddress } from '../net/index.ts';
import { inSentence, type StopNames } from './named.ts';

/** An assumption as a clause that stands behind “taken for granted:”. */
export function assumptionText(a: Assumption, names: StopNames): string {
  const stop = inSentence(names(a.stop));
  switch (a.assumed) {
    case 'client-machine':
      return `${stop}’s own machine lets its call out and the answer in`;
    case 'carriers': {
      const { transport, destination } = a.packet;
      return `${stop} and the routers beyond pass ${destination.port}/${transport}`;
    }
    case 'only-front-end':
      return `nothing but ${a.program} filters on ${stop}`;
    case 'rest-is-dropped':
      return `${stop} drops what no rule of its page names`;
    case 'next-hop':
      return `${formatAddress(a.address)}, the next hop of ${stop}, is a router that works`;
  }
}
