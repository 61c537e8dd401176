import { nth } from '../../place/index.ts';
import { maskLength, parseAddress } from '../../net/index.ts';
import type { AddressFact, InterfaceFact, Problem } from '../../facts/index.ts';
import { linesOf, spanOf, type Line } from '../text.ts';
import type { Reader } from '../reader.ts';

/**
 * `eth0: flags=4163<UP,…>  mtu 1500` (net-tools 2, BSD, macOS) or `eth0      Link encap:Ethernet  HWaddr …`
 * (net-tools 1, busybox).
 */
const HEAD =
  /^([A-Za-z0-9_.@:-]+?):?\s+(?:flags=[0-9a-fx]+<([A-Z0-9_,]*)>.*?\bmtu (\d+)|Link encap:(\S+(?: \S+)*))/i;

/**
 * `ifconfig` of Linux, busybox, BSD and macOS. One address a line; aliases (`eth0:1`) belong to their
 * interface.
 */
export const ifconfig: Reader = {
  format: 'ifconfig',
  title: 'network interfaces and addresses (ifconfig)',
  recognise: (text) => {
    if (
      linesOf(text.slice(0, 20_000)).some((l) => HEAD.test(l.text)) &&
      /\b(inet6? |inet addr:|ether |HWaddr |RX packets)/.test(text)
    )
      return 0.95;
    return linesOf(text.slice(0, 20_000)).some((l) =>
      /^\S+:\s+flags=\d+<[A-Z,_]+>\s+(metric \d+\s+)?mtu \d+/.test(l.text),
    )
      ? 0.9
      : 0;
  },
  read(text) {
    const facts: (InterfaceFact | AddressFact)[] = [];
    const problems: Problem[] = [];
    let at = -1;
    const current = (): InterfaceFact | null => (at < 0 ? null : (facts[at] as InterfaceFact));
    const change = (more: Partial<InterfaceFact>): void => {
      if (at >= 0) facts[at] = { ...current()!, ...more };
    };
    for (const line of linesOf(text)) {
      if (line.text.trim() === '') continue;
      const head = HEAD.exec(line.text);
      if (head) at = startInterface(facts, line, head);
      const flags = /^\s+(UP\b(?: [A-Z]+)*)(?:\s+MTU:(\d+))?/.exec(line.text);
      if (flags && !head) {
        const words = nth(flags, 1).trim().split(/\s+/);
        change({
          adminUp: true,
          loopback: words.includes('LOOPBACK'),
          carrier: words.includes('RUNNING'),
          ...(flags[2] ? { mtu: Number(flags[2]) } : {}),
        });
      }
      const mac = /\b(?:ether|HWaddr|address:)\s+([0-9a-f]{2}(?::[0-9a-f]{2}){5})/i.exec(line.text)?.[1];
      if (mac) change({ mac: mac.toLowerCase() });
      const status = /^\s+status:\s+(\w+)/.exec(line.text)?.[1];
      if (status) change({ carrier: status === 'active' });
      const owner = current();
      const address = owner ? addressOf(line, owner) : null;
      if (address) facts.push(address);
      else if (!head && !owner)
        problems.push({
          line: line.number,
          text: line.text.trim().slice(0, 200),
          why: 'before-first-interface',
        });
    }
    return {
      format: 'ifconfig',
      facts,
      problems,
      covers: facts.some((f) => f.kind === 'address') ? ['addresses'] : [],
    };
  },
};

function startInterface(
  facts: (InterfaceFact | AddressFact)[],
  line: Line,
  [, full, flagText, mtu, encap]: RegExpExecArray,
): number {
  // An alias is another address of the interface before its last colon.
  const name = /^(.+):\w+$/.exec(full!)?.[1] ?? full!;
  const before = facts.findIndex((f) => f.kind === 'interface' && f.name === name);
  if (before >= 0) return before;
  const flags = flagText?.split(',') ?? null;
  const loopback = flags ? flags.includes('LOOPBACK') : /loopback/i.test(encap ?? '');
  facts.push({
    kind: 'interface',
    at: spanOf(line, name),
    name,
    adminUp: flags ? flags.includes('UP') : false,
    loopback,
    ...(mtu ? { mtu: Number(mtu) } : {}),
    ...(flags
      ? {
          carrier: flags.includes('RUNNING'),
          noNeighbours:
            flags.includes('NOARP') || (flags.includes('POINTOPOINT') && !flags.includes('BROADCAST')),
        }
      : {}),
    ...(loopback ? { mac: '00:00:00:00:00:00' } : {}),
  });
  return facts.length - 1;
}

const SCOPES: Readonly<Record<string, string>> = {
  global: 'global',
  link: 'link',
  host: 'host',
  site: 'site',
  compat: 'global',
};

function addressOf(line: Line, owner: InterfaceFact): AddressFact | null {
  const four = /\binet (?:addr:)?((?:\d{1,3}\.){3}\d{1,3})(.*)$/.exec(line.text);
  if (four) {
    const mask = /\b(?:netmask |Mask:)(\S+)/.exec(nth(four, 2))?.[1];
    const peer = /(?:\bdestination |\bP-t-P:|--> )((?:\d{1,3}\.){3}\d{1,3})/.exec(nth(four, 2))?.[1];
    return {
      kind: 'address',
      at: spanOf(line, nth(four, 1)),
      interface: owner.name,
      family: 4,
      address: nth(four, 1),
      prefix: maskOf(mask) ?? 32,
      scope: owner.loopback ? 'host' : 'global',
      ...(peer ? { peer } : {}),
    };
  }
  const six = /\binet6 (?:addr: ?)?([0-9a-fA-F:.]{2,45})(?:%\w{1,30})?(?:\/(\d{1,3}))?(?:\s(.*)|$)/.exec(
    line.text,
  );
  if (!six || !parseAddress(nth(six, 1))) return null;
  const length = six[2] ?? /\bprefixlen (\d+)/.exec(six[3] ?? '')?.[1];
  const scope = /(?:scopeid 0x[0-9a-f]+<(\w+)|Scope:(\w+))/i.exec(six[3] ?? '');
  const word = (scope?.[1] ?? scope?.[2] ?? '').toLowerCase();
  return {
    kind: 'address',
    at: spanOf(line, nth(six, 1)),
    interface: owner.name,
    family: 6,
    address: nth(six, 1),
    prefix: Number(length ?? 128),
    scope: SCOPES[word] ?? scopeOf(nth(six, 1)),
    ...(/\b(tentative|duplicated)\b/.test(six[3] ?? '') ? { unusable: true } : {}),
  };
}

function scopeOf(address: string): string {
  if (/^fe[89ab]/i.test(address)) return 'link';
  return address === '::1' ? 'host' : 'global';
}

/** `255.255.255.0` or `0xffffff00`. */
function maskOf(text: string | undefined): number | null {
  if (!text) return null;
  if (/^0x[0-9a-f]{8}$/i.test(text))
    return (
      text
        .slice(2)
        .split('')
        .map((d) => parseInt(d, 16).toString(2).padStart(4, '0'))
        .join('')
        .lastIndexOf('1') + 1
    );
  return maskLength(text);
}
