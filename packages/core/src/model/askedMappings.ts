import type { AskedMapping } from '../devices/index.ts';
import { parseAddress } from '../net/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import type { NotedFact } from '../facts/index.ts';

/** A mapping as the readers of IGD, NAT-PMP and gateway files note it. */
interface Noted {
  readonly protocol?: string;
  readonly externalPort?: number;
  readonly internalAddress?: string;
  readonly internalPort?: number;
  /** Seconds left when it was listed; 0: it does not end (UPnP IGD:2 §2.5.16). */
  readonly lease?: number;
  /** Seconds since 1970; 0: it does not end. */
  readonly ends?: number;
  readonly granted?: boolean;
}

/** Mappings that programs asked a gateway for, from the newest listing at that stop. Those with a lifetime may have ended since. */
export function askedMappings(facts: CaseFacts, stop: string): AskedMapping[] {
  const isMapping = (f: { kind: string; topic?: string }): boolean =>
    f.kind === 'noted' && f.topic === 'mappings';
  const file = facts.files.filter((f) => f.stop === stop && f.facts.some(isMapping)).pop();
  return ((file?.facts ?? []) as readonly NotedFact[]).filter(isMapping).flatMap((f): AskedMapping[] => {
    const m = f.value as unknown as Noted;
    const protocol = m.protocol?.toLowerCase();
    if (
      m.granted === false ||
      (protocol !== 'tcp' && protocol !== 'udp') ||
      m.externalPort === undefined ||
      !m.internalAddress ||
      !parseAddress(m.internalAddress)
    )
      return [];
    const ends = m.ends ? m.ends * 1000 : m.lease ? Date.parse(file!.at ?? '') + m.lease * 1000 : null;
    return [
      {
        protocol,
        port: m.externalPort,
        to: m.internalAddress,
        ...(m.internalPort === undefined ? {} : { toPort: m.internalPort }),
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
