import { factsOf, type CaseFacts } from '../ledger/index.ts';
import type { CarrierDoubt } from '../devices/index.ts';

/**
 * What carriers have written about the line, and what stands at a carrier's stop that no reader
 * understands: whether it keeps a packet from the customer is open until somebody says so.
 */
export function carrierDoubts(facts: CaseFacts): CarrierDoubt[] {
  const carriers = new Set(facts.document.path.filter((s) => s.role === 'carrier').map((s) => s.id));
  const notices = factsOf(facts, 'carrier-notice').flatMap(({ fact: { value, text } }): CarrierDoubt[] =>
    value.about === 'portal'
      ? []
      : [
          {
            doubt: { doubt: 'carrier-notice', about: value.about, text },
            protocol: value.protocol,
            ports: value.ports,
            onlyFour: value.about === 'shared-address',
          },
        ],
  );
  const unread = facts.files
    .filter((f) => carriers.has(f.stop) && f.format === null && f.lines > 0)
    .map((f): CarrierDoubt => ({
      doubt: { doubt: 'unread-notice', file: f.file },
      protocol: null,
      ports: null,
      onlyFour: false,
    }));
  return [...notices, ...unread];
}

/** A page says that forwards are kept in the carrier's portal, and nobody has said otherwise. */
export const saysPortal = (facts: CaseFacts): boolean =>
  factsOf(facts, 'carrier-notice').some((n) => n.fact.value.about === 'portal');
