import type { APIContext } from 'astro';
import type { z } from 'zod';
import { firstIssue } from '#core/formats/rack/json-list.ts';
import { answer } from './answer.ts';
import { printerOf } from './printer-hall.ts';

/** The printer that an address names, or the answer that there is none. */
export function namedPrinter({
  params,
}: APIContext): NonNullable<ReturnType<typeof printerOf>> | Response {
  return (
    printerOf(params.id) ??
    answer(404, {
      message:
        'There is no such printer. It was taken down, or the server was started anew. Put one up with POST /api/printer.',
    })
  );
}

/** The body as a schema has it, or the answer that says what is wrong with it. */
export async function readBody<Schema extends z.ZodType>(
  request: Request,
  schema: Schema,
): Promise<z.output<Schema> | Response> {
  let body: unknown;
  try {
    body = await request.json();
  } catch {
    return answer(400, { message: 'The body is not JSON.' });
  }
  const read = schema.safeParse(body);
  return read.success ? read.data : answer(400, { message: firstIssue(read.error) });
}
