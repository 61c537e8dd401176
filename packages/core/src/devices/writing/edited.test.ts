import { expect } from 'chai';
import { address, parsePrefix, type Prefix } from '../../net/index.ts';
import { iptables } from './iptables.ts';
import { nft } from './nft.ts';
import type { RuleEdit } from './wish.ts';

const prefixes = (...texts: readonly string[]): Prefix[] =>
  texts.map((text) => parsePrefix(text)).filter((p) => p !== null);
const PORT: RuleEdit = { edit: 'port', to: [{ first: 8214, last: 8214 }] };
const PORTS: RuleEdit = { edit: 'port', to: [{ first: 8210, last: 8219 }] };
const APART: RuleEdit = {
  edit: 'port',
  to: [
    { first: 80, last: 80 },
    { first: 8210, last: 8219 },
  ],
};
const ONE: RuleEdit = { edit: 'source', to: prefixes('198.51.100.23/32') };
const TWO: RuleEdit = { edit: 'source', to: prefixes('198.51.100.0/24', '192.0.2.7/32') };
const ANYONE: RuleEdit = { edit: 'source', to: null };
const TARGET: RuleEdit = { edit: 'target', to: address('192.168.50.20') };
const TARGET6: RuleEdit = { edit: 'target', to: address('2001:db8:50::20') };

describe('a rule of nftables with one part changed (nft(8))', () => {
  const table: readonly (readonly [string, RuleEdit, string])[] = [
    ['tcp dport 8215 accept', PORT, 'tcp dport 8214 accept'],
    ['tcp dport { 80, 443 } accept', PORT, 'tcp dport 8214 accept'],
    ['tcp dport 8000-8009 accept', PORTS, 'tcp dport 8210-8219 accept'],
    ['tcp dport 8215 accept', APART, 'tcp dport { 80, 8210-8219 } accept'],
    ['ip saddr 192.0.2.0/24 tcp dport 80 accept', ONE, 'ip saddr 198.51.100.23 tcp dport 80 accept'],
    ['ip saddr { 192.0.2.1, 192.0.2.2 } accept', ONE, 'ip saddr 198.51.100.23 accept'],
    ['ip saddr @offices accept', TWO, 'ip saddr { 198.51.100.0/24, 192.0.2.7 } accept'],
    ['ip saddr { 192.0.2.1, 192.0.2.2 } tcp dport 80 accept', ANYONE, 'tcp dport 80 accept'],
    ['tcp dport 80 ip6 saddr 2001:db8::/32 accept', ANYONE, 'tcp dport 80 accept'],
    [
      'udp dport 8214 dnat to 192.168.50.20',
      { edit: 'protocol', to: 'tcp' },
      'tcp dport 8214 dnat to 192.168.50.20',
    ],
    [
      'meta l4proto udp th dport 53 accept',
      { edit: 'protocol', to: 'tcp' },
      'meta l4proto tcp th dport 53 accept',
    ],
    ['iifname "wan" tcp dport 80 accept', { edit: 'line' }, 'tcp dport 80 accept'],
    ['iifname { "lan", "dmz" } tcp dport 80 accept', { edit: 'line' }, 'tcp dport 80 accept'],
    ['iif eth0 tcp dport 80 accept', { edit: 'line' }, 'tcp dport 80 accept'],
    ['oifname "wan" masquerade', { edit: 'line' }, 'oifname "wan" masquerade'],
    [
      'ip daddr 203.0.113.9 drop',
      { edit: 'address', to: address('203.0.113.50') },
      'ip daddr 203.0.113.50 drop',
    ],
    ['tcp dport 80 dnat to 192.168.50.31', TARGET, 'tcp dport 80 dnat to 192.168.50.20'],
    ['tcp dport 80 dnat to 192.168.50.31:8080', TARGET, 'tcp dport 80 dnat to 192.168.50.20:8080'],
    ['tcp dport 80 dnat ip to 192.168.50.31', TARGET, 'tcp dport 80 dnat ip to 192.168.50.20'],
    ['tcp dport 80 dnat to [2001:db8::31]:8080', TARGET6, 'tcp dport 80 dnat to [2001:db8:50::20]:8080'],
    ['tcp dport 80 dnat to 2001:db8::31', TARGET6, 'tcp dport 80 dnat to 2001:db8:50::20'],
    [
      'tcp dport 80 dnat to 192.168.50.20:8080',
      { edit: 'target-port' },
      'tcp dport 80 dnat to 192.168.50.20',
    ],
    [
      'tcp dport 80 dnat to [2001:db8::20]:8080',
      { edit: 'target-port' },
      'tcp dport 80 dnat to [2001:db8::20]',
    ],
    ['tcp dport 80 dnat to 2001:20::1', { edit: 'target-port' }, 'tcp dport 80 dnat to 2001:20::1'],
  ];
  for (const [text, edit, expected] of table)
    it(`${text}: ${expected}`, () => expect(nft.edited(text, edit)).to.equal(expected));
});

describe('a rule of iptables with one part changed (iptables(8), iptables-extensions(8))', () => {
  const D = '-j DNAT --to-destination';
  const table: readonly (readonly [string, RuleEdit, string | null])[] = [
    ['-p tcp -m tcp --dport 8215 -j ACCEPT', PORT, '-p tcp -m tcp --dport 8214 -j ACCEPT'],
    ['-p tcp -m tcp --dport 8000:8009 -j ACCEPT', PORTS, '-p tcp -m tcp --dport 8210:8219 -j ACCEPT'],
    // Several ports need another match.
    ['-p tcp -m tcp --dport 8215 -j ACCEPT', APART, null],
    ['-s 192.0.2.0/24 -p tcp -j ACCEPT', ONE, '-s 198.51.100.23 -p tcp -j ACCEPT'],
    ['-s 192.0.2.0/24 -p tcp -j ACCEPT', TWO, '-s 198.51.100.0/24,192.0.2.7 -p tcp -j ACCEPT'],
    ['-s 192.0.2.0/24 -p tcp -j ACCEPT', ANYONE, '-p tcp -j ACCEPT'],
    [
      '-p udp -m udp --dport 53 -j ACCEPT',
      { edit: 'protocol', to: 'tcp' },
      '-p tcp -m tcp --dport 53 -j ACCEPT',
    ],
    ['-i wan -p tcp -j ACCEPT', { edit: 'line' }, '-p tcp -j ACCEPT'],
    [
      '-d 203.0.113.9/32 -j DROP',
      { edit: 'address', to: address('203.0.113.50') },
      '-d 203.0.113.50 -j DROP',
    ],
    [`-p tcp ${D} 192.168.50.31:8080`, TARGET, `-p tcp ${D} 192.168.50.20:8080`],
    [`-p tcp ${D} [2001:db8::31]:8080`, TARGET6, `-p tcp ${D} [2001:db8:50::20]:8080`],
    [`-p tcp ${D} 192.168.50.20:8080`, { edit: 'target-port' }, `-p tcp ${D} 192.168.50.20`],
    [`-p tcp ${D} 2001:db8::31`, TARGET6, `-p tcp ${D} 2001:db8:50::20`],
    [`-p tcp ${D} 2001:20::1`, { edit: 'target-port' }, `-p tcp ${D} 2001:20::1`],
  ];
  for (const [text, edit, expected] of table)
    it(`${text}: ${expected ?? 'not by this edit'}`, () =>
      expect(iptables.edited(text, edit)).to.equal(expected));
});
