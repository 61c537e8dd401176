import { createServer } from 'node:http';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import Koa from 'koa';
import serveStatic from 'koa-static';

export interface ServeOptions {
  /** 0 takes any free port. */
  readonly port: number;
  /** Default 127.0.0.1: nobody else on the network is let in. */
  readonly host?: string;
}

/** Everything is served from here; no page may load or send anything elsewhere. */
const POLICY =
  "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src " +
  "'self' data: blob:; font-src 'self' data:; worker-src 'self' blob:; connect-src 'self'; object-src " +
  "'none'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'";

export interface Served {
  /** `http://HOST:PORT/` */
  readonly address: string;
  close(): void;
}

/** Serves the built web application. Resolves once it listens; rejects where it cannot. */
export async function serve({ port, host = '127.0.0.1' }: ServeOptions): Promise<Served> {
  const root = webRoot();
  const app = new Koa();
  app.use(async (context, next) => {
    context.set('Content-Security-Policy', POLICY);
    context.set('X-Content-Type-Options', 'nosniff');
    context.set('Referrer-Policy', 'no-referrer');
    await next();
  });
  app.use(async (context, next) => {
    // Routes of the application all lead to its one page; files have a dot in their name.
    if (context.method === 'GET' && !/\.[a-z0-9]+$/i.test(context.path)) context.path = '/index.html';
    await next();
  });
  app.use(
    serveStatic(root, {
      maxage: 0,
      index: 'index.html',
      setHeaders: (response, path) =>
        void response.setHeader(
          'Cache-Control',
          /\/assets\//.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache',
        ),
    }),
  );
  const answer = app.callback();
  const server = createServer((request, response) => void answer(request, response));
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
  const bound = server.address();
  const actual = typeof bound === 'object' && bound !== null ? bound.port : port;
  return {
    address: `http://${host.includes(':') ? `[${host}]` : host}:${actual}/`,
    close: () => (server.closeAllConnections(), void server.close()),
  };
}

/** The built pages, beside this program in the workspace; seen from the source and from the bundle alike. */
function webRoot(): string {
  for (const relative of ['../../web/dist', '../../../web/dist']) {
    const path = fileURLToPath(new URL(relative, import.meta.url));
    if (existsSync(`${path}/index.html`)) return path;
  }
  throw new Error('the web application is not built; run “npm run setup”');
}
