import type { IncomingMessage, ServerResponse } from 'node:http';

/** A request's body as text; null where it is larger than allowed. What is too much is not kept. */
export async function bodyOf(request: IncomingMessage, most: number): Promise<string | null> {
  const chunks: Buffer[] = [];
  let received = 0;
  // What is left when too much has come is still to be answered.
  for await (const chunk of request.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>) {
    received += chunk.length;
    if (received > most) return null;
    chunks.push(chunk);
  }
  return Buffer.concat(chunks).toString('utf8');
}

/** How long what is still sent of a refused body is taken and thrown away, ms. */
const LINGER_MS = 2000;

/**
 * Says that a body is larger than allowed, and keeps no more of it. The connection stays open until the client has said all, or
 * for a while: one that is closed with bytes unread is reset, and the client may lose the answer with it (RFC 9112, 9.6).
 */
export function refuseBody(request: IncomingMessage, response: ServerResponse): void {
  const text = 'The request is too large.\n';
  response.writeHead(413, {
    'Content-Type': 'text/plain; charset=utf-8',
    'Content-Length': Buffer.byteLength(text),
    Connection: 'close',
  });
  response.write(text);
  const close = (): void => {
    clearTimeout(timer);
    response.end();
    request.destroy();
  };
  const timer = setTimeout(close, LINGER_MS);
  request.once('end', close).once('close', close).resume();
}
