import { expect } from 'chai';
import { describeRule } from './describe.ts';
import type { Json } from './objects.ts';

const payload = (protocol: string, field: string): Json => ({ payload: { protocol, field } });
const match = (left: Json, right: Json, op = '=='): Json => ({ match: { op, left, right } });
const dport = payload('tcp', 'dport');

/** Rules as nft prints them as JSON, and the same as text (nft(8), libnftables-json(5)). */
const TABLE: readonly (readonly [statements: readonly Json[], text: string])[] = [
  [[match(dport, 8214), { accept: null }], 'tcp dport 8214 accept'],
  [[match(dport, 8214, '!='), 'drop'], 'tcp dport != 8214 drop'],
  [[match(dport, { range: [80, 89] }), { drop: null }], 'tcp dport 80-89 drop'],
  [[match(dport, { set: [22, { range: [80, 89] }] }), { drop: null }], 'tcp dport { 22, 80-89 } drop'],
  [
    [match(payload('ip', 'saddr'), { prefix: { addr: '198.51.100.0', len: 24 } }), { accept: null }],
    'ip saddr 198.51.100.0/24 accept',
  ],
  [[match(payload('ip', 'saddr'), '@friends'), { accept: null }], 'ip saddr @friends accept'],
  [
    [match({ ct: { key: 'state' } }, ['established', 'related'], 'in'), { accept: null }],
    'ct state established,related accept',
  ],
  [[match({ ct: { key: 'saddr', dir: 'original' } }, '192.0.2.1')], 'ct original saddr 192.0.2.1'],
  [[match({ meta: { key: 'iifname' } }, 'eth0'), { drop: null }], 'iifname eth0 drop'],
  [[match({ meta: { key: 'l4proto' } }, 'tcp')], 'meta l4proto tcp'],
  [[match({ fib: { flags: ['saddr', 'iif'], result: 'oif' } }, false)], 'fib saddr . iif oif false'],
  [[match({ '&': [{ meta: { key: 'mark' } }, 255] }, 1)], 'mark & 255 1'],
  [
    [match({ concat: [payload('ip', 'saddr'), dport] }, { set: [{ concat: ['192.0.2.1', 80] }] })],
    'ip saddr . tcp dport { 192.0.2.1 . 80 }',
  ],
  [
    [match(payload('ip', 'saddr'), { set: [{ elem: { val: '192.0.2.1', timeout: 60 } }] })],
    'ip saddr { 192.0.2.1 }',
  ],
  [[match({ payload: { base: 'nh', offset: 72, len: 8 } }, 17)], '@nh,72,8 17'],
  [[{ counter: { packets: 3, bytes: 180 } }, { drop: null }], 'counter drop'],
  [[{ log: { prefix: 'tide ' } }], 'log prefix "tide "'],
  [[{ log: null }], 'log'],
  [[{ jump: { target: 'extra' } }], 'jump extra'],
  [[{ goto: { target: 'extra' } }], 'goto extra'],
  [
    [
      {
        vmap: {
          key: dport,
          data: {
            set: [
              [80, { accept: null }],
              [81, { jump: { target: 'extra' } }],
            ],
          },
        },
      },
    ],
    'tcp dport vmap { 80 : accept, 81 : jump extra }',
  ],
  [[{ dnat: { addr: '192.168.50.20', port: 8214 } }], 'dnat to 192.168.50.20:8214'],
  [[{ dnat: { family: 'ip', addr: '192.168.50.20' } }], 'dnat ip to 192.168.50.20'],
  [[{ dnat: { port: 80 } }], 'dnat to :80'],
  [
    [{ dnat: { addr: { map: { key: dport, data: { set: [[80, '192.168.50.20']] } } } } }],
    'dnat to tcp dport map { 80 : 192.168.50.20 }',
  ],
  [[{ snat: { addr: { range: ['203.0.113.50', '203.0.113.52'] } } }], 'snat to 203.0.113.50-203.0.113.52'],
  [[{ redirect: { port: 80 } }], 'redirect to :80'],
  [[{ redirect: null }], 'redirect'],
  [[{ masquerade: null }], 'masquerade'],
  [[{ reject: { type: 'icmpx', expr: 'port-unreachable' } }], 'reject with icmpx port-unreachable'],
  [[{ reject: { type: 'tcp reset' } }], 'reject with tcp reset'],
  [[{ reject: null }], 'reject'],
  [[{ mangle: { key: { meta: { key: 'mark' } }, value: 5 } }], 'mark set 5'],
  [[{ limit: { rate: 5, per: 'second' } }], 'limit rate 5/second'],
  [[{ comment: 'tide' }], 'comment "tide"'],
  [[{ notrack: null }], 'notrack'],
  [[{ queue: { num: 1 } }], 'queue num 1'],
];

describe('rules that came as JSON, in nft’s own words', () => {
  for (const [statements, text] of TABLE) it(text, () => expect(describeRule(statements)).to.equal(text));
});
