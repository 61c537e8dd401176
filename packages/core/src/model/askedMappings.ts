import type { AskedMapping } from '../devices/index.ts';
import { parseAddress } from '../net/index.ts';
import { newestWith, toldIn, type CaseFacts } from '../ledger/index.ts';

/**
 * Mappings that programs asked a gateway for, from the newest listing at that stop. Those with a lifetime may
 * have ended since.
 */
export function askedMappings(facts: CaseFacts, stop: string): AskedMapping[] {
  const file = newestWith(facts, stop, 'mapping');
  return (file ? toldIn(file, 'mapping') : []).flatMap(({ value: m }): AskedMapping[] => {
    const protocol = m.protocol?.toLowerCase();
    if (
      m.granted === false ||
      (protocol !== 'tcp' && protocol !== 'udp') ||
      m.externalPort === undefined ||
      !m.internalAddress ||
      !parseAddress(m.internalAddress)
    )
      return [];
    let ends;
    if (m.ends) ends = m.ends * 1000;
    else if (m.lease) ends = Date.parse(file?.at ?? '') + m.lease * 1000;
    else ends = null;
    return [
      {
        protocol,
        port: m.externalPort,
        to: m.internalAddress,
        ...(m.internalPort === undefined ? {} : { toPort: m.internalPort }),
        ...(m.remoteHost ? { from: m.remoteHost } : {}),
        ...(ends === null
          ? {}
          : {
              until: Number.isNaN(ends)
                ? 'a time that the listing does not tell'
                : new Date(ends).toISOString(),
            }),
        by: 'a program',
      },
    ];
  });
}
