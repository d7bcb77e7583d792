import type { IncomingHttpHeaders } from 'node:http';

/**
 * Name of a host without its port, in small letters, without a dot at its end (RFC 3986, 3.2.2); undefined where it is none.
 * @param host as a request names it: `localhost:4310`, `[::1]:4310`
 */
function nameOf(host: string | undefined): string | undefined {
  const [, bracketed, plain] =
    /^(?:\[([0-9a-f:.]+)\]|([^:[\]/@\s]+))(?::\d{1,5})?$/i.exec(host ?? '') ?? [];
  return (bracketed ?? plain)?.toLowerCase().replace(/\.$/, '');
}

/** Names and addresses of a machine's own loopback (RFC 6761, 6.3; RFC 1122, 3.2.1.3; RFC 4291, 2.5.3). */
function isLoopback(name: string): boolean {
  return (
    name === 'localhost' ||
    name.endsWith('.localhost') ||
    name === '::1' ||
    /^127(\.\d{1,3}){3}$/.test(name)
  );
}

/**
 * May a request name this host? A page elsewhere can have its own name point to this machine (DNS rebinding); the browser then
 * takes the app for a part of that page. What it cannot do is to ask by another name than its own.
 * @param host as the request names it, with or without a port
 * @param allowed names besides those of the loopback
 */
export function isAllowedHost(host: string | undefined, allowed: readonly string[]): boolean {
  const name = nameOf(host);
  return name !== undefined && (isLoopback(name) || allowed.some((one) => nameOf(one) === name));
}

/** Methods that change nothing (RFC 9110, 9.2.1). */
export function changesNothing(method: string): boolean {
  return method === 'GET' || method === 'HEAD' || method === 'OPTIONS';
}

/**
 * Does a request come from a page of this very server, or from no page at all? Browsers tell where a request comes from by
 * `Origin` (Fetch, 3.1) and `Sec-Fetch-Site` (Fetch Metadata, 2.3); programs send neither.
 * @param host as the request names it
 */
export function isOwnOrigin(headers: IncomingHttpHeaders, host: string | undefined): boolean {
  const { origin } = headers;
  const site = headers['sec-fetch-site'];
  if (site !== undefined && site !== 'same-origin') return false;
  return (
    origin === undefined || origin === `http://${host ?? ''}` || origin === `https://${host ?? ''}`
  );
}
