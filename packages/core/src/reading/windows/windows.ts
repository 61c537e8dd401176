import { nth } from '../../place/index.ts';
import { maskLength, parseAddress } from '../../net/index.ts';
import {
  type AddressFact,
  type Fact,
  type InterfaceFact,
  type Problem,
  type RouteFact,
} from '../../facts/index.ts';
import { linesOf, spanOf, type Line } from '../text.ts';
import { problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

/**
 * `   IPv4-Adresse  . . . . . . . . . . : 192.168.50.20(Bevorzugt)`: dots and a colon, whatever the words.
 */
const PAIR = /^\s{2,40}(\S.{0,80}?)[ .]{0,60}\. ?:\s?(.*)/;
const MAC = /^[0-9A-F]{2}(?:-[0-9A-F]{2}){5}$/i;

/**
 * `ipconfig` and `ipconfig /all` in any language. The words differ, the order does not: address, mask, then
 * the default gateway; values tell the rest.
 */
export const ipconfig: Reader = {
  format: 'ipconfig',
  title: 'network interfaces and addresses (ipconfig)',
  recognise(text) {
    const lines = written(text.slice(0, 20_000));
    const dotted = lines.filter((l) => PAIR.test(l.text) && /(?:\. ){3,}|\.{3,}/.test(l.text)).length;
    return dotted >= 2 && lines.some((l) => /^\S.*:\s*$/.test(l.text)) && /(?:\d{1,3}\.){3}\d{1,3}/.test(text)
      ? 0.94
      : 0;
  },
  read(text) {
    const facts: Fact[] = [];
    let adapter: Adapter | null = null;
    for (const line of linesOf(text)) {
      const head = /^(\S.*):$/.exec(line.text.trimEnd());
      if (head) {
        // The kind of adapter stands before its name: the last word or words are the name that people gave
        // it.
        const name = nth(head, 1).replace(
          /^.*?(?:adapter|Adapter|adaptador|Adaptador|Carte \S+|carte \S+|Ethernet-Adapter|LAN-Adapter)\s+/,
          '',
        );
        adapter = { name, mask: false, gatewayNext: false, last: 'other', label: null };
        facts.push({ kind: 'interface', at: spanOf(line, name), name, adminUp: true });
        continue;
      }
      const pair = PAIR.exec(line.text);
      const more = !pair && adapter?.last === 'gateway' ? /^\s+([0-9a-fA-F.:%]+)\s*$/.exec(line.text) : null;
      if (!adapter || (!pair && !more)) continue;
      const raw = (pair ? nth(pair, 2) : nth(more!, 1)).trim();
      const value = raw
        .replace(/\([^()]*\)$/, '')
        .replace(/%\d{1,9}$/, '')
        .trim();
      const address = parseAddress(value);
      const flagged = /\(/.test(raw);
      // A second address stands under the same words as the first, whatever the language.
      if (pair && address?.family === 4 && adapter.label !== null && adapter.label === labelOf(pair[1])) {
        adapter.mask = false;
        adapter.gatewayNext = false;
      }
      if (MAC.test(raw)) change(facts, adapter.name, { mac: raw.replaceAll('-', ':').toLowerCase() });
      else if (adapter.gatewayNext && (raw === '' || address) && pair) {
        adapter.gatewayNext = false;
        adapter.last = 'gateway';
        if (address) facts.push(gateway(line, value, adapter.name, address.family));
      } else if (more && address) facts.push(gateway(line, value, adapter.name, address.family));
      else if (
        address?.family === 4 &&
        maskLength(value) !== null &&
        /^(255|0)\./.test(value) &&
        !adapter.mask
      ) {
        adapter.mask = true;
        adapter.gatewayNext = true;
        withMask(facts, maskLength(value)!);
      } else if (
        address &&
        !adapter.mask &&
        (address.family === 6 ||
          flagged ||
          adapter.label === labelOf(pair?.[1]) ||
          !facts.some((f) => f.kind === 'address' && f.interface === adapter!.name && f.family === 4))
      ) {
        if (address.family === 4) adapter.label ??= labelOf(pair?.[1]);
        facts.push({
          kind: 'address',
          at: spanOf(line, value),
          interface: adapter.name,
          family: address.family,
          address: value,
          prefix: address.family === 4 ? 24 : 64,
          scope: /^fe[89ab]/i.test(value) ? 'link' : 'global',
          // What is still tried, or held by another machine too, is not used (RFC 5227, RFC 4862 §5.4).
          ...(UNUSED.test(raw) ? { unusable: true } : {}),
        });
        adapter.last = 'other';
      } else adapter.last = 'other';
    }
    const used = facts.filter(
      (f) => f.kind !== 'interface' || facts.some((o) => o.kind === 'address' && o.interface === f.name),
    );
    return {
      format: 'ipconfig',
      facts: used,
      problems: [],
      covers: used.some((f) => f.kind === 'address') ? ['addresses'] : [],
    };
  },
};

interface Adapter {
  readonly name: string;
  mask: boolean;
  gatewayNext: boolean;
  last: 'gateway' | 'other';
  /** What its first IPv4 address is called. */
  label: string | null;
}

const labelOf = (text: string | undefined): string | null =>
  text === undefined ? null : text.replaceAll('.', ' ').trim().toLowerCase();

const UNUSED = new RegExp(
  String.raw`\((duplicate|doppelt|dupliziert|duplicad[ao]|dupliqu[ée]e?|tentative|vorläufig|` +
    String.raw`provisoire|provisional|tentativa)\b`,
  'i',
);

function change(facts: Fact[], name: string, more: Partial<InterfaceFact>): void {
  const at = facts.findIndex((f) => f.kind === 'interface' && f.name === name);
  if (at >= 0) facts[at] = { ...(facts[at] as InterfaceFact), ...more };
}

function withMask(facts: Fact[], prefix: number): void {
  for (let i = facts.length - 1; i >= 0; i--) {
    const f = nth(facts, i);
    if (f.kind === 'address' && f.family === 4) {
      facts[i] = { ...f, prefix } as AddressFact;
      return;
    }
  }
}

const gateway = (line: Line, via: string, dev: string, family: 4 | 6): RouteFact => ({
  kind: 'route',
  at: spanOf(line, via),
  family,
  table: 'main',
  type: 'unicast',
  to: 'default',
  hops: [{ via, dev }],
  metric: 0,
});

const ROUTE4 = new RegExp(
  String.raw`^\s*((?:\d{1,3}\.){3}\d{1,3})\s+((?:\d{1,3}\.){3}\d{1,3})\s+(\S.{0,60}?)\s{1,60}` +
    String.raw`((?:\d{1,3}\.){3}\d{1,3})\s{1,60}(\d{1,9})\s*$`,
);

/** Two words with dots at the beginning, as an address and its mask have, whatever letters stand in them. */
const ROW_LIKE = /^\s*[\dA-Za-z]{1,3}(?:\.[\dA-Za-z]{1,3}){3}\s+[\dA-Za-z]{1,3}(?:\.[\dA-Za-z]{1,3}){3}\s/;

/**
 * `route print`: destination, mask, gateway (or a word for on-link), interface address, metric. Interfaces
 * are named by their address.
 */
export const routePrint: Reader = {
  format: 'route-print',
  title: 'routes (route print)',
  recognise: (text) =>
    written(text.slice(0, 20_000)).filter((l) => ROUTE4.test(l.text)).length >= 2 ? 0.96 : 0,
  read(text) {
    const facts: RouteFact[] = [];
    const problems: Problem[] = [];
    for (const line of written(text)) {
      const m = ROUTE4.exec(line.text);
      const length = m ? maskLength(nth(m, 2)) : null;
      if (!m || length === null) {
        if (ROW_LIKE.test(line.text)) problems.push(problemAt(line, 'route-unreadable'));
        continue;
      }
      // Own addresses, broadcast and multicast stand in the list too; they are no way to anywhere.
      const isOwn = length === 32 && m[1] === m[4];
      if (isOwn || /^(127|224|255)\./.test(nth(m, 1))) continue;
      facts.push({
        kind: 'route',
        at: spanOf(line, nth(m, 1)),
        family: 4,
        table: 'main',
        type: 'unicast',
        to: length === 0 ? 'default' : `${m[1]}/${length}`,
        hops: [{ via: parseAddress(nth(m, 3)) ? nth(m, 3) : null, dev: nth(m, 4) }],
        metric: Number(m[5]),
      });
    }
    return { format: 'route-print', facts, problems, covers: ['routes4'] };
  },
};
