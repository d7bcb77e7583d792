import { firstIssue } from '#core/formats/rack/json-list.ts';
import type { APIRoute } from 'astro';
import { z } from 'zod';
import { answer } from '../../server/answer.ts';
import { findPool } from '../../server/find-pool.ts';

export const prerender = false;

/** Longest search that can be asked of the server, seconds. */
const MOST_SECONDS = 30;

const text = z.union([z.string(), z.number()]).transform(String).optional();

/** The options of the verb `find`, by the same names, but for its mask; the picture as base64, the rack as CSV text. */
const bodySchema = z.strictObject({
  image: z.base64(),
  rack: z.string(),
  'max-swaps': text,
  'max-layers': text,
  'least-layers': text,
  'least-per-band': text,
  rule: text,
  rare: text,
  lean: text,
  /** A number, or zones as JSON text. */
  zones: text,
  care: text,
  seconds: z.coerce.number().min(0.01).max(MOST_SECONDS).default(1),
  seed: text,
  must: z.array(z.string()).optional(),
  bottom: z.string().optional(),
  top: z.string().optional(),
  all: z.boolean().optional(),
  sturdy: z.boolean().optional(),
});

const STOPS = {
  gone: [499, 'The client went away.'],
  'too-long': [504, 'The search took far longer than asked. Ask for fewer seconds.'],
  busy: [503, 'Too many searches are waiting. Try again in a minute.'],
} as const;

/** `GET /api/find`: how many searches run and wait now. */
export const GET: APIRoute = () => answer(200, findPool.state());

/** `POST /api/find`: what the verb `find` does, in a thread of a pool. Nothing of it is kept. */
export const POST: APIRoute = async ({ request, locals }) => {
  let body: unknown;
  try {
    body = await request.json();
  } catch {
    return answer(400, { message: 'The body is not JSON. Send image (base64) and rack (CSV).' });
  }
  const read = bodySchema.safeParse(body);
  if (!read.success) return answer(400, { message: firstIssue(read.error) });
  const { image, rack, seconds, ...options } = read.data;
  const outcome = await findPool.run(
    locals.findWorker,
    {
      image: new Uint8Array(Buffer.from(image, 'base64')),
      rackCsv: rack,
      options: { ...options, seconds: String(seconds) } as never,
    },
    seconds,
    request.signal,
  );
  if (typeof outcome === 'string') {
    const [status, message] = STOPS[outcome];
    return answer(status, { message });
  }
  return outcome.ok
    ? answer(200, { ...outcome.value.answer, stack: outcome.value.stack })
    : answer(400, { message: outcome.message });
};
