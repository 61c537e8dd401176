import { addressKind, formatAddress, formatEndpoint, prefix, sameAddress } from '../net/index.ts';
import type { Ending } from '../crossing/index.ts';
import type { Socket } from '../site/index.ts';
import type { Mend } from './mend.ts';
import { endMachine, type MendContext } from './context.ts';
import { withMachine } from './scene.ts';

/** The port is closed on the server: bind it elsewhere, or start it. */
export function listenerMend(c: MendContext, ending: Extract<Ending, { kind: 'closed-port' }>): Mend {
  const stop = c.run.stop!;
  const { transport } = c.scene.packet;
  const { endpoint } = ending;
  const { family } = endpoint.address;
  const near = ending.near.find((s) => s.transport === transport) ?? null;
  const other = ending.near.find((s) => s.transport !== transport) ?? null;
  const socket: Socket = {
    transport,
    address: null,
    families: [family],
    port: endpoint.port,
    device: null,
    program: near?.program ?? null,
    source: null,
  };
  const wanted = formatAddress(endpoint.address);
  const base = {
    stop,
    where: `${c.names(stop)}, the configuration of ${near?.program ?? c.facts.document.service?.name ?? 'the program'}`,
    commands: [],
    opens: `${transport} ${endpoint.port} on ${wanted}, as far as the firewall lets it`,
    evidence: near?.source ? [near.source] : ending.source ? [ending.source] : [],
    apply: ((scene) =>
      withMachine(scene, stop, (m) => ({
        ...m,
        sockets: [...(m.sockets ?? []), socket],
      }))) satisfies Mend['apply'],
  };
  const who = near?.program ?? 'the program';
  if (near?.address && addressKind(near.address).kind === 'loopback') {
    return {
      ...base,
      fault: 'listen-loopback',
      wrong: `${who} listens on ${formatEndpoint({ address: near.address, port: near.port })} only (loopback), so nobody from outside the machine gets to it`,
      title: `Let ${who} listen on ${wanted}`,
      values: [{ label: 'Listen address', now: formatAddress(near.address), mended: wanted }],
      also: `Restart ${who} afterwards; the address is read at its start.`,
    };
  }
  if (near?.address && !sameAddress(near.address, endpoint.address)) {
    return {
      ...base,
      fault: 'listen-address',
      wrong: `${who} listens on ${formatAddress(near.address)} only, and the packet is for ${wanted}`,
      title: `Let ${who} listen on ${wanted}`,
      values: [{ label: 'Listen address', now: formatAddress(near.address), mended: wanted }],
      also: `Restart ${who} afterwards.`,
    };
  }
  if (near && !near.families.includes(family)) {
    return {
      ...base,
      fault: 'listen-family',
      wrong: `${who} listens on IPv${near.families[0]!} only, and the packet is IPv${family}`,
      title: `Let ${who} listen on IPv${family} too`,
      values: [
        {
          label: 'Listen address',
          now: near.families[0] === 6 ? '::' : '0.0.0.0',
          mended: family === 4 ? '0.0.0.0' : '::',
        },
      ],
      also: `Restart ${who} afterwards.`,
    };
  }
  if (other) {
    return {
      ...base,
      fault: 'listen-protocol',
      wrong: `${other.program ?? 'the program'} listens on ${other.transport.toUpperCase()} ${endpoint.port}, and the client comes with ${transport.toUpperCase()}`,
      title: `Dial ${other.transport.toUpperCase()} ${endpoint.port}, or let the program speak ${transport.toUpperCase()}`,
      values: [{ label: 'Protocol', now: other.transport.toUpperCase(), mended: transport.toUpperCase() }],
      also: null,
      evidence: other.source ? [other.source] : base.evidence,
    };
  }
  return {
    ...base,
    fault: 'listen-none',
    wrong: `nothing listens on ${transport.toUpperCase()} ${endpoint.port}`,
    title: `Start ${c.facts.document.service?.name ?? 'the program'}, and see that it listens on ${transport.toUpperCase()} ${endpoint.port}`,
    values: [{ label: 'Listens on', now: 'nothing', mended: `${transport} ${wanted}:${endpoint.port}` }],
    also: 'Look at the socket list again after the start.',
  };
}

