import { expect } from 'chai';
import { formatPrefix, parseEndpoint } from '../net/index.ts';
import { caseFacts, HOME } from '../testing/index.ts';
import { audience } from './context.ts';
import { sceneFrom } from './scene.ts';

/** Whom a rule would let in for a client. */
function letIn(
  said: unknown,
  from = '198.51.100.23:40000',
  to = '203.0.113.50:8214',
): readonly string[] | null {
  const facts = caseFacts(
    HOME,
    {},
    {
      service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }], audience: said },
    },
  );
  const [source, destination] = [parseEndpoint(from), parseEndpoint(to)];
  if (!source || !destination) throw new Error('the test names no packet');
  const scene = sceneFrom(facts, { transport: 'tcp', source, destination });
  return audience({ facts, scene })?.map(formatPrefix) ?? null;
}
const SIX = ['[2001:db8:9::23]:40000', '[2001:db8:50::20]:8214'] as const;

describe('whom a service is for', () => {
  it('anyone, where that was said', () => expect(letIn('anyone')).to.equal(null));

  it('the client alone, where nothing was said', () => {
    expect(letIn(undefined)).to.deep.equal(['198.51.100.23']);
    expect(letIn(undefined, ...SIX)).to.deep.equal(['2001:db8:9::23']);
  });

  it('the networks that were said, in the family of the packet', () => {
    const said = ['198.51.100.0/24', '2001:db8:9::/48', '192.0.2.7/32'];
    expect(letIn(said)).to.deep.equal(['198.51.100.0/24', '192.0.2.7']);
    expect(letIn(said, ...SIX)).to.deep.equal(['2001:db8:9::/48']);
  });

  it('the client alone, where all of them are of the other family', () => {
    expect(letIn(['2001:db8:9::/48'])).to.deep.equal(['198.51.100.23']);
    expect(letIn(['198.51.100.0/24'], ...SIX)).to.deep.equal(['2001:db8:9::23']);
  });
});
