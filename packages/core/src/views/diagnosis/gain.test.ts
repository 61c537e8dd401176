import { expect } from 'chai';
import { caseFacts, HOME, serverEvidence } from '../../testing/index.ts';
import { candidatesOf, gainOfListing, type Candidate } from './gain.ts';

const of = (client: object, files: Record<string, string> = {}, more: object = {}): readonly Candidate[] =>
  candidatesOf(
    caseFacts(HOME, files, {
      service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }], audience: 'anyone' },
      client: { address: '198.51.100.23', dials: '203.0.113.50:8214', ...client },
      ...more,
    }),
  );
const share = (list: readonly Candidate[], test: (c: Candidate) => boolean): number =>
  list.filter(test).reduce((n, c) => n + c.share, 0);
const inProgram = (c: Candidate): boolean => c.place === 'program';

describe('how likely the kinds of fault are against each other', () => {
  it('leave a few in a hundred for what no catalogue has', () =>
    expect(share(of({}), () => true)).to.be.within(0.9, 0.98));

  it('a refusal speaks for the program, silence against it', () => {
    const refused = share(of({ symptom: 'refused' }), inProgram);
    const lost = share(of({ symptom: 'lost' }), inProgram);
    expect(refused).to.be.greaterThan(2 * lost);
  });

  it('who connects and then fails was not kept out on the way', () =>
    expect(share(of({ symptom: 'connects-then-fails' }), (c) => c.fault === 'listen-acl')).to.be.greaterThan(
      share(of({ symptom: 'connects-then-fails' }), (c) => c.fault === 'host-drop'),
    ));

  it('an answer beside the server leaves what is before it, and what is felt from afar alone', () => {
    const lan = (outcome: string) => ({
      observations: [{ vantage: 'lan', to: '192.168.50.20:8214/tcp', outcome, at: '2026-11-20T10:00:00Z' }],
    });
    const isServer = (c: Candidate): boolean => c.place === 'host' || c.place === 'program';
    expect(share(of({}, {}, lan('answered')), isServer)).to.be.below(0.25);
    expect(share(of({}, {}, lan('lost')), isServer)).to.be.above(0.8);
    const scope = (outcome: string): number =>
      share(of({}, {}, lan(outcome)), (c) => c.fault === 'host-scope');
    expect(scope('answered')).to.be.greaterThan(scope('lost'));
  });

  it('what was shown whole is not asked once more: it tells nothing', () => {
    const server = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
    expect(gainOfListing(of({}), 'host', 'sockets')).to.be.greaterThan(0.3);
    // Only the answer that no fault is there is left, and that is known.
    expect(gainOfListing(of({}, server), 'host', 'sockets')).to.be.closeTo(0, 1e-9);
  });

  it('a table in which many kinds of fault would stand tells more than a look at one', () =>
    expect(gainOfListing(of({}), 'gateway', 'forwards')).to.be.greaterThan(
      gainOfListing(of({}), 'gateway', 'sessions'),
    ));
});
