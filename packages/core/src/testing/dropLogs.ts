import fc from 'fast-check';

/** Drop logs of packets drawn by lot, as two layouts have them. */

export interface Packet {
  readonly source: string;
  readonly port: number;
  readonly protocol: 'TCP' | 'UDP' | 'ICMP';
  readonly action: string;
  readonly second: number;
}

export const packet: fc.Arbitrary<Packet> = fc.record({
  source: fc.constantFrom('198.51.100.23', '203.0.113.255', '0.0.0.0', '255.1.9.10', '2001:db8::17'),
  port: fc.constantFrom(0, 1, 22, 8211, 65535),
  protocol: fc.constantFrom('TCP', 'UDP', 'ICMP'),
  action: fc.constantFrom('DROP', 'ALLOW', 'INFO-EVENTS-LOST', 'DROPPED'),
  second: fc.nat(86_399),
});

/** As anybody would count them by hand. */
export function byHand(packets: readonly Packet[]): string[] {
  const counts = new Map<string, number>();
  for (const p of packets) {
    const key = `${p.source} ${p.protocol.toLowerCase()} ${p.protocol === 'ICMP' ? 0 : p.port} ${p.action}`;
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  return [...counts].map(([key, n]) => `${key}: ${n}`).sort();
}

export const clock = (second: number): string => new Date(second * 1000).toISOString().slice(11, 19);

/** The fields of a W3C log in an order, the head first. */
export function w3c(packets: readonly Packet[], order: readonly string[], end: string): string {
  const cell = (p: Packet, field: string): string => {
    const port = p.protocol === 'ICMP' ? '-' : `${p.port}`;
    const cells: Readonly<Record<string, string>> = {
      date: '2026-11-24',
      time: clock(p.second),
      action: p.action,
      protocol: p.protocol,
      'src-ip': p.source,
      'dst-ip': p.source.includes(':') ? '2001:db8::1' : '192.168.50.20',
      'src-port': p.protocol === 'ICMP' ? '-' : '40001',
      'dst-port': port,
      path: 'RECEIVE',
    };
    return cells[field] ?? '-';
  };
  const lines = packets.map((p) => order.map((f) => cell(p, f)).join(' '));
  return ['#Version: 1.5', `#Fields: ${order.join(' ')}`, '', ...lines, ''].join(end);
}

export const netfilter = (packets: readonly Packet[]): string =>
  packets
    .map((p) => {
      const to = p.source.includes(':') ? '2001:0db8:0000:0000:0000:0000:0000:0001' : '203.0.113.50';
      const ports = p.protocol === 'ICMP' ? 'TYPE=8 CODE=0 ID=7 SEQ=1' : `SPT=40001 DPT=${p.port} LEN=40`;
      return (
        `Nov 24 ${clock(p.second)} plover kernel: [    5.080000] ${p.action} IN=eth0 OUT= ` +
        `MAC=02:00:00:00:00:01:02:00:00:00:00:02:08:00 SRC=${p.source} DST=${to} LEN=60 TOS=0x00 ` +
        `TTL=62 ID=1 DF PROTO=${p.protocol} ${ports} \n`
      );
    })
    .join('');

export const FIELDS = [
  'date',
  'time',
  'action',
  'protocol',
  'src-ip',
  'dst-ip',
  'src-port',
  'dst-port',
  'path',
];
