import type { TestMachine } from './site.ts';

/** A client, a Linux gateway and a server behind it, in parts that tests change. */

export const CLIENT: TestMachine = {
  role: 'client',
  interfaces: { eth0: ['198.51.100.23/24'] },
  routes: ['default via 198.51.100.1 dev eth0'],
};
export const gateway = (rules: string, more: Partial<TestMachine> = {}): TestMachine => ({
  role: 'gateway',
  interfaces: { wan: ['198.51.100.1/24', '203.0.113.50/32'], lan: ['192.168.50.1/24'] },
  rules,
  ...more,
});
export const host = (more: Partial<TestMachine> = {}): TestMachine => ({
  interfaces: { lo: ['127.0.0.1/8'], eno1: ['192.168.50.20/24'] },
  routes: ['default via 192.168.50.1 dev eno1'],
  sockets: ['tcp 0.0.0.0:8214'],
  ...more,
});
export const FORWARD =
  'table ip nat {\n' +
  ' chain pre {\n' +
  '  type nat hook prerouting priority dstnat; policy accept;\n' +
  '  ip daddr 203.0.113.50 tcp dport 8214 dnat to 192.168.50.20\n' +
  ' }\n' +
  ' chain post {\n' +
  '  type nat hook postrouting priority srcnat; policy accept;\n' +
  '  oifname "wan" masquerade\n' +
  ' }\n' +
  '}\n';
