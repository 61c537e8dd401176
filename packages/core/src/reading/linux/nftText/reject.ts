import type { Json } from '../../../devices/index.ts';
import { Cursor } from './tokens.ts';

/**
 * Numbers that `nft -nn` prints for reject codes (RFC 792, RFC 4443; icmpx as in
 * linux/netfilter/nf_tables.h).
 */
export const CODES: Readonly<Record<string, readonly string[]>> = {
  icmpx: ['no-route', 'port-unreachable', 'host-unreachable', 'admin-prohibited'],
  icmp: [
    'net-unreachable',
    'host-unreachable',
    'prot-unreachable',
    'port-unreachable',
    '',
    '',
    '',
    '',
    '',
    'net-prohibited',
    'host-prohibited',
    '',
    '',
    'admin-prohibited',
  ],
  icmpv6: [
    'no-route',
    'admin-prohibited',
    '',
    'addr-unreachable',
    'port-unreachable',
    'policy-fail',
    'reject-route',
  ],
};

export function reject(cursor: Cursor): Json[] {
  cursor.at++;
  if (!cursor.take('with')) return [{ reject: null }];
  if (cursor.take('tcp', 'reset')) return [{ reject: { type: 'tcp reset' } }];
  const type = cursor.value()?.text ?? '';
  cursor.take('type');
  const code = cursor.value()?.text ?? '';
  return [
    {
      reject: { type, expr: /^\d+$/.test(code) ? (CODES[type]?.[Number(code)] ?? 'port-unreachable') : code },
    },
  ];
}
