/**
 * Serves the built app. A small layer around the framework's own handler: it answers what is listed and nothing else, puts the
 * security headers on every answer, static files included, and limits who may ask and what a request may send.
 */
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { Socket } from 'node:net';
import { extname, join, normalize } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { fileURLToPath } from 'node:url';
import { bodyOf, refuseBody } from './request-body.ts';
import { securityHeaders } from './security-headers.ts';
import { changesNothing, isAllowedHost, isOwnOrigin } from './who-asks.ts';

/** The build. This file stands two folders below the project, as source and built. */
const DIST = new URL('../../dist/', import.meta.url);
const CLIENT_DIR = fileURLToPath(new URL('client/', DIST));
const MOST_BODY_BYTES = 1_000_000;
/** Where more may be sent: a picture as base64, and G-code for a simulated printer. */
const MOST_BODY_BYTES_OF: readonly (readonly [RegExp, number])[] = [
  [/^\/api\/find$/, 40_000_000],
  [/^\/api\/printer\/[^/]+\/file$/, 64_000_000],
];
/** What the server's own endpoints are handed. */
const LOCALS = {
  findWorker: fileURLToPath(new URL('server/find-worker.mjs', DIST)),
  rehearseWorker: fileURLToPath(new URL('server/rehearse-worker.mjs', DIST)),
};

/**
 * All that the framework is asked for, besides files of the build. Its own endpoints (it brings one that scales pictures of any
 * size) are not among them.
 */
const ANSWERED: readonly RegExp[] = [
  /^\/$/,
  /^\/(project|rack|gcode|printers)(\/|$)/,
  /^\/api\/find\/?$/,
  /^\/api\/printer(\/|$)/,
];

/** The framework's handler, as it is used here. */
type Handler = (
  request: IncomingMessage,
  response: ServerResponse,
  next: () => void,
  locals: typeof LOCALS,
) => Promise<void>;

/** A request as the framework takes it: with a body that was read already. */
type RequestRead = IncomingMessage & { body?: string };

const TYPES: Readonly<Record<string, string>> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.svg': 'image/svg+xml',
  '.png': 'image/png',
  '.webp': 'image/webp',
  '.woff2': 'font/woff2',
  '.json': 'application/json',
};

/** The built file for a path, or undefined. Paths that climb out of the folder find nothing. */
async function staticFile(
  pathname: string,
): Promise<{ readonly path: string; readonly size: number } | undefined> {
  const decoded = decodeURIComponent(pathname);
  const path = join(
    CLIENT_DIR,
    normalize(`/${decoded}`),
    decoded.endsWith('/') ? 'index.html' : '',
  );
  if (!path.startsWith(CLIENT_DIR) || decoded.includes('\0')) return undefined;
  const found = await stat(path).catch(() => undefined);
  return found?.isFile() ? { path, size: found.size } : undefined;
}

/** How long a request may take to arrive, ms: a body that trickles in must not hold its socket for ever. */
const ARRIVAL_MS = 60_000;

export interface ServerOptions {
  /** Address that it listens at. */
  readonly host?: string;
  /** 0 takes any free one. */
  readonly port?: number;
  /** Names by which it may be asked, besides those of this machine's loopback; by default those in the environment's `HOSTS`. */
  readonly hosts?: readonly string[];
}

/**
 * Starts the server.
 * @returns the server, and the address that it answers at
 * @throws where the build is missing or the port is taken (`EADDRINUSE`)
 */
