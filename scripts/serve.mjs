// Serves the built product: node scripts/serve.mjs HOST PORT. Paths that are no text are answered before they reach the
// router, which would fail at them without the headers that every answer has.
import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import next from 'next';

const [host = '127.0.0.1', port = '4300'] = process.argv.slice(2);
// Elsewhere than on this machine, scripts need a key: see server/gate.ts.
process.env.DENGUNG_LISTENS = host;
const dir = fileURLToPath(new URL('..', import.meta.url));
const app = next({ dev: false, dir, hostname: host, port: Number(port) });
await app.prepare();
const handle = app.getRequestHandler();

const HEADERS = {
  'Content-Type': 'text/plain; charset=utf-8',
  'Content-Security-Policy': "default-src 'none'; frame-ancestors 'none'",
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'no-referrer',
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'Cache-Control': 'no-store',
};

function isText(url) {
  try {
    decodeURIComponent(url.split('?')[0]);
    return true;
  } catch {
    return false;
  }
}

/** What the router fails at without the headers that every answer has. */
const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'];

const server = createServer(
  { maxHeaderSize: 16_384, connectionsCheckingInterval: 5_000 },
  (request, response) => {
    const { method = '', url = '/' } = request;
    if (!METHODS.includes(method))
      return void response
        .writeHead(405, { ...HEADERS, Allow: METHODS.join(', '), Connection: 'close' })
        .end('This method is not allowed.\n');
    if (url.startsWith('/') && isText(url)) return void handle(request, response);
    response.writeHead(400, HEADERS).end('This address cannot be read.\n');
  },
);
// Headers have to come at once; bodies may be large, and are watched by those who read them.
server.headersTimeout = 15_000;
server.requestTimeout = 0;
server.maxConnections = 512;
// What is in use is taken away as it ends.
for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => process.exit(0));
server.listen(Number(port), host);
