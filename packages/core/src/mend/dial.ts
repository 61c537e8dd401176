import {
  addressKind,
  formatAddress,
  isReachable,
  parseAddress,
  sameAddress,
  type Address,
} from '../net/index.ts';
import { factsOf } from '../ledger/index.ts';
import { wanAddress } from '../model/index.ts';
import { addressWithKind } from '../words/index.ts';
import type { Mend } from './mend.ts';
import type { MendContext } from './context.ts';
import { withMachine, type Scene } from './scene.ts';

/** The packet went to an address that is not the gateway's: dialled or resolved wrongly. */
export function dialMend(c: MendContext, dialled: Address): Mend | null {
  const outside = outsideAddress(c);
  if (!outside || !isReachable(outside.address) || sameAddress(outside.address, dialled)) return null;
  const record = factsOf(c.facts, 'name').find((n) =>
    n.fact.answers.some((a) => sameAddress(parseAddress(a) ?? outside.address, dialled)),
  );
  const [now, mended] = [formatAddress(dialled), formatAddress(outside.address)];
  const apply = (scene: Scene): Scene => ({
    ...scene,
    packet: { ...scene.packet, destination: { ...scene.packet.destination, address: outside.address } },
  });
  const common = {
    stop: clientStop(c),
    values: [{ label: 'Address', now, mended }],
    commands: [],
    opens: 'nothing',
    apply,
    evidence: [...(record ? [record.source] : []), ...(outside.source ? [outside.source] : [])],
  };
  if (record) {
    const open = isReachable(dialled);
    return {
      ...common,
      fault: open ? 'name-stale' : 'name-private',
      wrong: open
        ? `${record.fact.name} resolves to ${now}, and the gateway is ${mended}`
        : `${record.fact.name} resolves to ${addressWithKind(dialled)}, which nobody outside can reach`,
      title: `Point ${record.fact.name} to ${mended}`,
      where: `the zone of ${record.fact.name}, record ${record.fact.type}`,
      also: 'Let an updater keep the record true, since the address may change again; old answers live until their time to live is over.',
    };
  }
  return isReachable(dialled)
    ? {
        ...common,
        fault: 'wan-changed',
        wrong: `the client dials ${now}, and the gateway’s outside address is ${mended} now`,
        title: `Dial ${mended}`,
        where: 'what the client types',
        also: 'A name with an updater spares the next change.',
      }
    : {
        ...common,
        fault: 'dial-private',
        wrong: `the client dials ${addressWithKind(dialled)}, an inside address`,
        title: `Dial ${mended} instead`,
        where: 'what the client types',
        also: null,
      };
}

const clientStop = ({ facts }: MendContext): string =>
  facts.document.path.find((s) => s.role === 'client')?.id ?? 'client';

function outsideAddress(
  c: MendContext,
): { address: Address; source: { file: string; line: number } | null } | null {
  for (const stop of c.facts.document.path) {
    if (stop.role !== 'gateway' && stop.role !== 'host') continue;
    const machine = c.scene.site.machines.find((m) => m.id === stop.id);
    if (!machine) continue;
    const wan = stop.role === 'gateway' ? wanAddress(c.facts, machine) : null;
    if (wan) return wan;
    const own = machine.interfaces
      ?.flatMap((i) => i.addresses)
      .find((a) => a.address.family === 4 && isReachable(a.address));
    if (own) return { address: own.address, source: own.source };
  }
  return null;
}

const lower = (name: string): string => name.charAt(0).toLowerCase() + name.slice(1);

/** The carrier shares one public address between customers: nothing inbound can work until that changes. */
export function sharedMend(c: MendContext, address: Address, gateway: string): Mend {
  const machine = c.scene.site.machines.find((m) => m.id === gateway)!;
  const wan = wanAddress(c.facts, machine);
  const v6only = wan !== null && addressKind(wan.address).kind === 'ds-lite';
  const carrier = c.run.stop ?? 'carrier';
  return {
    fault: v6only ? 'carrier-v6-only' : 'carrier-shared',
    stop: carrier,
    wrong: `the outside address of the ${lower(c.names(gateway))}, ${wan ? formatAddress(wan.address) : 'unknown'}, is ${v6only ? 'only good for the carrier’s IPv6 tunnel' : 'shared by the carrier'}${wan ? ` (${addressKind(wan.address).rfc})` : ''}; ${c.run.ending.kind === 'shared-address' && c.run.ending.source ? 'the internet sees' : 'the client dials'} ${formatAddress(address)}`,
    title: 'Ask the carrier for a public IPv4 address',
    where: 'the contract with the carrier',
    values: [
      {
        label: 'WAN address',
        now: wan ? formatAddress(wan.address) : null,
        mended: 'a public address of its own',
      },
    ],
    commands: [],
    also: 'Other ways round: IPv6 with an opening for this port, a relay or tunnel that leases a port, or a rented machine in front.',
    opens: 'nothing by itself; the forward decides',
    evidence: [
      ...(wan?.source ? [wan.source] : []),
      ...(c.run.ending.kind === 'shared-address' && c.run.ending.source ? [c.run.ending.source] : []),
    ],
    apply: (scene) => {
      const given = withMachine(scene, gateway, (m) => ({
        ...m,
        interfaces: (m.interfaces ?? []).map((i) =>
          wan && i.addresses.some((a) => sameAddress(a.address, wan.address))
            ? {
                ...i,
                addresses: i.addresses.map((a) =>
                  sameAddress(a.address, wan.address) ? { ...a, address, prefixLength: 32 } : a,
                ),
              }
            : i,
        ),
      }));
      return {
        ...given,
        site: {
          ...given.site,
          sharedAddresses: given.site.sharedAddresses.filter((s) => s.gateway !== gateway),
        },
      };
    },
  };
}
