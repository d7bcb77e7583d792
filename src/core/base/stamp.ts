import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import { canonicalJson, type Json } from './canonical-json.ts';

/** Crockford's base 32: no I, L, O or U, so that a stamp read aloud or off a print is not mistaken. */
const ALPHABET = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';

/** SHA-256 of some bytes as 64 lower-case hex digits (FIPS 180-4). */
export function digestBytes(bytes: Uint8Array): string {
  return bytesToHex(sha256(bytes));
}

/**
 * The stamp of an exported state: eight signs (40 bits of SHA-256) in two groups, such as `7K2Q-M9XD`.
 * Equal states have equal stamps; the order of object keys does not matter.
 */
export function stampOf(state: Json): string {
  const hash = sha256(utf8ToBytes(canonicalJson(state)));
  let bits = 0n;
  for (let i = 0; i < 5; i += 1) bits = (bits << 8n) | BigInt(hash[i] ?? 0);
  let signs = '';
  for (let i = 7; i >= 0; i -= 1) signs += ALPHABET[Number((bits >> BigInt(5 * i)) & 31n)] ?? '0';
  return `${signs.slice(0, 4)}-${signs.slice(4)}`;
}
