import { trace } from '../../crossing/index.ts';
import { factsOf, type CaseFacts } from '../../ledger/index.ts';
import { nextConnection, type Mend, type Scene } from '../../mend/index.ts';
import type { SourceRef } from '../../place/index.ts';
import { nextConnectionText } from '../../words/index.ts';

/**
 * What becomes of the connection after the first one: where the program sends its clients, and whether the
 * ports of such connections get through to the address that was dialled.
 */
export function nextConnectionOf(
  facts: CaseFacts,
  scene: Scene,
  mend: Mend,
): { readonly text: string; readonly source: SourceRef | null } | null {
  const next = nextConnection(facts);
  if (!next) return null;
  const set = factsOf(facts, 'data-ports').at(-1)?.fact.value ?? null;
  const ports = set ?? (next.port === null ? null : { first: next.port, last: next.port });
  const isShut = ports !== null && [ports.first, ports.last].some((p) => isKeptOut(scene, p, mend.stop));
  return {
    text: nextConnectionText({ now: next.address, port: next.port, shut: isShut ? ports : null }),
    source: next.source,
  };
}

/** Nothing listens on such a port between transfers: what the server itself answers there proves nothing. */
function isKeptOut({ site, packet }: Scene, port: number, server: string): boolean {
  const to = { ...packet, destination: { ...packet.destination, port } };
  const { outcome, shown } = trace(site, to, { explain: false });
  if (outcome !== 'lost' && outcome !== 'refused') return false;
  return shown.stop !== server || shown.ending.kind !== 'closed-port';
}
