import { expect } from 'chai';
import { address } from '../net/index.ts';
import type { Machine, Site } from '../site/index.ts';
import { testMachine } from '../testing/index.ts';
import { withSender } from './sender.ts';

const gateway = (interfaces: Readonly<Record<string, readonly string[]>>): Machine =>
  testMachine('gateway', { role: 'gateway', interfaces });
const HOME = gateway({ lo: ['127.0.0.1/8'], wan: ['203.0.113.50/24'], lan: ['192.168.50.1/24'] });
const HOST = testMachine('host', { interfaces: { eno1: ['192.168.50.20/24'] } });
const unseen = (id: string, role: Machine['role'] = 'client'): Machine => ({
  ...testMachine(id, { role, interfaces: {} }),
  interfaces: null,
});
const site = (...machines: readonly Machine[]): Site => ({
  machines,
  sharedAddresses: [],
  internet: 'carrier',
});
/** The machines with their addresses, and where a private sender may stand. */
const told = (at: Site, sender: string): string => {
  const { machines, perhapsInside } = withSender(at, address(sender));
  const list = machines.map((m) => `${m.id}${m.presumed.kind === 'bare' ? '*' : ''}`).join(' ');
  return perhapsInside === undefined ? list : `${list} inside ${perhapsInside}`;
};

describe('a sender that no evidence describes', () => {
  const table: readonly (readonly [string, Site, string, string])[] = [
    ['is none where a machine holds its address', site(HOME, HOST), '192.168.50.20', 'gateway host'],
    ['is a machine of its own', site(HOME, HOST), '198.51.100.23', 'gateway host client*'],
    [
      'is the client of which nothing is known',
      site(unseen('caller'), HOME, HOST),
      '198.51.100.23',
      'gateway host caller*',
    ],
    [
      'is no other stop of which nothing is known',
      site(unseen('other', 'host'), HOME),
      '198.51.100.23',
      'other gateway client*',
    ],
    [
      'stands in no network that is known to be another',
      site(HOME, HOST),
      '192.168.77.9',
      'gateway host client*',
    ],
    [
      'may stand inside a gateway whose inside nobody told of',
      site(gateway({ lo: ['127.0.0.1/8'], wan: ['203.0.113.50/24'] }), HOST),
      '192.168.77.9',
      'gateway host client* inside gateway',
    ],
    [
      'or of which nothing is known at all',
      site(HOST, unseen('gateway', 'gateway')),
      '192.168.77.9',
      'host gateway client* inside gateway',
    ],
    [
      'a public one does not',
      site(gateway({ wan: ['203.0.113.50/24'] }), HOST),
      '198.51.100.23',
      'gateway host client*',
    ],
    [
      'an inside beside public addresses is one',
      site(gateway({ wan: ['203.0.113.50/24'], lan: ['203.0.113.129/28', '192.168.50.1/24'] })),
      '192.168.77.9',
      'gateway client*',
    ],
  ];
  for (const [title, at, sender, expected] of table)
    it(title, () => expect(told(at, sender)).to.equal(expected));
});
