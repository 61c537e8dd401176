import { expect } from 'chai';
import { withChange, withSettings, type CaseDocument } from '../case/index.ts';
import type { StopSettings } from '../devices/index.ts';
import { caseFacts, HOME, serverEvidence, type TestStop } from '../testing/index.ts';
import { benchView } from '../views/index.ts';

const SERVER = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
const SERVICE = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
};
const AT = '2026-11-20T10:00:00Z';
const WEB = { name: 'web', protocol: 'tcp', ports: '443', to: '192.168.50.20', toPort: 8443 };

const filled = (settings: object): TestStop[] =>
  HOME.map((s) => (s.role === 'gateway' ? { ...s, settings } : s));
const table = (...rows: object[]) => ({ kind: 'forward-table', rows: [WEB, ...rows], ownPorts: [] });

function mendOf(path: readonly TestStop[]) {
  const facts = caseFacts(path, SERVER, SERVICE);
  const { next } = benchView(facts);
  if (next.kind !== 'mend') throw new Error(`no mend: ${next.kind}`);
  return { mend: next.mend, document: facts.document };
}

/** The case once the change is noted as made, as the bench does it. */
function made(path: readonly TestStop[]): CaseDocument {
  const { mend, document } = mendOf(path);
  const before = document.path.find((s) => s.id === mend.stop)?.settings;
  if (!mend.settings || !before || !mend.shownBy) throw new Error('nothing is taken into the settings');
  const change = { stop: mend.stop, yields: mend.shownBy, title: mend.title, at: AT, before };
  return withChange(withSettings(document, mend.stop, mend.settings), change);
}

const seen = (outcome: string) => ({
  observations: [{ vantage: 'client', to: '203.0.113.50:8214/tcp', outcome, at: '2026-11-20T11:00:00Z' }],
});
const viewOf = ({ path, changes }: CaseDocument, more: object = {}) =>
  benchView(caseFacts(path as unknown as TestStop[], SERVER, { ...SERVICE, changes, ...more }));

describe('a change that is made is taken into the settings that somebody filled in', () => {
  const RADIO = { name: 'radio', protocol: 'tcp', ports: '8214', to: '192.168.50.20' };
  const CASES: readonly [string, object[], object[]][] = [
    ['a row that was off', [{ ...RADIO, enabled: false }], [{ ...RADIO, enabled: true }]],
    ['a row that was not applied', [{ ...RADIO, state: 'staged' }], [RADIO]],
    ['a row that waits for a restart', [{ ...RADIO, state: 'needs-restart' }], [RADIO]],
    ['a row for another outside port', [{ ...RADIO, ports: '8299', toPort: 8214 }], [RADIO]],
    ['a row for another inside port', [{ ...RADIO, toPort: 8100 }], [RADIO]],
    [
      'a row without a name, of a range, that says that it is on',
      [{ protocol: 'udp', ports: '8210-8219', to: '192.168.50.20', enabled: true }],
      [{ protocol: 'both', ports: '8210-8219', to: '192.168.50.20', enabled: true }],
    ],
    [
      'a row of a range that leads to others, for another machine',
      [{ ...RADIO, ports: '8114-8219', toPort: 8114, to: '192.168.50.31', sources: ['198.51.100.0/24'] }],
      [{ ...RADIO, ports: '8114-8219', to: '192.168.50.20', sources: ['198.51.100.0/24'] }],
    ],
    ['a row for another machine', [{ ...RADIO, to: '192.168.50.31' }], [RADIO]],
    ['a row for the other protocol', [{ ...RADIO, protocol: 'udp' }], [{ ...RADIO, protocol: 'both' }]],
    [
      'a row for other senders',
      [{ ...RADIO, sources: ['203.0.113.0/24'] }],
      [{ ...RADIO, sources: ['198.51.100.23'] }],
    ],
  ];
  for (const [title, rows, expected] of CASES)
    it(title, () => {
      const { mend } = mendOf(filled(table(...rows)));
      expect(mend.settings).to.deep.equal(table(...expected) as unknown as StopSettings);
    });

  it('a missing row is added behind the others', () => {
    const { mend } = mendOf(filled(table()));
    const settings = mend.settings as unknown as ReturnType<typeof table>;
    expect(settings.rows[0]).to.deep.equal(WEB);
    expect(settings.rows[1]).to.include({ protocol: 'tcp', ports: '8214', to: '192.168.50.20' });
  });

  it('holds until the client has tried: works proves it, still waits contradicts it', () => {
    const document = made(filled(table({ ...RADIO, enabled: false })));
    expect(viewOf(document).verdict).to.include({
      headline: 'Would be answered, once it is made as it was said.',
      sure: false,
    });
    expect(viewOf(document, seen('answered')).verdict).to.include({ lamp: 'lit', sure: true });
    expect(viewOf(document, seen('lost')).verdict.lamp).to.not.equal('lit');
  });

  it('nothing is taken into the settings of a machine that was listed', () => {
    const listed =
      'Name\tProtocol\tOutside port\tInside address\tInside port\nweb\tTCP\t80\t192.168.50.20\t80\n';
    const { next } = benchView(caseFacts(HOME, { 'gateway/forwards': listed, ...SERVER }, SERVICE));
    expect(next.kind === 'mend' && next.mend.settings).to.equal(null);
  });
});
