/**
 * Serves the built app. A small layer around the framework's own handler: it puts the security headers on every answer,
 * static files included, and limits what a request may send.
 */
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { extname, join, normalize } from 'node:path';
import { fileURLToPath } from 'node:url';
import { stat } from 'node:fs/promises';
import { createReadStream } from 'node:fs';

const CLIENT_DIR = fileURLToPath(new URL('./dist/client/', import.meta.url));
const MOST_BODY_BYTES = 1_000_000;
/** Where more may be sent: a picture as base64. */
const MOST_BODY_BYTES_OF = { '/api/find': 40_000_000 };
/** What the server's own endpoints are handed. */
const LOCALS = {
  findWorker: fileURLToPath(new URL('./dist/server/find-worker.mjs', import.meta.url)),
};

const TYPES = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.svg': 'image/svg+xml',
  '.png': 'image/png',
  '.webp': 'image/webp',
  '.woff2': 'font/woff2',
  '.json': 'application/json',
};

/** Hashes of the few inline scripts that the framework puts into pages, so that no other one may run. */
function inlineScriptHashes() {
  const hashes = new Set();
  for (const name of readdirSync(CLIENT_DIR, { recursive: true })) {
    if (!String(name).endsWith('.html')) continue;
    const html = readFileSync(join(CLIENT_DIR, String(name)), 'utf8');
    for (const [, script] of html.matchAll(/<script(?![^>]*\ssrc=)[^>]*>([\s\S]*?)<\/script>/g))
      hashes.add(`'sha256-${createHash('sha256').update(script).digest('base64')}'`);
  }
  return [...hashes].join(' ');
}

/**
 * Headers of every answer. Isolation (COOP, COEP) gives the page shared memory, which its workers use to be cancelled.
 * Style elements are allowed inline because components position themselves with them.
 */
export function securityHeaders() {
  return {
    'Content-Security-Policy': [
      "default-src 'self'",
      `script-src 'self' ${inlineScriptHashes()}`,
      "style-src 'self' 'unsafe-inline'",
      "img-src 'self' blob: data:",
      "connect-src 'self' blob:",
      "worker-src 'self'",
      "font-src 'self'",
      "object-src 'none'",
      "base-uri 'none'",
      "form-action 'self'",
      "frame-ancestors 'none'",
    ].join('; '),
    'Cross-Origin-Opener-Policy': 'same-origin',
    'Cross-Origin-Embedder-Policy': 'require-corp',
    'Cross-Origin-Resource-Policy': 'same-origin',
    'Referrer-Policy': 'no-referrer',
    'X-Content-Type-Options': 'nosniff',
  };
}

/** The built file for a path, or undefined. Paths that climb out of the folder find nothing. */
async function staticFile(pathname) {
  let decoded;
  try {
    decoded = decodeURIComponent(pathname);
  } catch {
    return undefined;
  }
  const path = join(
    CLIENT_DIR,
    normalize(`/${decoded}`),
    decoded.endsWith('/') ? 'index.html' : '',
  );
  if (!path.startsWith(CLIENT_DIR) || decoded.includes('\0')) return undefined;
  const found = await stat(path).catch(() => undefined);
  return found?.isFile() ? { path, size: found.size } : undefined;
}

/** Starts the server. Port 0 takes any free one. Resolves with the server and its address. */
export async function startServer({ host = '127.0.0.1', port = 4310 } = {}) {
  const { handler } = await import('./dist/server/entry.mjs');
  const headers = securityHeaders();
  const server = createServer((request, response) => {
    for (const [name, value] of Object.entries(headers)) response.setHeader(name, value);
    void answer(request, response, handler);
  });
  await new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
  return { server, address: `http://${host}:${server.address().port}` };
}

async function answer(request, response, handler) {
  const { pathname } = new URL(request.url ?? '/', 'http://localhost');
  const length = Number(request.headers['content-length'] ?? 0);
  const most = Object.hasOwn(MOST_BODY_BYTES_OF, pathname)
    ? MOST_BODY_BYTES_OF[pathname]
    : MOST_BODY_BYTES;
  if (!(length <= most)) {
    response.writeHead(413, { Connection: 'close' }).end('The request is too large.');
    return;
  }
  let received = 0;
  request.on('data', (chunk) => {
    received += chunk.length;
    if (received > most) request.destroy();
  });
  request.pause();
  const file = await staticFile(pathname);
  if (file && (request.method === 'GET' || request.method === 'HEAD')) {
    const hashed = pathname.startsWith('/_astro/');
    response.writeHead(200, {
      'Content-Type': TYPES[extname(file.path)] ?? 'application/octet-stream',
      'Content-Length': file.size,
      'Cache-Control': hashed ? 'public, max-age=31536000, immutable' : 'no-cache',
    });
    if (request.method === 'HEAD') response.end();
    else createReadStream(file.path).pipe(response);
    return;
  }
  handler(
    request,
    response,
    () => {
      if (!response.headersSent)
        response.writeHead(404, { 'Content-Type': 'text/plain; charset=utf-8' });
      response.end('Nothing is here. Go back to / for the shelf.');
    },
    LOCALS,
  );
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const port = Number(process.env.PORT ?? 4310);
  const { address } = await startServer({ port });
  process.stdout.write(`Zesty Strata is at ${address}\n`);
}
