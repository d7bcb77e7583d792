/** Plain data that JSON can hold. */
export type Json =
  null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json | undefined };

/**
 * JSON text with keys in code-unit order and no white space, so that equal data always give equal text.
 * Undefined members are left out. The idea is that of RFC 8785.
 */
export function canonicalJson(value: Json): string {
  if (Array.isArray(value)) return `[${(value as readonly Json[]).map(canonicalJson).join(',')}]`;
  if (value !== null && typeof value === 'object') {
    const members = value as { readonly [key: string]: Json | undefined };
    const parts = Object.keys(members)
      .sort()
      .flatMap((key) => {
        const member = members[key];
        return member === undefined ? [] : [`${JSON.stringify(key)}:${canonicalJson(member)}`];
      });
    return `{${parts.join(',')}}`;
  }
  return JSON.stringify(value);
}
