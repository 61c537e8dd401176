import { withId } from '../place/index.ts';
import { isDismissed } from '../case/index.ts';
import type { CaseFacts } from '../ledger/index.ts';
import { addressKind, formatAddress } from '../net/index.ts';
import type { Machine, NetInterface, Site } from '../site/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { SameMachineProposal } from './types.ts';

/** Many machines have bridges with the same addresses; they tell nothing about who is who. */
const COMMON = /^(?:docker|br-|virbr|podman|cni|lxc|lo|wg|tun)/;

/** Stops that hold the same link address or the same address of their own. */
export function sameMachines(facts: CaseFacts, site: Site): SameMachineProposal[] {
  const machines = facts.document.path
    .map((s) => withId(site.machines, s.id))
    .filter((m) => m.interfaces !== null);
  const out: SameMachineProposal[] = [];
  machines.forEach((a, i) => {
    for (const b of machines.slice(i + 1)) {
      const id = `same/${a.id}/${b.id}`;
      const found = sharedMark(a, b);
      if (found && !isDismissed(facts.document, id))
        out.push({
          kind: 'same-machine',
          id,
          stop: a.id,
          other: b.id,
          by: found.by,
          evidence: found.evidence,
        });
    }
  });
  return out;
}

const own = (m: Machine): NetInterface[] =>
  (m.interfaces ?? []).filter((i) => !i.loopback && !COMMON.test(i.name));
const sources = (...list: readonly (SourceRef | null)[]): SourceRef[] =>
  list.filter((s): s is SourceRef => s !== null);

function sharedMark(a: Machine, b: Machine): { by: SameMachineProposal['by']; evidence: SourceRef[] } | null {
  for (const x of own(a)) {
    for (const y of own(b)) {
      if (x.mac && y.mac && x.mac.toLowerCase() === y.mac.toLowerCase() && !/^00(:00){5}$/.test(x.mac))
        return { by: { mac: x.mac }, evidence: sources(x.source, y.source) };
      const shared = x.addresses.find(
        (p) =>
          !['link-local', 'loopback'].includes(addressKind(p.address).kind) &&
          y.addresses.some((q) => q.address.family === p.address.family && q.address.bits === p.address.bits),
      );
      // The client of a case may have the address of any home network.
      if (shared && a.role !== 'client' && b.role !== 'client')
        return { by: { address: formatAddress(shared.address) }, evidence: sources(shared.source, y.source) };
    }
  }
  return null;
}
