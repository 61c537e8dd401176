import { nth } from '../../place/index.ts';
import { parseAddress } from '../../net/index.ts';
import type { LeaseFact, Problem } from '../../facts/index.ts';
import { linesOf, spanOf } from '../text.ts';
import type { Reader } from '../reader.ts';

const ROW = new RegExp(
  String.raw`^(\d{1,12})\s+((?:[0-9a-f]{2}[:-]){5}[0-9a-f]{2}|\d+-(?:[0-9a-f]{2}:?)+|\d{1,10})\s+` +
    String.raw`(\S+)\s+(\S+)(?:\s+(\S+))?\s*$`,
  'i',
);

/** Numbers in the place of the link address are identities of IPv6 leases, below their `duid` line. */
function isRow(line: string, text: string): boolean {
  const row = ROW.exec(line);
  return (
    row !== null &&
    parseAddress(row[3] ?? '') !== null &&
    (!/^\d+$/.test(row[2] ?? '') || /^duid /m.test(text))
  );
}

/**
 * The lease file of dnsmasq: `expiry mac address name client-id`, times in seconds since 1970, 0 for a lease
 * without end, `*` for no name. A `duid` line begins the IPv6 part.
 */
export const dnsmasqLeases: Reader = {
  format: 'dnsmasq-leases',
  title: 'DHCP leases',
  recognise: (text) => (linesOf(text.slice(0, 20_000)).some((l) => isRow(l.text.trim(), text)) ? 0.9 : 0),
  read(text) {
    const facts: LeaseFact[] = [];
    const problems: Problem[] = [];
    for (const line of linesOf(text)) {
      const t = line.text.trim();
      if (t === '' || t.startsWith('duid ')) continue;
      const row = ROW.exec(t);
      const address = row?.[3] ?? '';
      if (!row || !parseAddress(address)) {
        problems.push({
          line: line.number,
          text: t.slice(0, 200),
          why: 'no-lease-line',
        });
        continue;
      }
      const mac = /^([0-9a-f]{2}[:-]){5}[0-9a-f]{2}$/i.test(nth(row, 2))
        ? nth(row, 2).toLowerCase().replaceAll('-', ':')
        : null;
      facts.push({
        kind: 'lease',
        at: spanOf(line, address),
        address,
        mac,
        name: row[4] === '*' ? null : nth(row, 4),
        expires: row[1] === '0' ? null : Number(row[1]),
      });
    }
    return { format: 'dnsmasq-leases', facts, problems, covers: ['leases'] };
  },
};
