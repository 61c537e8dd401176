import { expect } from 'chai';
import fc from 'fast-check';
import type { CaseDocument } from './document.ts';
import {
  withChange,
  withDeclined,
  withDismissed,
  withEntry,
  withEvidence,
  withJoined,
  withMoved,
  withName,
  withObservation,
  withProtocol,
  withRole,
  withoutStop,
  newStopId,
  withNewStop,
  withPart,
  withSettings,
  withTyped,
  withoutEvidence,
} from './edits.ts';
import { checkCaseDocument } from './schema.ts';

const CASE: CaseDocument = {
  format: 'bright-ferry-case',
  version: 1,
  title: 'Lantern Reef',
  kept: { by: 'another program' },
  path: [
    { id: 'client', role: 'client' },
    { id: 'gateway', role: 'gateway', typed: [{ text: 'WAN IP 203.0.113.50' }, { text: 'a note' }] },
    {
      id: 'inner',
      role: 'gateway',
      typed: [{ text: 'LAN IP 192.168.50.1' }],
      found: {
        id: 'second-gateway/gateway',
        reason: { by: 'private-wan', gateway: 'gateway', address: '192.168.1.2' },
        evidence: [{ file: 'evidence/gateway/a.txt', line: 1 }],
      },
    },
    { id: 'host', role: 'host' },
  ],
  evidence: [
    { stop: 'gateway', file: 'evidence/gateway/a.txt' },
    { stop: 'inner', file: 'evidence/inner/b.txt', part: true },
  ],
};

const typedAt = (document: CaseDocument, id: string): string[] | undefined =>
  document.path.find((s) => s.id === id)?.typed?.map((t) => t.text);