/** Forwarding is off, or the reverse-path check drops: a kernel setting. */
export function settingMend(
  c: MendContext,
  ending: Extract<Ending, { kind: 'forwarding-off' | 'reverse-path' }>,
): Mend {
  const stop = c.run.stop!;
  const key =
    ending.kind === 'reverse-path'
      ? `net.ipv4.conf.${ending.interface}.rp_filter`
      : c.scene.packet.source.address.family === 4
        ? 'net.ipv4.ip_forward'
        : 'net.ipv6.conf.all.forwarding';
  const value = ending.kind === 'reverse-path' ? '2' : '1';
  const setting = { value, source: null };
  return {
    fault: ending.kind === 'reverse-path' ? 'host-rpfilter' : 'forwarding-off',
    stop,
    wrong:
      ending.kind === 'reverse-path'
        ? `its reverse-path check drops packets from ${formatAddress(ending.address)} on ${ending.interface}`
        : 'it does not pass packets on: forwarding is switched off',
    title: ending.kind === 'reverse-path' ? 'Loosen the reverse-path check' : 'Switch forwarding on',
    where: `${c.names(stop)}, kernel settings`,
    values: [{ label: key, now: ending.kind === 'reverse-path' ? '1' : '0', mended: value }],
    commands: [`sysctl -w ${key}=${value}`],
    also: 'Write it to a file below /etc/sysctl.d as well, or it is gone after a restart.',
    opens:
      ending.kind === 'reverse-path'
        ? 'packets whose way back leads elsewhere'
        : 'what the forward rules let through',
    evidence: ending.source ? [ending.source] : [],
    apply: (scene) =>
      withMachine(scene, stop, (m) => ({
        ...m,
        settings: new Map([
          ...m.settings,
          [key, setting],
          ...(ending.kind === 'reverse-path'
            ? ([['net.ipv4.conf.all.rp_filter', { value: '2', source: null }]] as const)
            : []),
        ]),
      })),
  };
}

/** The server has no way out for its answer: it needs a default gateway. */
export function gatewayMend(c: MendContext): Mend | null {
  const machine = endMachine(c);
  const family = c.scene.packet.source.address.family;
  const device = machine?.interfaces?.find(
    (i) => !i.loopback && i.addresses.some((a) => a.address.family === family && a.scope !== 'link'),
  );
  if (!machine || !device || machine.role !== 'host') return null;
  const gateway = c.scene.site.machines
    .filter((m) => m.role === 'gateway' || m.role === 'carrier')
    .flatMap((m) => m.interfaces?.flatMap((i) => i.addresses) ?? [])
    .find(
      (a) =>
        a.address.family === family &&
        device.addresses.some(
          (own) =>
            own.address.bits >> BigInt((family === 4 ? 32 : 128) - own.prefixLength) ===
            a.address.bits >> BigInt((family === 4 ? 32 : 128) - own.prefixLength),
        ),
    );
  if (!gateway) return null;
  const via = formatAddress(gateway.address);
  return {
    fault: 'host-no-gateway',
    stop: machine.id,
    wrong: 'it has no default gateway, so its answer has no way out',
    title: `Set the default gateway to ${via}`,
    where: `${c.names(machine.id)}, network settings`,
    values: [{ label: 'Default gateway', now: 'none', mended: via }],
    commands: [`ip route add default via ${via} dev ${device.name}`],
    also: 'Write it into the network settings of the machine as well.',
    opens: 'nothing inbound',
    evidence: [],
    apply: (scene) =>
      withMachine(scene, machine.id, (m) => ({
        ...m,
        routes: {
          ...m.routes,
          [family]: [
            ...(m.routes[family] ?? []),
            {
              family,
              table: 'main',
              type: 'unicast',
              destination: prefix(family === 4 ? '0.0.0.0/0' : '::/0'),
              hops: [{ via: gateway.address, device: device.name }],
              metric: 0,
              preferred: null,
              dead: false,
              unmodelled: null,
              source: null,
            },
          ],
        },
      })),
  };
}
