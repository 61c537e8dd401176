import type { NotedFact, Plain, Problem } from '../../facts/index.ts';
import { before, linesOf } from '../text.ts';
import { lineAt, listed, once, problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const UFW_ROW =
  /^(?:\[ {0,9}(\d{1,9})\] {1,9})?(\S.{0,200}?) {2,200}((?:ALLOW|DENY|REJECT|LIMIT)(?: (?:IN|OUT|FWD))?) {1,200}(\S.*)/;

/**
 * `ufw status`, verbose and numbered. It shows the user's rules only; the whole rule set is in iptables-save.
 */
export const ufwStatus: Reader = {
  format: 'ufw-status',
  title: 'rules of the host firewall (ufw)',
  recognise: (text) => (/^Status: (active|inactive)\s*$/m.test(text.slice(0, 3000)) ? 0.96 : 0),
  read(text) {
    const facts: NotedFact[] = [];
    const problems: Problem[] = [];
    const given: string[] = [];
    for (const line of written(text)) {
      const t = line.text.trim();
      const at = lineAt(line);
      const status = /^Status: (active|inactive)/.exec(t);
      const defaults = /^Default: (\w+) \(incoming\), (\w+) \(outgoing\)(?:, (\w+) \(routed\))?/.exec(t);
      const row = UFW_ROW.exec(t);
      if (status) facts.push(once('active', at, status[1] === 'active', status[1]!));
      else if (defaults)
        facts.push(
          once(
            'defaults',
            at,
            {
              incoming: defaults[1]!,
              outgoing: defaults[2]!,
              ...(defaults[3] ? { routed: defaults[3] } : {}),
            },
            `incoming ${defaults[1]}, outgoing ${defaults[2]}`,
          ),
        );
      else if (row) {
        const value = { to: row[2]!.trim(), action: row[3]!, from: before(row[4]!, '#').trim() };
        facts.push(listed('hostRules', at, value, `${value.action} ${value.to} from ${value.from}`));
        if (!/\(v6\)/.test(t)) given.push(command(value));
      } else if (!/^(Logging:|New profiles:|To\s+Action\s+From|--\s)/.test(t))
        problems.push(problemAt(line, 'not a line of ufw status'));
    }
    if (given.length > 0)
      facts.push(once('rulesGiven', lineAt({ number: 1, text: '' }), given, given.join('; ')));
    return { format: 'ufw-status', facts, problems, covers: [] };
  },
};

/** The command that the row was made with, as people write it. */
function command({ to, action, from }: { to: string; action: string; from: string }): string {
  const verb = action.split(' ')[0]!.toLowerCase();
  const direction = action.endsWith('OUT') ? ' out' : '';
  if (from === 'Anywhere') return `${verb}${direction} ${to}`;
  const port = /^(?:(\S+) )?(\d[\d:,]*)(?:\/(tcp|udp))?$/.exec(to);
  return port
    ? `${verb}${direction} from ${from} to ${port[1] ?? 'any'} port ${port[2]}${port[3] ? ` proto ${port[3]}` : ''}`
    : `${verb}${direction} from ${from} to ${to === 'Anywhere' ? 'any' : to}`;
}

interface Zone {
  [key: string]: Plain;
}

const LISTS: Readonly<Record<string, string>> = {
  interfaces: 'interfaces',
  sources: 'sources',
  services: 'services',
  ports: 'ports',
  protocols: 'protocols',
  'source-ports': 'sourcePorts',
  'icmp-blocks': 'icmpBlocks',
};

/** `firewall-cmd --list-all`, `--list-all-zones` and `--get-active-zones`. */
export const firewalld: Reader = {
  format: 'firewalld',
  title: 'zones of the host firewall (firewalld)',
  recognise: (text) => {
    if (/^[ \t]+(?:icmp-block-inversion: |rich rules:)/m.test(text)) return 0.96;
    return /^[\w-]+(?: \((?:active|default).*\))?\n\s+(?:interfaces|sources): /m.test(text.slice(0, 3000))
      ? 0.92
      : 0;
  },
  read(text) {
    const zones = new Map<string, { zone: Zone; line: number; active: boolean }>();
    const problems: Problem[] = [];
    let current: Zone | null = null;
    let list: string[] | null = null;
    for (const line of linesOf(text)) {
      if (line.text.trim() === '') continue;
      const head = /^(\S[\w-]*)(?: \(([^)]*)\))?\s*$/.exec(line.text);
      const entry = /^ {2}([\w -]+?):(?: (.*))?$/.exec(line.text);
      if (head) {
        current = {};
        list = null;
        zones.set(head[1]!, {
          zone: current,
          line: line.number,
          active: head[2]?.includes('active') ?? true,
        });
      } else if (entry && current) {
        const [, key, value = ''] = entry;
        list = null;
        if (LISTS[key!]) current[LISTS[key!]!] = value.trim() === '' ? [] : value.trim().split(/\s+/);
        else if (key === 'forward-ports')
          current['forwardPorts'] = list = value.trim() === '' ? [] : value.trim().split(/\s+/);
        else if (key === 'rich rules') current['richRules'] = list = [];
        else if (key === 'target') current['target'] = value.trim();
        else if (key === 'masquerade' || key === 'forward') current[key] = value.trim() === 'yes';
      } else if (list && /^\s+\S/.test(line.text)) list.push(line.text.trim());
      else problems.push(problemAt(line, 'not a line of a zone listing'));
    }
    const compact = (z: Zone): Zone =>
      Object.fromEntries(Object.entries(z).filter(([, v]) => !(Array.isArray(v) && v.length === 0)));
    const told = [...zones].filter(
      ([, z]) =>
        zones.size === 1 || Object.keys(compact(z.zone)).some((k) => k === 'interfaces' || k === 'sources'),
    );
    const facts: NotedFact[] = [];
    if (zones.size === 1) {
      const [name, only] = [...zones][0]!;
      facts.push(once('zone', { line: only.line }, name));
      for (const [key, value] of Object.entries(compact(only.zone)))
        facts.push(
          once(key, { line: only.line }, value, Array.isArray(value) ? value.join(', ') : String(value)),
        );
    }
    if (told.length > 0)
      facts.push(
        once(
          'zones',
          { line: told[0]![1].line },
          Object.fromEntries(told.map(([name, z]) => [name, compact(z.zone)])),
          told.map(([name]) => name).join(', '),
        ),
      );
    return { format: 'firewalld', facts, problems, covers: [] };
  },
};