export async function startServer({
  host = '127.0.0.1',
  port = 4310,
  hosts = (process.env.HOSTS ?? '').split(/[\s,]+/).filter((name) => name !== ''),
}: ServerOptions = {}): Promise<{ readonly server: Server; readonly address: string }> {
  const { handler } = (await import(new URL('server/entry.mjs', DIST).href)) as {
    readonly handler: Handler;
  };
  const headers = securityHeaders(CLIENT_DIR);
  const server = createServer({ requestTimeout: ARRIVAL_MS, headersTimeout: ARRIVAL_MS });
  // A client that has said all may close its side and still wants its answer.
  (server as Server & { httpAllowHalfOpen: boolean }).httpAllowHalfOpen = true;
  server.on('request', (request, response) => {
    for (const [name, value] of Object.entries(headers)) response.setHeader(name, value);
    answer(request, response, handler, hosts).catch((error: unknown) => {
      const told = error instanceof Error ? error.stack : String(error);
      process.stderr.write(`${request.method ?? ''} ${request.url ?? ''}: ${told ?? ''}\n`);
      say(response, 500, 'The server failed at this. Nothing was changed.');
    });
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
  const bound = server.address();
  const own = typeof bound === 'object' && bound ? bound.port : port;
  return { server, address: `http://${host}:${own}` };
}

/** Answers with a line of text; ends what cannot be answered any more. */
function say(
  response: ServerResponse,
  status: number,
  text: string,
  headers: Readonly<Record<string, string>> = {},
): void {
  if (response.headersSent) {
    response.destroy();
    return;
  }
  response
    .writeHead(status, { 'Content-Type': 'text/plain; charset=utf-8', ...headers })
    .end(`${text}\n`);
}

/** What a request asks for. */
interface Target {
  /** Its path, still encoded, without query; it begins with one slash. */
  readonly path: string;
  /** The host that a whole address names. */
  readonly host?: string | undefined;
}

/**
 * What a request asks for; undefined where its target is none. A target begins with a slash, or is a whole address (RFC 9112, 3.2);
 * slashes at its beginning count as one.
 */
function targetOf(target: string): Target | undefined {
  let path = target;
  let host: string | undefined;
  if (!target.startsWith('/')) {
    const whole = /^https?:\/\/([^/?#]+)(\/[^?#]*)?/i.exec(target);
    if (!whole) return undefined;
    [, host, path = '/'] = whole;
  }
  path = path.replace(/[?#].*$/s, '').replace(/^\/+/, '/');
  try {
    decodeURIComponent(path);
  } catch {
    return undefined;
  }
  return { path, host };
}

/** Does a path climb, or hide a step in what it encodes? No page of the app asks so. */
function climbs(path: string): boolean {
  return decodeURIComponent(path)
    .split(/[/\\]/)
    .some((step) => step === '..' || step === '.');
}

const NOTHING_HERE = 'Nothing is here. Go back to / for the shelf.';

async function answer(
  request: RequestRead,
  response: ServerResponse,
  handler: Handler,
  hosts: readonly string[],
): Promise<void> {
  const { method = 'GET', url = '/' } = request;
  if (url === '*' && method === 'OPTIONS') {
    response.writeHead(204, { Allow: 'GET, HEAD, POST, OPTIONS' }).end();
    return;
  }
  const target = targetOf(url);
  if (target === undefined) {
    say(response, 400, 'This address cannot be read. Go back to / for the shelf.');
    return;
  }
  // A whole address counts before the header (RFC 9112, 3.2.2).
  const host = target.host ?? request.headers.host;
  if (!isAllowedHost(host, hosts)) {
    say(
      response,
      421,
      'This server answers by the names of its own machine, and by those that were allowed when it was started (HOSTS).',
    );
    return;
  }
  const { path: pathname } = target;
  if (climbs(pathname)) {
    say(response, 404, NOTHING_HERE);
    return;
  }
  // What comes behind reads the same path, whatever was written.
  request.url = pathname + (/\?[^#]*/.exec(url)?.[0] ?? '');
  if (pathname.startsWith('/api/')) {
    if (!isAnswered(pathname)) {
      say(response, 404, NOTHING_HERE);
      return;
    }
    if (!changesNothing(method) && !isOwnOrigin(request.headers, host)) {
      say(response, 403, 'Only pages of this app, and programs of this machine, may ask for this.');
      return;
    }
    await answerApi(request, response, handler, pathname);
    return;
  }
  const length = Number(request.headers['content-length'] ?? 0);
  if (!(length <= MOST_BODY_BYTES)) {
    refuseBody(request, response);
    return;
  }
  if (method !== 'GET' && method !== 'HEAD') {
    say(response, 405, 'Only GET and HEAD are answered here.', { Allow: 'GET, HEAD' });
    return;
  }
  const file = await staticFile(pathname);
  if (!file) {
    if (isAnswered(pathname)) await hand(request, response, handler);
    else say(response, 404, NOTHING_HERE);
    return;
  }
  const hashed = pathname.startsWith('/_astro/');
  response.writeHead(200, {
    'Content-Type': TYPES[extname(file.path)] ?? 'application/octet-stream',
    'Content-Length': file.size,
    'Cache-Control': hashed ? 'public, max-age=31536000, immutable' : 'no-cache',
  });
  if (method === 'HEAD') {
    response.end();
    return;
  }
  try {
    // Closes the file whichever side goes first.
    await pipeline(createReadStream(file.path), response);
  } catch {
    // The client went away in the middle.
  }
}

function isAnswered(pathname: string): boolean {
  return ANSWERED.some((one) => one.test(pathname));
}

async function answerApi(
  request: RequestRead,
  response: ServerResponse,
  handler: Handler,
  pathname: string,
): Promise<void> {
  const most = MOST_BODY_BYTES_OF.find(([path]) => path.test(pathname))?.[1] ?? MOST_BODY_BYTES;
  const length = Number(request.headers['content-length'] ?? 0);
  if (!(length <= most)) {
    refuseBody(request, response);
    return;
  }
  let body: string | null;
  try {
    body = await bodyOf(request, most);
  } catch {
    // The client went away before it had said everything.
    response.destroy();
    return;
  }
  if (body === null) {
    refuseBody(request, response);
    return;
  }
  request.body = body;
  // Without a kind of content, the framework takes it for a form of another site; no form can send this method.
  if (request.method === 'DELETE') request.headers['content-type'] ??= 'application/json';
  const watch = endWhenGone(request.socket, response);
  try {
    await hand(request, response, handler);
  } finally {
    watch.stop();
  }
}

/** How long an answer may still take after the client has closed its side, ms. */
const GONE_AFTER_MS = 1500;

/**
 * Ends the connection of a client that has closed its side and gets no answer soon: one that has gone away and one that has
 * only said all look alike, and nobody must search for the former.
 */
function endWhenGone(socket: Socket, response: ServerResponse): { readonly stop: () => void } {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const begin = (): void => {
    timer = setTimeout(() => {
      if (!response.writableFinished) socket.destroy();
    }, GONE_AFTER_MS);
  };
  if (socket.readableEnded) begin();
  else socket.once('end', begin);
  return {
    stop: () => {
      clearTimeout(timer);
      socket.off('end', begin);
    },
  };
}

/** Hands a request to the framework. */
async function hand(
  request: RequestRead,
  response: ServerResponse,
  handler: Handler,
): Promise<void> {
  await handler(
    request,
    response,
    () => {
      say(response, 404, NOTHING_HERE);
    },
    LOCALS,
  );
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const port = Number(process.env.PORT ?? 4310);
  const { address } = await startServer({ port });
  process.stdout.write(`Zesty Strata is at ${address}\n`);
}
