import { expect } from 'chai';
import { serve, type Served } from './serve.ts';

describe('the served application', () => {
  let address = '';
  let served: Served;
  before(async () => {
    served = await serve({ port: 0 });
    ({ address } = served);
  });
  after(() => served.close());

  it('listens on loopback and gives its one page for every route of the application', async () => {
    expect(address).to.match(/^http:\/\/127\.0\.0\.1:\d+\/$/);
    for (const route of ['', 'cases', 'case/demo-gullcast', 'new']) {
      const answer = await fetch(address + route);
      expect(answer.status, route).to.equal(200);
      expect(await answer.text()).to.contain('<div id="app"');
    }
  });

  it('lets no page load or send anything elsewhere', async () => {
    const { headers } = await fetch(address);
    expect(headers.get('content-security-policy')).to.contain("default-src 'self'").and.not.contain('http');
    // Machine code of its own (the loops over large logs), and no text that becomes a program.
    expect(headers.get('content-security-policy')).to.contain("script-src 'self' 'wasm-unsafe-eval';");
    expect(headers.get('x-content-type-options')).to.equal('nosniff');
  });

  it('keeps built files for good, and the page itself not at all', async () => {
    const page = await fetch(address);
    expect(page.headers.get('cache-control')).to.equal('no-cache');
    const script = /\/assets\/[^"]+\.js/.exec(await page.text())![0];
    expect((await fetch(address + script.slice(1))).headers.get('cache-control')).to.contain('immutable');
  });

  it('gives nothing from outside its folder', async () => {
    expect((await fetch(`${address}..%2f..%2fpackage.json`)).status).to.be.oneOf([400, 403, 404]);
    expect((await fetch(`${address}missing.js`)).status).to.equal(404);
  });
});
