import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** Hashes of the few inline scripts that the framework puts into pages, so that no other one may run. */
function inlineScriptHashes(clientDir: string): string {
  const hashes = new Set<string>();
  for (const name of readdirSync(clientDir, { recursive: true })) {
    if (!String(name).endsWith('.html')) continue;
    const html = readFileSync(join(clientDir, String(name)), 'utf8');
    for (const [, script] of html.matchAll(/<script(?![^>]*\ssrc=)[^>]*>([\s\S]*?)<\/script>/g))
      hashes.add(
        `'sha256-${createHash('sha256')
          .update(script ?? '')
          .digest('base64')}'`,
      );
  }
  return [...hashes].join(' ');
}

/**
 * Headers of every answer. Isolation (COOP, COEP) gives the page shared memory, which its workers use to be cancelled.
 * Style elements are allowed inline because components position themselves with them.
 * @param clientDir folder of the build that browsers are served, whose pages have the scripts
 */
export function securityHeaders(clientDir: string): Record<string, string> {
  return {
    'Content-Security-Policy': [
      "default-src 'self'",
      `script-src 'self' ${inlineScriptHashes(clientDir)}`,
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
