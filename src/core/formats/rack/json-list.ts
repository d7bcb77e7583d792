import type { ZodError } from 'zod';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';

/**
 * Reads a list kept as JSON: an object that has it under a key, or the bare list.
 * @param most entries at most
 * @param codes of the faults of what is no such list, and of one that is too long (`detail` has its length)
 */
export function readJsonList<Code extends string>(
  text: string,
  key: string,
  most: number,
  codes: { readonly notOne: Code; readonly tooMany: Code },
): Result<unknown[], Fault<Code | 'not-json'>> {
  let data: unknown;
  try {
    data = JSON.parse(text.replace(/^\ufeff/, ''));
  } catch (error) {
    return fail('not-json', undefined, error instanceof Error ? error.message : String(error));
  }
  const list: unknown =
    typeof data === 'object' && data !== null && Object.hasOwn(data, key)
      ? (data as Readonly<Record<string, unknown>>)[key]
      : data;
  if (!Array.isArray(list)) return fail(codes.notOne);
  if (list.length > most) return fail(codes.tooMany, undefined, String(list.length));
  return succeed(list);
}

/** The first thing that is wrong with an entry: its field, and why. */
export function firstIssue({ issues: [issue] }: ZodError): string {
  const field = issue?.path.join('.') ?? '';
  return `${field === '' ? 'the whole' : field}: ${issue?.message ?? ''}`;
}
