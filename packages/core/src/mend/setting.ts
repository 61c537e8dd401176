import type { Ending } from '../crossing/index.ts';
import { systemAt } from '../model/index.ts';
import { ADDRESS_LENGTH, prefix, prefixContains, prefixOf } from '../net/index.ts';
import { routeTo } from '../site/index.ts';
import { endMachine, type MendContext } from './context.ts';
import type { Mend } from './mend.ts';
import { withMachine } from './scene.ts';

type Setting = Extract<Ending, { kind: 'forwarding-off' | 'reverse-path' }>;

/** The loose reverse-path check (RFC 3704 §2.4). */
const LOOSE = '2';
const ALL = 'net.ipv4.conf.all.rp_filter';

/** Forwarding is off, or the reverse-path check drops: a kernel setting. */
export function settingMend(c: MendContext, ending: Setting): Mend | null {
  const { stop } = c.run;
  if (stop === null) return null;
  const isCheck = ending.kind === 'reverse-path';
  const key = isCheck ? `net.ipv4.conf.${ending.interface}.rp_filter` : forwardingKey(c);
  const value = isCheck ? LOOSE : '1';
  const dropped = isCheck ? { address: ending.address, interface: ending.interface } : null;
  const changed = isCheck ? [key, ALL] : [key];
  return {
    fault: isCheck ? 'host-rpfilter' : 'forwarding-off',
    stop,
    finding: {
      found: 'setting',
      key,
      now: isCheck ? '1' : '0',
      mended: value,
      dropped,
      system: systemAt(c.facts, stop),
    },
    evidence: ending.source ? [ending.source] : [],
    apply: (scene) =>
      withMachine(scene, stop, (m) => ({
        ...m,
        settings: new Map([...m.settings, ...changed.map((k) => [k, { value, source: null }] as const)]),
      })),
  };
}

const forwardingKey = ({ scene }: MendContext): string =>
  scene.packet.source.address.family === 4 ? 'net.ipv4.ip_forward' : 'net.ipv6.conf.all.forwarding';

/** The server has no way out for its answer: it needs a default gateway. */
export function gatewayMend(c: MendContext): Mend | null {
  const machine = endMachine(c);
  const { family } = c.scene.packet.source.address;
  const device = machine?.interfaces?.find(
    (i) => !i.loopback && i.addresses.some((a) => a.address.family === family && a.scope !== 'link'),
  );
  if (!machine || !device || machine.role !== 'host') return null;
  const nets = device.addresses.map((a) => prefixOf(a.address, a.prefixLength));
  const via = c.scene.site.machines
    .filter((m) => m.role === 'gateway' || m.role === 'carrier')
    .flatMap((m) => m.interfaces?.flatMap((i) => i.addresses) ?? [])
    .find((a) => a.address.family === family && nets.some((net) => prefixContains(net, a.address)))?.address;
  if (!via || nets.every((net) => net.length === ADDRESS_LENGTH[family])) return null;
  const route = routeTo(prefix(family === 4 ? '0.0.0.0/0' : '::/0'), { via, device: device.name });
  return {
    fault: 'host-no-gateway',
    stop: machine.id,
    finding: {
      found: 'no-default-gateway',
      via,
      device: device.name,
      system: systemAt(c.facts, machine.id),
    },
    evidence: [],
    apply: (scene) =>
      withMachine(scene, machine.id, (m) => ({
        ...m,
        routes: { ...m.routes, [family]: [...(m.routes[family] ?? []), route] },
      })),
  };
}
