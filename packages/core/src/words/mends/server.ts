import { formatAddress, formatEndpoint, isReachable } from '../../net/index.ts';
import type { Shell } from '../../asks/index.ts';
import { programListen, settingName, type ListeningProgram } from '../../mend/index.ts';
import type { FindingOf, FindingWords, MendParts } from './parts.ts';

type ServerFinding = 'announces' | 'listener' | 'setting' | 'no-default-gateway' | 'no-link';
type Listener = FindingOf<'listener'>;
type ListenerParts = Omit<MendParts, 'where' | 'opens'>;

const upper = (transport: string): string => transport.toUpperCase();
const programOf = (f: Listener): string => f.near?.program ?? 'the program';
const nearAddress = ({ near }: Listener): string => (near?.address ? formatAddress(near.address) : '*');

/** What belongs to the change of each program's listen address. */
const AFTER: Readonly<Record<ListeningProgram, string>> = {
  postgresql:
    'Restart PostgreSQL afterwards: a reload does not change it. Who may sign in stands in pg_hba.conf, ' +
    'in a line for their addresses.',
  redis:
    'Write the same into redis.conf, or it is gone after a restart. Without a password its protected mode ' +
    'turns everybody else away: set one first.',
  mariadb: 'Restart the server afterwards. Before MariaDB 10.11 and MySQL 8.0.13 it takes one address alone.',
  nginx: 'Check it with nginx -t, then nginx -s reload.',
};

/** The listen address in the program's own words, and what to do afterwards. */
function listenAddress(f: Listener, after: string): Pick<ListenerParts, 'values' | 'also'> {
  const own = programListen(f);
  if (own)
    return { values: [{ label: own.setting, now: own.now, mended: own.mended }], also: AFTER[own.program] };
  const mended = formatAddress(f.endpoint.address);
  return { values: [{ label: 'Listen address', now: nearAddress(f), mended }], also: after };
}

const LISTENER: { readonly [K in Listener['how']]: (f: Listener) => ListenerParts } = {
  loopback(f) {
    const wanted = formatAddress(f.endpoint.address);
    const place = f.near?.address
      ? formatEndpoint({ address: f.near.address, port: f.near.port })
      : nearAddress(f);
    return {
      wrong:
        `${programOf(f)} listens on ${place} only (loopback), so nobody from outside the ` +
        'machine gets to it',
      title: `Let ${programOf(f)} listen on ${wanted}`,
      ...listenAddress(f, `Restart ${programOf(f)} afterwards; the address is read at its start.`),
    };
  },
  address(f) {
    const wanted = formatAddress(f.endpoint.address);
    return {
      wrong: `${programOf(f)} listens on ${nearAddress(f)} only, and the packet is for ${wanted}`,
      title: `Let ${programOf(f)} listen on ${wanted}`,
      ...listenAddress(f, `Restart ${programOf(f)} afterwards.`),
    };
  },
  family(f) {
    const { family } = f.endpoint.address;
    const own = f.near?.families[0] ?? (family === 4 ? 6 : 4);
    const anyOf = { 4: '0.0.0.0', 6: '::' } as const;
    return {
      wrong: `${programOf(f)} listens on IPv${own} only, and the packet is IPv${family}`,
      title: `Let ${programOf(f)} listen on IPv${family} too`,
      values: [{ label: 'Listen address', now: anyOf[own], mended: anyOf[family] }],
      also: `Restart ${programOf(f)} afterwards.`,
    };
  },
  protocol(f) {
    const [wanted, other] = [upper(f.transport), upper(f.near?.transport ?? '')];
    const { port } = f.endpoint;
    return {
      wrong: `${programOf(f)} listens on ${other} ${port}, and the client comes with ${wanted}`,
      title: `Dial ${other} ${port}, or let the program speak ${wanted}`,
      values: [{ label: 'Protocol', now: other, mended: wanted }],
      also: null,
    };
  },
  none(f) {
    const { port } = f.endpoint;
    const place = `${f.transport} ${formatEndpoint(f.endpoint)}`;
    return {
      wrong: `nothing listens on ${upper(f.transport)} ${port}`,
      title: `Start ${f.service ?? 'the program'}, and see that it listens on ${upper(f.transport)} ${port}`,
      values: [{ label: 'Listens on', now: 'nothing', mended: place }],
      also: 'Look at the socket list again after the start.',
    };
  },
};