/** `nft list tables`: names only. */
export const nftTables: Reader = {
  format: 'nft-tables',
  title: 'names of the firewall tables (nft list tables)',
  recognise(text) {
    const lines = written(text.slice(0, 5000));
    return lines.length > 0 &&
      lines.every((l) => /^table (ip|ip6|inet|arp|bridge|netdev) \S+$/.test(l.text.trim()))
      ? 0.97
      : 0;
  },
  read(text) {
    const names = written(text).map((l) => l.text.trim().replace(/^table /, ''));
    return {
      format: 'nft-tables',
      facts: [once('tables', { line: 1 }, names, names.join(', '))],
      problems: [],
      covers: [],
    };
  },
};

/** `docker ps`, `podman ps`, `docker port`: which ports a container engine publishes. */
export const containerPorts: Reader = {
  format: 'container-ports',
  title: 'published container ports',
  recognise: (text) =>
    /^CONTAINER ID\s+IMAGE\b/m.test(text.slice(0, 2000)) ||
    /^\d+\/(tcp|udp) -> \S+:\d+/m.test(text.slice(0, 2000))
      ? 0.95
      : 0,
  read(text) {
    const facts: NotedFact[] = [];
    for (const line of written(text)) {
      if (/^CONTAINER ID/.test(line.text)) continue;
      const name =
        line.text
          .trim()
          .split(/\s{2,}/)
          .pop() ?? '';
      for (const m of line.text.matchAll(
        /(?:((?:\d{1,3}\.){3}\d{1,3}|\[?::\]?|\[[0-9a-f:]{2,45}\]):)?(?<!\d)(\d{1,5})(?:-(\d{1,5}))?->(\d{1,5})(?:-(\d{1,5}))?\/(tcp|udp)/g,
      ))
        facts.push(
          listed(
            'published',
            lineAt(line),
            {
              container: name,
              address: (m[1] ?? '0.0.0.0').replace(/^\[|\]$/g, ''),
              ports: [Number(m[2]), Number(m[3] ?? m[2])],
              containerPorts: [Number(m[4]), Number(m[5] ?? m[4])],
              protocol: m[6]!,
            },
            `${m[6]} ${m[2]} → ${name}:${m[4]}`,
          ),
        );
      const port = /^(\d+)\/(tcp|udp) -> (\S+):(\d+)/.exec(line.text);
      if (port)
        facts.push(
          listed(
            'published',
            lineAt(line),
            {
              address: port[3]!,
              ports: [Number(port[4]), Number(port[4])],
              containerPorts: [Number(port[1]), Number(port[1])],
              protocol: port[2]!,
            },
            `${port[2]} ${port[4]} → ${port[1]}`,
          ),
        );
    }
    return { format: 'container-ports', facts, problems: [], covers: [] };
  },
};
