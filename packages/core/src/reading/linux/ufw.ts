import { nth } from '../../place/index.ts';
import type { FrontEndAction, FrontEndListing, FrontEndRow } from '../../devices/index.ts';
import { parsePrefix } from '../../net/index.ts';
import type { Fact, Problem } from '../../facts/index.ts';
import { before, type Line } from '../text.ts';
import { lineAt, listed, once, problemAt, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const ROW = new RegExp(
  String.raw`^(?:\[ {0,9}(\d{1,9})\] {1,9})?(\S.{0,200}?) {2,200}` +
    String.raw`((?:ALLOW|DENY|REJECT|LIMIT)(?: (?:IN|OUT|FWD))?) {1,200}(\S.*)`,
);
const HEADING = /^(Logging:|New profiles:|To\s+Action\s+From|--\s)/;

type Row = { readonly to: string; readonly action: string; readonly from: string };

/**
 * `ufw status`, verbose and numbered (ufw(8)): the rows that decide about what comes in, in their order. What
 * becomes of the rest only the verbose form prints.
 */
export const ufwStatus: Reader = {
  format: 'ufw-status',
  title: 'rules of the host firewall (ufw)',
  recognise: (text) => (/^Status: (active|inactive)\s*$/m.test(text.slice(0, 3000)) ? 0.96 : 0),
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    const given: string[] = [];
    const rows: FrontEndRow[] = [];
    let active: { on: boolean; line: Line } | null = null;
    let rest: FrontEndAction | null = null;
    let outgoing: FrontEndAction | null = null;
    for (const line of written(text)) {
      const t = line.text.trim();
      const at = lineAt(line);
      const status = /^Status: (active|inactive)/.exec(t);
      const defaults = /^Default: (\w+) \(incoming\), (\w+) \(outgoing\)(?:, (\w+) \(routed\))?/.exec(t);
      const row = ROW.exec(t);
      if (status) {
        active = { on: status[1] === 'active', line };
        facts.push(once('active', at, active.on, status[1]));
      } else if (defaults) {
        const [, incoming = '', out = '', routed] = defaults;
        [rest, outgoing] = [defaultOf(incoming), defaultOf(out)];
        const value = { incoming, outgoing: out, ...(routed ? { routed } : {}) };
        facts.push(once('defaults', at, value, `incoming ${incoming}, outgoing ${out}`));
      } else if (row) {
        const value = { to: nth(row, 2).trim(), action: nth(row, 3), from: before(nth(row, 4), '#').trim() };
        facts.push(listed('hostRules', at, value, `${value.action} ${value.to} from ${value.from}`));
        rows.push(...frontEndRow(value, line));
        if (!/\(v6\)/.test(t)) given.push(command(value));
      } else if (!HEADING.test(t)) problems.push(problemAt(line, 'no-ufw-line'));
    }
    if (given.length > 0)
      facts.push(once('rulesGiven', lineAt({ number: 1, text: '' }), given, given.join('; ')));
    if (active) {
      const zone = { name: '', devices: null, senders: [], rows, sentOn: [], rest, outgoing };
      const listing: FrontEndListing = { program: 'ufw', on: active.on, zones: [zone] };
      facts.push(told('front-end', lineAt(active.line), listing, active.on ? 'ufw is on' : 'ufw is off'));
    }
    return { format: 'ufw-status', facts, problems, covers: active ? ['front-end'] : [] };
  },
};

/** null for a word that is not known. */
const defaultOf = (word: string): FrontEndAction | null =>
  word === 'allow' || word === 'deny' || word === 'reject' ? word : null;

const ACTIONS: Readonly<Record<string, FrontEndAction>> = {
  ALLOW: 'allow',
  DENY: 'deny',
  REJECT: 'reject',
  LIMIT: 'limit',
};

