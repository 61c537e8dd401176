import type { Fact } from '../../facts/index.ts';
import { parseAddress } from '../../net/index.ts';
import { firstLine, lineAt, listed, once, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { spanOf } from '../text.ts';

/** `route -n get default` of macOS and BSD: the one route that the kernel picks. */
export const routeGet: Reader = {
  format: 'route-get',
  title: 'the route to one address (route get)',
  recognise: (text) =>
    /^[ \t]*route to: \S/m.test(text.slice(0, 2000)) && /^[ \t]*interface: \S/m.test(text.slice(0, 2000))
      ? 0.97
      : 0,
  read(text) {
    const lines = written(text);
    const valueOf = (key: string): string | null =>
      lines.map((l) => new RegExp(`^\\s*${key}: (\\S+)`).exec(l.text)?.[1]).find((v) => v !== undefined) ??
      null;
    const [to, via, dev] = [valueOf('route to'), valueOf('gateway'), valueOf('interface')];
    const at = lines.find((l) => /route to:/.test(l.text)) ?? firstLine(text);
    const isDefault = valueOf('destination') === 'default' && (valueOf('mask') ?? 'default') === 'default';
    const hop = via === null ? null : parseAddress(via);
    const facts: Fact[] = [once('to', lineAt(at), to ?? ''), once('dev', lineAt(at), dev ?? '')];
    if (isDefault && hop)
      facts.push({
        kind: 'route',
        at: spanOf(at, at.text.trim()),
        family: hop.family,
        table: 'main',
        type: 'unicast',
        to: 'default',
        hops: [{ via, dev }],
        metric: 0,
      });
    return { format: 'route-get', facts, problems: [], covers: [] };
  },
};

/** `scutil --dns`: which servers the machine asks for names. */
export const resolverList: Reader = {
  format: 'resolver-list',
  title: 'which name servers are asked (scutil)',
  recognise: (text) => (/^DNS configuration\s*$/m.test(text) && /^resolver #\d+/m.test(text) ? 0.97 : 0),
  read(text) {
    const servers = written(text).flatMap((l) => /^\s*nameserver\[\d+\] : (\S+)/.exec(l.text)?.[1] ?? []);
    const all = [...new Set(servers)];
    return {
      format: 'resolver-list',
      facts: [once('nameservers', { line: 1 }, all, all.join(', '))],
      problems: [],
      covers: [],
    };
  },
};

/** `hostname -I`: the addresses of a machine without their prefixes, told from others by the command. */
export const ownAddresses: Reader = {
  format: 'own-addresses',
  title: 'addresses of a machine (hostname -I)',
  recognise(text) {
    const words = text.trim().split(/\s+/);
    const isList = words.length >= 2 && text.trim().split('\n').length === 1;
    return isList && words.every((w) => parseAddress(w) !== null) ? 0.6 : 0;
  },
  read(text, command = '') {
    const line = firstLine(text);
    const own = text.trim().split(/\s+/);
    const isSaid = /\bhostname\s+-I\b|--all-ip-addresses/.test(command);
    return {
      format: 'own-addresses',
      facts: own.map((a) => listed(isSaid ? 'ownAddresses' : 'addresses', lineAt(line), a, a)),
      problems: [],
      covers: [],
    };
  },
};

/** `systemctl list-sockets`: what the service manager listens on for its units; no transport is shown. */
export const unitSockets: Reader = {
  format: 'unit-sockets',
  title: 'sockets of units (systemctl list-sockets)',
  recognise: (text) => (UNIT_HEADING.test(text.slice(0, 4000)) ? 0.97 : 0),
  read(text) {
    const facts = written(text).flatMap((line) => {
      const [, where = '', unit = ''] = /^(\S+:\d+)\s+(\S+\.socket)\b/.exec(line.text.trim()) ?? [];
      return where === '' ? [] : [listed('unitSockets', lineAt(line), where, `${unit} on ${where}`)];
    });
    return { format: 'unit-sockets', facts, problems: [], covers: [] };
  },
};
const UNIT_HEADING = /^LISTEN\s+UNIT\b/m;

/** `wg show`: a tunnel, its port and the ends that it knows; no table of rules. */
export const tunnelStatus: Reader = {
  format: 'tunnel-status',
  title: 'the state of a tunnel (wg show)',
  recognise: (text) =>
    /^interface: \S+/m.test(text.slice(0, 4000)) && /^[ \t]+public key: /m.test(text.slice(0, 4000))
      ? 0.98
      : 0,
  read(text) {
    const facts: Fact[] = [];
    let name = '';
    for (const line of written(text)) {
      const [, key = '', value = ''] = /^\s*([a-z]+(?: [a-z]+)*): (\S.*)$/.exec(line.text) ?? [];
      if (key === 'interface') name = value;
      if (key === 'listening port' && /^\d+$/.test(value))
        facts.push(listed('tunnelPort', lineAt(line), Number(value), `${name}: ${value}`));
      if (key === 'endpoint' || key === 'allowed ips' || key === 'latest handshake')
        facts.push(
          listed(
            key === 'endpoint' ? 'tunnelEnds' : 'tunnel',
            lineAt(line),
            value,
            `${name} ${key}: ${value}`,
          ),
        );
    }
    return { format: 'tunnel-status', facts, problems: [], covers: [] };
  },
};
