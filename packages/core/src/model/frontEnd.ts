import { frontEndProgram, type FrontEndListing, type FrontEndZone } from '../devices/index.ts';
import type { CaseFacts, ReadFile } from '../ledger/index.ts';
import type { Program } from '../rules/index.ts';
import type { Machine } from '../site/index.ts';

/** Interfaces that container engines make: their own rules pass by a front end. */
const OF_CONTAINERS = /^(?:docker\d+|podman\d+|cni\d*|cni-.*|br-[0-9a-f]{12}|lxcbr\d+|lxdbr\d+|incusbr\d+)$/;

/**
 * The packet filter of a Linux machine of which only its front end was listed; null where none was, or where
 * other rules are known to be there, as those of containers, which its rows do not show.
 */
export function frontEndFrom(facts: CaseFacts, machine: Machine): Program | null {
  const pieces = facts.files.filter((f) => f.stop === machine.id);
  if (hasContainers(machine, pieces) || pieces.some(showsRules)) return null;
  const listed = pieces.flatMap((file) =>
    file.facts.flatMap((f) => (f.kind === 'front-end' ? [{ file, listing: f.value }] : [])),
  );
  const programs = (['ufw', 'firewalld'] as const).flatMap((name) => {
    const own = listed.filter((l) => l.listing.program === name);
    const last = own[own.length - 1];
    return last ? [{ ...last, listing: together(own.map((l) => l.listing)) }] : [];
  });
  const on = programs.filter((p) => p.listing.on);
  const counting = on.length > 0 ? on : programs.slice(0, 1);
  const compiled = counting.map(({ file, listing }) => frontEndProgram(listing, file.file, isWhole(file)));
  return compiled.length === 0
    ? null
    : {
        baseChains: compiled.flatMap((p) => p.baseChains),
        chains: compiled.flatMap((p) => p.chains),
      };
}

/** Rules that were listed only in part: what the front end does not show is there for sure. */
const showsRules = (file: ReadFile): boolean =>
  file.facts.some((f) => f.kind === 'nft' || f.kind === 'iptables');

const isWhole = (file: ReadFile): boolean => file.covers.includes('front-end');

const hasContainers = (machine: Machine, pieces: readonly ReadFile[]): boolean =>
  machine.interfaces?.some((i) => OF_CONTAINERS.test(i.name)) === true ||
  machine.sockets?.some((s) => s.program === 'docker-proxy' || s.program === 'rootlessport') === true ||
  pieces.some((f) => f.format === 'container-ports' && f.facts.length > 0);

/** The newest listing, with the zones of earlier ones that it does not list. */
function together(listings: readonly FrontEndListing[]): FrontEndListing {
  const last = listings[listings.length - 1];
  if (!last || last.program === 'ufw' || !last.on) return last ?? { program: 'ufw', on: false, zones: [] };
  const zones = new Map<string, FrontEndZone>();
  for (const listing of listings)
    for (const zone of listing.zones) {
      const known = zones.get(zone.name);
      // Names of zones alone do not take back what they were said to do.
      if (!known || zone.rest !== null) zones.set(zone.name, zone);
    }
  return { ...last, zones: [...zones.values()] };
}