describe('edits of a case', () => {
  const frozen = JSON.stringify(CASE);
  const table: readonly (readonly [
    string,
    (c: CaseDocument) => CaseDocument,
    (c: CaseDocument) => unknown,
    unknown,
  ])[] = [
    [
      'a piece of evidence comes last',
      (c) => withEvidence(c, { stop: 'host', file: 'evidence/host/c.txt' }),
      (c) => c.evidence?.map((e) => e.file),
      ['evidence/gateway/a.txt', 'evidence/inner/b.txt', 'evidence/host/c.txt'],
    ],
    [
      'a piece moves to another stop',
      (c) => withEntry(c, 'evidence/gateway/a.txt', (e) => ({ ...e, stop: 'host' })),
      (c) => c.evidence?.map((e) => e.stop),
      ['host', 'inner'],
    ],
    [
      'a piece is a part',
      (c) => withPart(c, 'evidence/gateway/a.txt', true),
      (c) => c.evidence?.[0]?.part,
      true,
    ],
    [
      'a part is the whole after all, and nothing is written of it',
      (c) => withPart(c, 'evidence/inner/b.txt', false),
      (c) => 'part' in (c.evidence?.[1] ?? {}),
      false,
    ],
    [
      'a piece is taken away',
      (c) => withoutEvidence(c, 'evidence/gateway/a.txt'),
      (c) => c.evidence?.length,
      1,
    ],
    [
      'a typed line comes last at its stop',
      (c) => withTyped(c, 'gateway', { text: 'third' }),
      (c) => typedAt(c, 'gateway'),
      ['WAN IP 203.0.113.50', 'a note', 'third'],
    ],
    [
      'a typed line at a stop without any',
      (c) => withTyped(c, 'host', { text: 'first' }),
      (c) => typedAt(c, 'host'),
      ['first'],
    ],
    [
      'a typed line is taken away by its number',
      (c) => withoutEvidence(c, 'typed/gateway/1'),
      (c) => typedAt(c, 'gateway'),
      ['a note'],
    ],
    [
      'a stop gets a name, and an empty one takes it away',
      (c) => withName(withName(c, 'gateway', ' Plover '), 'host', ''),
      (c) => c.path.map((s) => s.name ?? null),
      [null, 'Plover', null, null],
    ],
    [
      'another kind of stop keeps what was filled in where it can have it',
      (c) =>
        withRole(withSettings(c, 'gateway', { kind: 'forward-table', rows: [] }), 'gateway', 'edge', false),
      (c) => [c.path[1]?.role, 'settings' in c.path[1]!],
      ['edge', false],
    ],
    [
      'a stop moves outward, and the first one stays',
      (c) => withMoved(withMoved(c, 'host', -1), 'client', -1),
      (c) => c.path.map((s) => s.id),
      ['client', 'gateway', 'host', 'inner'],
    ],
    [
      'a stop leaves, with what came from there',
      (c) => withoutStop(c, 'inner'),
      (c) => [c.path.map((s) => s.id), c.evidence?.map((e) => e.stop)],
      [['client', 'gateway', 'host'], ['gateway']],
    ],
    ['a stop that is not there changes nothing', (c) => withoutStop(c, 'nowhere'), (c) => c === CASE, true],
    [
      'what was seen comes last',
      (c) => withObservation(c, { vantage: 'client', to: '203.0.113.50:8214/tcp', outcome: 'lost' }),
      (c) => c.observations,
      [{ vantage: 'client', to: '203.0.113.50:8214/tcp', outcome: 'lost' }],
    ],
    [
      'the protocol that was taken for granted is said, and no other',
      (c) =>
        withProtocol(
          {
            ...c,
            service: {
              endpoints: [
                { protocol: 'tcp', port: 8214, guessed: true },
                { protocol: 'tcp', port: 443 },
              ],
            },
          },
          8214,
          ['tcp', 'udp'],
        ),
      (c) => c.service?.endpoints,
      [
        { protocol: 'tcp', port: 8214 },
        { protocol: 'udp', port: 8214 },
        { protocol: 'tcp', port: 443 },
      ],
    ],
    [
      'settings come and go',
      (c) => withSettings(withSettings(c, 'gateway', { kind: 'forward-table', rows: [] }), 'gateway', null),
      (c) => 'settings' in c.path[1]!,
      false,
    ],
    [
      'a change is noted',
      (c) => withChange(c, { stop: 'gateway', yields: 'forwards', title: 't', at: '2026-03-01T14:00:00Z' }),
      (c) => c.changes?.length,
      1,
    ],
    ['a check is declined', (c) => withDeclined(withDeclined(c, 'a'), 'b'), (c) => c.declined, ['a', 'b']],
    [
      'a found stop that is refused leaves the path with its evidence, and is remembered once',
      (c) => withDismissed(withDismissed(c, 'second-gateway/gateway'), 'second-gateway/gateway'),
      (c) => [c.path.map((s) => s.id), c.evidence?.length, c.dismissed],
      [['client', 'gateway', 'host'], 1, ['second-gateway/gateway']],
    ],
    [
      'two stops that are one machine',
      (c) => withJoined(c, 'gateway', 'inner'),
      (c) => [c.path.length, typedAt(c, 'gateway')?.length, c.evidence?.map((e) => e.stop)],
      [3, 3, ['gateway', 'gateway']],
    ],
    [
      'a new stop before another',
      (c) => withNewStop(c, { id: 'edge', role: 'edge' }, 'gateway'),
      (c) => c.path.map((s) => s.id).slice(0, 3),
      ['client', 'edge', 'gateway'],
    ],
    [
      'a new stop at the inner end',
      (c) => withNewStop(c, { id: 'box', role: 'host' }, null),
      (c) => c.path[4]?.id,
      'box',
    ],
  ];
  for (const [title, edit, read, expected] of table)
    it(title, () => {
      const after = edit(CASE);
      expect(read(after)).to.deep.equal(expected);
      expect(after['kept'], 'unknown keys stay').to.deep.equal({ by: 'another program' });
      expect(JSON.stringify(CASE), 'the document before is as it was').to.equal(frozen);
      checkCaseDocument(JSON.parse(JSON.stringify(after)));
    });

  it('any sequence of edits leaves a case that is accepted', () => {
    const edits = fc.array(fc.constantFrom(...table.map(([, edit]) => edit)), { maxLength: 12 });
    fc.assert(
      fc.property(edits, (list) => {
        checkCaseDocument(JSON.parse(JSON.stringify(list.reduce((c, edit) => edit(c), CASE))));
      }),
    );
  });

  it('new stops have ids of their own', () => {
    expect(newStopId(CASE, 'relay')).to.equal('relay');
    expect(newStopId(CASE, 'gateway')).to.equal('gateway-2');
    expect(newStopId(withNewStop(CASE, { id: 'gateway-2', role: 'gateway' }, null), 'gateway')).to.equal(
      'gateway-3',
    );
  });
});
