import { expect } from 'chai';
import { bench, FORWARDS, WHOLE } from '../../testing/index.ts';

describe('a server of which its routes alone are known', () => {
  const routes = {
    'server/routes':
      'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link src 192.168.50.20\n',
  };
  const others = Object.fromEntries(
    Object.entries(WHOLE).filter(([at]) => !/server\/(?:addresses|routes)/.test(at)),
  );

  it('is not asked for its addresses where the packet comes to the one that they show', () => {
    const view = bench({ ...others, ...routes });
    expect(view.verdict.lamp).to.equal('lit');
    expect([view.next.kind === 'check' ? view.next.id : '', ...view.later.map((l) => l.id)]).to.not.include(
      'server/addresses',
    );
  });

  it('is asked for them where a forward leads to another: it may hold both', () => {
    const view = bench({
      ...others,
      ...routes,
      'gateway/forwards': FORWARDS.replaceAll('192.168.50.20', '192.168.50.41'),
    });
    expect(view.verdict.lamp).to.equal('fogged');
    expect([view.next.kind === 'check' ? view.next.id : '', ...view.later.map((l) => l.id)]).to.include(
      'server/addresses',
    );
  });
});
