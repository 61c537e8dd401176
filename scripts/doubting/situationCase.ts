import type { CaseFolder } from '@bright-ferry/core/case';
import { withEvidence, withTyped } from '@bright-ferry/core/case';
import { parseDialled } from '@bright-ferry/core/intake';
import { parseAddress } from '@bright-ferry/core/net';
import { openedBy, type Situation } from '../../packages/web/src/testing/situations.ts';

const NOW = '2026-11-01T10:00:00Z';

/** A situation as a case folder, and the packets that its complaint is about. */
export function situationCase(situation: Situation): {
  readonly whole: CaseFolder;
  readonly packets: readonly { readonly from: string; readonly to: string }[];
} {
  let document = openedBy(situation, NOW);
  const files = new Map<string, Uint8Array>();
  const idOf = (role: string): string =>
    document.path.find((s) => s.role === (role === 'server' ? 'host' : role))?.id ?? role;
  for (const [i, [stop, text]] of situation.pieces.entries()) {
    if (stop === 'typed') {
      document = withTyped(document, idOf(situation.way ? 'edge' : 'gateway'), { text, at: NOW });
      continue;
    }
    const file = `evidence/${i + 1}.txt`;
    files.set(file, new TextEncoder().encode(text));
    document = withEvidence(document, { file, stop: idOf(stop) });
  }
  const host = parseDialled(document.client?.dials ?? '')?.host ?? '';
  const from = document.client?.address ?? '192.0.2.254';
  const packets = parseAddress(host)
    ? (document.service?.endpoints ?? []).map((e) => ({
        from: `${from}:40001`,
        to: `${host}:${e.port}/${e.protocol}`,
      }))
    : [];
  return { whole: { document, files }, packets };
}
