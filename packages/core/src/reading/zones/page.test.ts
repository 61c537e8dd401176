import { expect } from 'chai';
import { printed, type Fact } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

const values = (facts: readonly Fact[] | undefined, kind: string): unknown[] =>
  (facts ?? []).filter((f) => f.kind === kind).map((f) => printed(f)?.value);

describe('rules of a firewall with zones, as pages write them', () => {
  const services: readonly (readonly [string, unknown])[] = [
    ['tcp 8214', [{ protocol: 'tcp', ports: [{ first: 8214, last: 8214 }] }]],
    ['TCP/8214', [{ protocol: 'tcp', ports: [{ first: 8214, last: 8214 }] }]],
    ['8214/tcp', [{ protocol: 'tcp', ports: [{ first: 8214, last: 8214 }] }]],
    ['tcp+udp 28410-28415', [{ protocol: 'both', ports: [{ first: 28410, last: 28415 }] }]],
    [
      'tcp 80, 443',
      [
        { protocol: 'tcp', ports: [{ first: 80, last: 80 }] },
        { protocol: 'tcp', ports: [{ first: 443, last: 443 }] },
      ],
    ],
    ['HTTPS', [{ protocol: 'tcp', ports: [{ first: 443, last: 443 }] }]],
    ['any', undefined],
  ];
  for (const [cell, expected] of services)
    it(`the service ${cell}`, () => {
      const text = `From zone\tTo zone\tDestination\tService\tAction\noutside\tinside\tany\t${cell}\tallow\n`;
      const [rule] = values(readText(text)?.facts, 'zone-rule') as { services?: unknown }[];
      expect(rule?.services).to.deep.equal(expected);
    });

  it('protocol and port in columns of their own', () => {
    const text =
      'Source zone\tDestination zone\tSource address\tDestination address\tProtocol\tDestination ' +
      'port\tAction\tEnabled\n' +
      'wan\tlan\t198.51.100.0/24\t192.168.50.20\tudp\t28410\tdeny\tno\n';
    expect(values(readText(text)?.facts, 'zone-rule')).to.deep.equal([
      {
        action: 'drop',
        fromZone: 'wan',
        toZone: 'lan',
        sources: ['198.51.100.0/24'],
        destinations: ['192.168.50.20'],
        services: [{ protocol: 'udp', ports: [{ first: 28410, last: 28410 }] }],
        enabled: false,
      },
    ]);
  });

  for (const [line, expected] of [
    ['Rules see the destination address before translation', [{ of: 'address', seen: 'before' }]],
    ['Translations are applied before the rules.', [{ of: 'address', seen: 'after' }]],
    ['Destination translation happens after the filter rules', [{ of: 'address', seen: 'before' }]],
    [
      'Rules are matched on zone and address after translation',
      [
        { of: 'zone', seen: 'after' },
        { of: 'address', seen: 'after' },
      ],
    ],
    ['Do rules see addresses before translation?', []],
  ] as const)
    it(`the order: ${line}`, () => {
      const text =
        `${line}\nFrom zone\tTo zone\tDestination\tService\tAction\n` +
        'outside\tinside\tany\ttcp 80\tallow\n';
      expect(values(readText(text)?.facts, 'filter-order')).to.deep.equal(expected);
    });
});

describe('mappings of whole addresses', () => {
  const MAPPING = { outside: '203.0.113.52', inside: '192.168.50.20', enabled: true };
  for (const [title, text, expected] of [
    ['a line with an arrow', 'WEB 203.0.113.52 ↔ 192.168.50.20\n', { ...MAPPING, name: 'WEB', twoWay: true }],
    ['a line without a name', '203.0.113.52 <-> 192.168.50.20\n', { ...MAPPING, name: null, twoWay: true }],
    ['one way', '203.0.113.52 -> 192.168.50.20\n', { ...MAPPING, name: null, twoWay: false }],
    [
      'a table',
      'Name\tExternal IP\tInternal IP\tState\nWEB\t203.0.113.52\t192.168.50.20\ton\n',
      { ...MAPPING, name: 'WEB', twoWay: true },
    ],
  ] as const)
    it(title, () => {
      const facts = readText(text)?.facts ?? [];
      const [fact] = facts.filter((f) => f.kind === 'address-mapping');
      expect(fact && printed(fact)?.value).to.deep.include(
        Object.fromEntries(Object.entries(expected).filter(([, v]) => v !== null)),
      );
    });

  it('sessions with an arrow are no translations', () =>
    expect(readText('198.51.100.23:40001 → 192.168.50.20:28410\n')?.format).to.not.equal('zone-page'));

  it('a rule table that names no zone stays one of any kind', () =>
    expect(
      readText('Action\tProtocol\tSource\tDestination\tPort\nallow\ttcp\tany\t192.168.50.20\t8214\n')?.format,
    ).to.equal('rule-table'));
});

it('single lines of an nft rule set show that there is one, and cover nothing', () => {
  const reading = readText('\t\tmeta l4proto { tcp, udp } th dport 8443 dnat ip to 10.28.181.20:7777\n');
  expect(reading).to.include({ format: 'nft-lines' });
  expect(reading?.covers).to.deep.equal([]);
  expect(reading?.problems).to.have.length(1);
});
