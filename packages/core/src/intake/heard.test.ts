import { expect } from 'chai';
import type { CaseDocument } from '../case/index.ts';
import { checkCaseDocument } from '../case/index.ts';
import { endpointsFrom, heardOf, heardProblems, portsText, withHeard } from './heard.ts';

const CASE: CaseDocument = {
  format: 'bright-ferry-case',
  version: 1,
  title: 'Lantern Reef',
  kept: { by: 'another program' },
  service: { name: 'Lantern Reef', kind: 'game', endpoints: [{ protocol: 'udp', port: 28410 }] },
  client: {
    address: '198.51.100.23',
    dials: 'play.gannet.example.net',
    symptom: 'lost',
    says: 'nobody gets on',
  },
  path: [
    { id: 'client', role: 'client' },
    { id: 'host', role: 'host' },
  ],
};

describe('ports as people write them', () => {
  const cases: readonly (readonly [string, string | null])[] = [
    ['udp 28410', 'udp 28410'],
    ['udp 28410, tcp 28410-28415', 'udp 28410, tcp 28410-28415'],
    ['8100/tcp 8101/udp', 'tcp 8100, udp 8101'],
    ['8102 both', 'tcp 8102, udp 8102'],
    ['tcp+udp 8102', 'tcp 8102, udp 8102'],
    ['TCP 80, 443', 'tcp 80, tcp 443'],
    ['tcp 28410 - 28415', 'tcp 28410-28415'],
    ['udp 5, udp 5', 'udp 5'],
    ['', ''],
    ['28410', '28410'],
    ['28410-28415, 9000', '28410-28415, 9000'],
    ['8100/tcp 8101', 'tcp 8100, 8101'],
    ['tcp', null],
    ['tcp 99999', null],
    ['tcp 0', null],
    ['icmp 8', null],
  ];
  for (const [text, wanted] of cases)
    it(`${text || '(nothing)'}: ${wanted ?? 'not understood'}`, () => {
      const found = endpointsFrom(text);
      expect(found === null ? null : portsText(found)).to.equal(wanted);
    });
});

describe('what was heard, put right', () => {
  it('comes back as it went in', () => expect(withHeard(CASE, heardOf(CASE))).to.deep.equal(CASE));

  it('each field by itself, and nothing else of the case', () => {
    const heard = heardOf(CASE);
    const next = withHeard(CASE, {
      ...heard,
      ports: 'udp 28411, tcp 28411',
      dials: '203.0.113.50:28411',
      from: '',
      audience: '198.51.100.0/24 203.0.113.7',
    });
    expect(next.service).to.deep.equal({
      name: 'Lantern Reef',
      kind: 'game',
      endpoints: [
        { protocol: 'udp', port: 28411 },
        { protocol: 'tcp', port: 28411 },
      ],
      audience: ['198.51.100.0/24', '203.0.113.7'],
    });
    expect(next.client).to.deep.equal({
      dials: '203.0.113.50:28411',
      symptom: 'lost',
      says: 'nobody gets on',
    });
    expect(next['kept']).to.deep.equal({ by: 'another program' });
    expect(() => checkCaseDocument(JSON.parse(JSON.stringify(next)))).to.not.throw();
  });

  it('what cannot be read is named, and leaves the case as it was', () => {
    const wrong = { ...heardOf(CASE), title: ' ', ports: 'icmp 8', from: 'there', audience: 'my friends' };
    expect(Object.keys(heardProblems(wrong))).to.have.members(['title', 'ports', 'from', 'audience']);
    expect(withHeard(CASE, wrong)).to.deep.equal(CASE);
    expect(heardProblems(heardOf(CASE))).to.deep.equal({});
  });

  it('a case of which nothing was heard yet', () => {
    const { service: _service, client: _client, ...empty } = CASE;
    expect(heardOf(empty)).to.include({ service: '', ports: '', dials: '', from: '', symptom: 'unknown' });
    expect(withHeard(empty, { ...heardOf(empty), audience: 'Everyone' }).service?.audience).to.equal(
      'anyone',
    );
  });
});
