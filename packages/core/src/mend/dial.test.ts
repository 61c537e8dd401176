import { expect } from 'chai';
import { mendCases, serverEvidence } from '../testing/index.ts';

const { account, CARRIER, CLIENT, HOST, mendSteps, STATUS, WHOLE } = mendCases;
type Given = mendCases.Given;
type Told = mendCases.Told;

const TO = '192.168.50.20';

describe('what was dialled is not where the network is', () => {
  const at = (status: string, more: Record<string, string> = {}): Given => ({
    files: { ...WHOLE, 'gateway/status': status, ...more },
  });
  const NAME = 'radio.example.net has address 203.0.113.50\n';
  const MOVED = 'WAN IP 203.0.113.77\nLAN IP 192.168.50.1\n';
  const table: readonly (readonly [string, Given, Told])[] = [
    [
      'the outside address is another one now',
      at(MOVED),
      { steps: ['wan-changed at client', 'answered'], at: ['gateway/status:1'] },
    ],
    [
      'the name still leads to the old one',
      at(MOVED, { 'client/name': NAME }),
      {
        steps: ['name-stale at client', 'answered'],
        values: ['Address: 203.0.113.50 > 203.0.113.77'],
        at: ['client/name:1', 'gateway/status:1'],
      },
    ],
    [
      'another name does not',
      at(MOVED, { 'client/name': 'mail.example.net has address 203.0.113.99\n' }),
      { steps: ['wan-changed at client', 'answered'] },
    ],
    [
      'the name leads to an inside address',
      { ...at(STATUS, { 'client/name': `radio.example.net has address ${TO}\n` }), to: `${TO}:8214/tcp` },
      { steps: ['name-private at client', 'answered'] },
    ],
    [
      'an inside address was dialled',
      { ...at(STATUS), to: `${TO}:8214/tcp` },
      { steps: ['dial-private at client', 'answered'], values: [`Address: ${TO} > 203.0.113.50`] },
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(account(mendSteps(given))).to.deep.include(expected));
});

describe('a carrier that shares one outside address', () => {
  const shared = (wan: string, more: Record<string, string> = {}): Given => ({
    files: {
      ...WHOLE,
      'gateway/status': `WAN IP ${wan}\nLAN IP 192.168.50.1\n`,
      'gateway/seen': 'seen from outside 203.0.113.50\n',
      ...more,
    },
  });

  it('is told with what the router shows and what the internet sees', () => {
    const steps = mendSteps(shared('100.72.14.9'));
    expect(account(steps)).to.deep.equal({
      steps: ['carrier-shared at carrier', 'answered'],
      values: ['WAN address: 100.72.14.9 > a public address of its own'],
      at: ['gateway/status:1', 'gateway/seen:1'],
    });
    expect(steps[0]?.mend?.finding).to.include({ found: 'shared-address', gateway: 'gateway', isSeen: true });
  });

  it('a line that has IPv6 alone', () =>
    expect(account(mendSteps(shared('192.0.0.2'))).steps[0]).to.equal('carrier-v6-only at carrier'));

  it('a public address of its own is shared with nobody', () =>
    expect(account(mendSteps(shared('203.0.113.50'))).steps).to.deep.equal(['answered']));
});

describe('a rented machine that was dialled at another address', () => {
  it('has its own, which belongs there', () => {
    const files = serverEvidence('203.0.113.80/24', '203.0.113.1', ['tcp 0.0.0.0:8214 gullcast']);
    const steps = mendSteps({ path: [CLIENT, CARRIER, HOST], files, to: '203.0.113.81:8214/tcp' });
    expect(account(steps)).to.deep.include({
      steps: ['wan-changed at client', 'answered'],
      values: ['Address: 203.0.113.81 > 203.0.113.80'],
    });
  });
});