/** Rows for what is forwarded say nothing about the machine's own ports. */
function frontEndRow({ to, action, from }: Row, line: Line): FrontEndRow[] {
  const [verb = '', way = 'IN'] = action.split(' ');
  const does = ACTIONS[verb];
  if (way === 'FWD' || !does) return [];
  const isSix = /\(v6\)/.test(to) || /\(v6\)/.test(from);
  const own = sideOf(to);
  const other = sideOf(from);
  const open = own.open ?? other.open ?? (own.device && other.device ? `${to} ${from}` : null);
  const protocol = own.protocol ?? other.protocol ?? 'any';
  const row = {
    text: line.text.trim().replace(/ {2,}/g, '  '),
    line: line.number,
    action: does,
    family: isSix || own.isSix || other.isSix ? 6 : 4,
    protocol,
    device: own.device ?? other.device,
    open,
  } as const;
  // For what goes out the first column is the other end.
  return way === 'OUT'
    ? [{ ...row, direction: 'out', ...ends(other, own) }]
    : [{ ...row, direction: 'in', ...ends(own, other) }];
}

const ends = (own: Side, other: Side): Pick<FrontEndRow, 'to' | 'from' | 'ports' | 'senderPorts'> => ({
  to: own.prefix,
  from: other.prefix,
  ports: own.ports,
  senderPorts: other.ports,
});

interface Side {
  readonly prefix: string | null;
  readonly ports: string | null;
  readonly protocol: 'tcp' | 'udp' | null;
  readonly device: string | null;
  readonly isSix: boolean;
  /** What of it is not understood, such as the name of an application profile. */
  readonly open: string | null;
}

/** `8214/tcp`, `192.168.50.20 6000:6007/udp on eno1`, `22/tcp (OpenSSH)`, `Anywhere`. */
function sideOf(text: string): Side {
  const plain = text.replace(/\((?:v6|log|log-all|out)\)/g, '').trim();
  const device = / on (\S+)$/.exec(plain)?.[1] ?? null;
  // A profile that the verbose form spells out stands behind its ports.
  const words = plain
    .replace(/ on \S+$/, '')
    .replace(/^([\d,:]+(?:\/(?:tcp|udp))?) \(.*\)$/, '$1')
    .trim()
    .split(/\s+/);
  let side: Side = { prefix: null, ports: null, protocol: null, device, isSix: false, open: null };
  for (const word of words) {
    const ports = /^(\d[\d,:]*)(?:\/(tcp|udp))?$/.exec(word);
    const anyPort = /^Anywhere(?:\/(tcp|udp))?$/.exec(word);
    const prefix =
      /[.:]/.test(word.replace(/\/(tcp|udp)$/, '')) && parsePrefix(word.replace(/\/(?:tcp|udp)$/, ''));
    if (anyPort) side = { ...side, protocol: protocolOf(anyPort[1]) ?? side.protocol };
    else if (prefix && !ports)
      side = {
        ...side,
        prefix: word.replace(/\/(?:tcp|udp)$/, ''),
        protocol: protocolOf(/\/(tcp|udp)$/.exec(word)?.[1]) ?? side.protocol,
        isSix: prefix.family === 6,
      };
    else if (ports)
      side = {
        ...side,
        ports: nth(ports, 1).replaceAll(':', '-'),
        protocol: protocolOf(ports[2]) ?? side.protocol,
      };
    else side = { ...side, open: plain };
  }
  return side;
}

const protocolOf = (word: string | undefined): 'tcp' | 'udp' | null =>
  word === 'tcp' || word === 'udp' ? word : null;

/** The command that the row was made with, as people write it. */
function command({ to, action, from }: Row): string {
  const verb = nth(action.split(' '), 0).toLowerCase();
  const direction = action.endsWith('OUT') ? ' out' : '';
  if (from === 'Anywhere') return `${verb}${direction} ${to}`;
  const port = /^(?:(\S+) )?(\d[\d:,]*)(?:\/(tcp|udp))?$/.exec(to);
  return port
    ? `${verb}${direction} from ${from} to ${port[1] ?? 'any'} port ` +
        `${port[2]}${port[3] ? ` proto ${port[3]}` : ''}`
    : `${verb}${direction} from ${from} to ${to === 'Anywhere' ? 'any' : to}`;
}
