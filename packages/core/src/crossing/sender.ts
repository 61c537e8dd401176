import { isReachable, sameAddress, type Address } from '../net/index.ts';
import { bareMachine, type Machine, type Site } from '../site/index.ts';

/**
 * The site with a machine for a sender that no evidence describes: a client stop of which nothing is known
 * stands for it, else a stop called `client`. It can talk to its own network, and through that network's
 * router.
 */
export function withSender(site: Site, address: Address): Site {
  if (
    site.machines.some((m) =>
      m.interfaces?.some((i) => i.addresses.some((a) => sameAddress(a.address, address))),
    )
  )
    return site;
  const free = site.machines.find((m) => m.role === 'client' && m.interfaces === null);
  const bare = bareMachine(free?.id ?? 'client', address);
  const blind = isReachable(address) ? null : blindGateway(site);
  return {
    ...site,
    machines: [...site.machines.filter((m) => m !== free), bare],
    ...(blind ? { perhapsInside: blind.id } : {}),
  };
}

/** A gateway whose inside network nobody has told of: a private sender may stand in it. */
const blindGateway = (site: Site): Machine | undefined =>
  site.machines.find(
    (m) =>
      m.role === 'gateway' &&
      !m.interfaces?.some((i) => !i.loopback && i.addresses.some((a) => !isReachable(a.address))),
  );
