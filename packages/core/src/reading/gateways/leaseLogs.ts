import { nth } from '../../place/index.ts';
import type { LeaseFact, Problem } from '../../facts/index.ts';
import { linesOf, spanOf } from '../text.ts';
import { lineAt, once, problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

/**
 * dnsmasq's log: `DHCPACK(eth1) 192.168.50.139 02:48:… knot`. The last acknowledgement of an address counts.
 */
export const dnsmasqLog: Reader = {
  format: 'dnsmasq-log',
  title: 'leases as the DHCP log has them',
  recognise: (text) => (/dnsmasq(?:-dhcp)?\[\d+\]:/.test(text.slice(0, 20_000)) ? 0.95 : 0),
  read(text) {
    const leases = new Map<string, LeaseFact>();
    const endless = new Set<string>();
    const granted = new Map<string, string>();
    for (const line of linesOf(text)) {
      const tx = /\]: (?:(\d+) )?/.exec(line.text)?.[1] ?? '';
      const ack = /DHCPACK\((\S+)\) ([0-9.]+) ([0-9a-f:]{17})(?: (\S+))?\s*$/i.exec(line.text);
      const time = /sent size:\s*\d+ option:\s*51 lease-time\s+(\S+)/.exec(line.text);
      if (ack) {
        leases.set(nth(ack, 2), {
          kind: 'lease',
          at: spanOf(line, nth(ack, 2)),
          address: nth(ack, 2),
          mac: nth(ack, 3),
          name: ack[4] ?? null,
          expires: -1,
        });
        if (tx !== '') granted.set(tx, nth(ack, 2));
      }
      if (time && /infinite/i.test(nth(time, 1))) endless.add(granted.get(tx) ?? '');
    }
    const facts = [...leases.values()].map((l): LeaseFact => ({
      ...l,
      expires: endless.has(l.address) ? null : 0,
    }));
    return { format: 'dnsmasq-log', facts, problems: [], covers: [] };
  },
};

/** `dhcpd.leases` of the ISC server (dhcpd.leases(5)): the last block of an address counts. */
export const iscLeases: Reader = {
  format: 'isc-leases',
  title: 'leases (ISC DHCP)',
  recognise: (text) => (/^lease (?:\d{1,3}\.){3}\d{1,3} \{/m.test(text) ? 0.97 : 0),
  read(text) {
    const leases = new Map<string, LeaseFact>();
    const problems: Problem[] = [];
    let current: {
      address: string;
      line: number;
      mac: string | null;
      name: string | null;
      expires: number | null;
      active: boolean;
    } | null = null;
    for (const line of written(text)) {
      const head = /^lease ([0-9.]+) \{/.exec(line.text);
      if (head)
        current = {
          address: nth(head, 1),
          line: line.number,
          mac: null,
          name: null,
          expires: null,
          active: true,
        };
      else if (!current) continue;
      else if (/^\}/.test(line.text.trim())) {
        if (current.active)
          leases.set(current.address, {
            kind: 'lease',
            at: { line: current.line },
            address: current.address,
            mac: current.mac,
            name: current.name,
            expires: current.expires,
          });
        else leases.delete(current.address);
        current = null;
      } else {
        const mac = /hardware ethernet ([0-9a-f:]{17})/i.exec(line.text)?.[1];
        const name = /client-hostname "([^"]+)"/.exec(line.text)?.[1];
        const ends = /^\s*ends (?:never|\d ([\d/]+ [\d:]+))/.exec(line.text);
        const state = /^\s*binding state (\w+)/.exec(line.text)?.[1];
        if (mac) current.mac = mac.toLowerCase();
        if (name) current.name = name;
        if (ends)
          current.expires = ends[1]
            ? Date.parse(`${ends[1].replaceAll('/', '-').replace(' ', 'T')}Z`) / 1000
            : null;
        if (state) current.active = state === 'active';
      }
    }
    if (current) problems.push({ line: current.line, text: `lease ${current.address}`, why: 'lease-cut' });
    return { format: 'isc-leases', facts: [...leases.values()], problems, covers: ['leases'] };
  },
};

/** Kea's memfile CSV: the last row of an address counts, state 0 is in use. */
export const keaLeases: Reader = {
  format: 'kea-leases',
  title: 'leases (Kea)',
  recognise: (text) =>
    /^address,hwaddr,client_id,valid_lifetime,expire/m.test(text.slice(0, 500)) ? 0.98 : 0,
  read(text) {
    const lines = written(text);
    const heading = (lines[0]?.text ?? '').split(',');
    const at = (name: string): number => heading.indexOf(name);
    const leases = new Map<string, LeaseFact>();
    const problems: Problem[] = [];
    for (const line of lines.slice(1)) {
      const cells = line.text.split(',');
      const address = cells[0] ?? '';
      if (!/^[0-9a-fA-F.:]+$/.test(address) || cells.length < 5) {
        problems.push(problemAt(line, 'no-lease'));
        continue;
      }
      const lifetime = Number(cells[at('valid_lifetime')]);
      if ((cells[at('state')] ?? '0') !== '0' || lifetime === 0) leases.delete(address);
      else
        leases.set(address, {
          kind: 'lease',
          at: spanOf(line, address),
          address,
          mac: cells[at('hwaddr')] || null,
          name: cells[at('hostname')]?.replace(/\.$/, '') || null,
          expires: lifetime >= 0xffff_ffff ? null : Number(cells[at('expire')]),
        });
    }
    return { format: 'kea-leases', facts: [...leases.values()], problems, covers: ['leases'] };
  },
};

/** A DHCP client's own words: `lease of 192.168.50.142 obtained from 192.168.50.1`. */
export const dhcpClient: Reader = {
  format: 'dhcp-client',
  title: 'what a DHCP client was given',
  recognise: (text) =>
    /^(?:udhcpc|dhclient|dhcpcd)\S*: /m.test(text.slice(0, 3000)) || /^DHCPACK (?:of|from) /m.test(text)
      ? 0.93
      : 0,
  read(text) {
    for (const line of linesOf(text)) {
      const m =
        /lease of ([0-9.]+) obtained(?: from ([0-9.]+))?|bound to ([0-9.]+)|leased ([0-9.]+) for/.exec(
          line.text,
        );
      if (m)
        return {
          format: 'dhcp-client',
          problems: [],
          covers: [],
          facts: [
            once('lease', lineAt(line), m[1] ?? m[3] ?? nth(m, 4)),
            ...(m[2] ? [once('server', lineAt(line), m[2])] : []),
          ],
        };
    }
    return {
      format: 'dhcp-client',
      facts: [],
      problems: [problemAt(linesOf(text)[0] ?? { number: 1, text }, 'lease-refused')],
      covers: [],
    };
  },
};