/** Where a setting of the kernel outlives a restart. */
const KEPT: Readonly<Record<Shell, string | null>> = {
  linux: 'Write it to a file below /etc/sysctl.d as well, or it is gone after a restart.',
  macos: 'Write it to /etc/sysctl.conf as well, or it is gone after a restart.',
  windows: null,
};

export const SERVER_WORDS: { readonly [K in ServerFinding]: FindingWords<K> } = {
  listener: (f, at) => ({
    ...LISTENER[f.how](f),
    where: `${at}, the configuration of ${f.near?.program ?? f.service ?? 'the program'}`,
    opens:
      `${f.transport} ${f.endpoint.port} on ${formatAddress(f.endpoint.address)}, as far as ` +
      'the firewall lets it',
  }),
  announces: ({ now, port, mended, key, dataPorts }, at) => ({
    wrong:
      'it sends clients on to ' +
      `${port === null ? formatAddress(now) : formatEndpoint({ address: now, port })}, ` +
      `${isReachable(now) ? 'another address than the one dialled' : 'an inside address'}`,
    title: `Let the program announce ${formatAddress(mended)}`,
    where: `${at}, the settings of the program that answers first`,
    values: [
      { label: key ?? 'Announced address', now: formatAddress(now), mended: formatAddress(mended) },
      ...(dataPorts
        ? [{ label: 'Data ports', now: null, mended: `TCP ${dataPorts.first}–${dataPorts.last}` }]
        : []),
    ],
    also:
      'Restart the program afterwards. Its data ports have to be let through as well; nothing ' +
      'listens on them between transfers, so a test of them then proves nothing.',
    opens: 'nothing by itself',
  }),
  setting: (f, at) => ({
    wrong: f.dropped
      ? `its reverse-path check drops packets from ${formatAddress(f.dropped.address)} on ` +
        `${f.dropped.interface}`
      : 'it does not pass packets on: forwarding is switched off',
    title: f.dropped ? 'Loosen the reverse-path check' : 'Switch forwarding on',
    where: `${at}, kernel settings`,
    values: [{ label: settingName(f), now: f.now, mended: f.mended }],
    also: f.system === null ? null : KEPT[f.system],
    opens: f.dropped ? 'packets whose way back leads elsewhere' : 'what the forward rules let through',
  }),
  'no-link': (f, at) => ({
    ...(f.isOff
      ? {
          wrong: `${f.interface} is switched off: the address is right, and nothing goes through`,
          title: `Switch ${f.interface} on`,
          where: `${at}, its network interfaces`,
        }
      : {
          wrong: `${f.interface} has no link: the address is right, and nothing is connected`,
          title: `Connect ${f.interface}`,
          where: `${at}: the cable, the port of the switch, or the virtual link`,
        }),
    values: [{ label: 'Link', now: 'down', mended: 'up' }],
    also: 'Leave the rules alone. List the addresses again when it is up.',
    opens: 'nothing that was not meant to be open',
  }),
  'no-default-gateway': ({ via }, at) => ({
    wrong: 'it has no default gateway, so its answer has no way out',
    title: `Set the default gateway to ${formatAddress(via)}`,
    where: `${at}, network settings`,
    values: [{ label: 'Default gateway', now: 'none', mended: formatAddress(via) }],
    also: 'Write it into the network settings of the machine as well.',
    opens: 'nothing inbound',
  }),
};
