import { parseAddress } from '../../net/index.ts';
import type { AddressFact, InterfaceFact, Problem } from '../../facts/index.ts';
import { isLastLineEnded, linesOf, spanOf, type Line } from '../text.ts';
import type { Reader } from '../reader.ts';

const HEAD = /^\s{0,3}(\d+):\s+([^\s:@]+)(?:@[^\s:]+)?:\s+<([A-Z0-9_,-]*)>(.*)/;
const INET = /^\s*inet(6?)\s+([0-9a-fA-F.:]+)(?:\s+peer\s+([0-9a-fA-F.:]+))?(?:\/(\d{1,3}))?(?:\s(.*)|$)/;
/** What else stands below an interface: link layer, lifetimes, continued options. */
const KNOWN = new RegExp(
  String.raw`^\s*(link\/\w+|valid_lft|RX:|TX:|alias|altname|vf \d|promiscuity|minmtu|` +
    String.raw`\d+\s+\d+\s+\d+|bridge|vlan|veth|tun|\w+ type )`,
);

/**
 * `ip addr`, as iproute2 prints it:
 *
 *     2: eno1: <BROADCAST,MULTICAST,UP,LOWER_UP> mtu 1500 qdisc noqueue state UP group default qlen 1000
 *         link/ether 4a:88:7b:7a:90:6a brd ff:ff:ff:ff:ff:ff
 *         inet 192.168.50.20/24 brd 192.168.50.255 scope global eno1
 */
export const ipAddr: Reader = {
  format: 'ip-addr',
  title: 'network interfaces and addresses (ip addr)',
  recognise: (text) =>
    linesOf(text.slice(0, 20_000)).some((l) => HEAD.test(l.text) && /\bmtu \d+/.test(l.text)) ? 0.9 : 0,
  read(text) {
    const facts: (InterfaceFact | AddressFact)[] = [];
    const problems: Problem[] = [];
    let current: InterfaceFact | null = null;
    // Whether what stands here belongs to an interface whose own line is missing.
    let isLost = false;
    let hasLink = false;
    for (const line of linesOf(text)) {
      if (line.text.trim() === '') continue;
      const head = HEAD.exec(line.text);
      const inet = INET.exec(line.text);
      if (head) {
        facts.push((current = interfaceFact(line, head)));
        [isLost, hasLink] = [false, false];
      } else if (inet && current) {
        isLost ||= isOfAnother(inet, current.name);
        const address = isLost ? null : addressFact(line, inet, current.name);
        if (address) facts.push(address);
        else problems.push({ line: line.number, text: line.text.trim(), why: 'address-unreadable' });
      } else if (current && /^\s*link\//.test(line.text)) {
        isLost ||= hasLink;
        hasLink = true;
        const mac = /link\/\w+\s+([0-9a-f]{2}(?::[0-9a-f]{2}){5})\b/.exec(line.text)?.[1];
        if (mac && !isLost) {
          const known: InterfaceFact = { ...current, mac };
          facts[facts.lastIndexOf(current)] = known;
          current = known;
        }
      } else if (!KNOWN.test(line.text))
        problems.push({
          line: line.number,
          text: line.text.trim().slice(0, 200),
          why: 'no-address-line',
        });
    }
    return {
      format: 'ip-addr',
      facts,
      problems,
      covers: facts.some((f) => f.kind === 'address') ? ['addresses'] : [],
      ...(isCut(text) ? { gaps: ['cut'] as const } : {}),
    };
  },
};

/** Words that end an address of no label. */
const NO_LABEL = /^(?:global|link|host|site|dynamic|secondary|permanent|noprefixroute|deprecated|\d+)$/;

/** An IPv4 address ends with its label: the interface's name, and perhaps more (ip-address(8)). */
function isOfAnother([, six, , , , rest = '']: RegExpExecArray, owner: string): boolean {
  const label = /\bscope\b/.test(rest) ? (rest.trim().split(/\s+/).pop() ?? '') : '';
  if (six === '6' || NO_LABEL.test(label) || !/^[a-z]/i.test(label)) return false;
  return label.split(':')[0] !== owner;
}

/**
 * The text ends, without a line end, at an interface of which nothing follows, or inside an address: further
 * interfaces may be missing.
 */
function isCut(text: string): boolean {
  if (isLastLineEnded(text)) return false;
  const last = text.slice(text.lastIndexOf('\n') + 1);
  if (HEAD.test(last)) return true;
  if (/^\s+inet6?\s/.test(last)) return !/\sscope\s(?:global|link|host|site|\d+)\b.*\S$/.test(last);
  if (/^\s+link\/ether/.test(last)) return !/(?:[0-9a-f]{2}:){5}[0-9a-f]{2}/.test(last);
  return /^\s+valid_lft/.test(last) && !/(?:forever|sec)$/.test(last);
}

function interfaceFact(
  line: Line,
  [, index, name = '', flagText = '', rest = '']: RegExpExecArray,
): InterfaceFact {
  const flags = new Set(flagText.split(','));
  const mtu = /\bmtu (\d+)/.exec(rest)?.[1];
  const state = /\bstate (\w+)/.exec(rest)?.[1];
  return {
    kind: 'interface',
    at: spanOf(line, name),
    name: name,
    index: Number(index),
    adminUp: flags.has('UP'),
    loopback: flags.has('LOOPBACK'),
    noNeighbours: flags.has('NOARP'),
    ...(flags.has('UP') ? { carrier: flags.has('LOWER_UP') || !flags.has('NO-CARRIER') } : {}),
    ...(mtu ? { mtu: Number(mtu) } : {}),
    ...(state ? { operstate: state.toLowerCase() } : {}),
  };
}

function addressFact(
  line: Line,
  [, six, address = '', peer, length, rest = '']: RegExpExecArray,
  owner: string,
): AddressFact | null {
  const parsed = parseAddress(address);
  if (!parsed || (six === '6') !== (parsed.family === 6)) return null;
  const words = rest.split(/\s+/);
  const scope = /\bscope (\w+)/.exec(rest)?.[1];
  const label = rest
    .trim()
    .split(/\s+/)
    .pop()
    ?.match(/^[^\s:]+:\S+$/)?.[0];
  return {
    kind: 'address',
    at: spanOf(line, address),
    interface: owner,
    family: parsed.family,
    address: address,
    prefix: Number(length ?? (six ? 128 : 32)),
    scope: scope ?? 'global',
    ...(peer ? { peer } : {}),
    ...(label ? { label } : {}),
    ...(words.includes('secondary') ? { secondary: true } : {}),
    ...(words.includes('tentative') || words.includes('dadfailed') ? { unusable: true } : {}),
  };
}
