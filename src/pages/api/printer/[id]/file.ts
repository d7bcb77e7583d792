import type { APIRoute } from 'astro';
import { answer } from '../../../../server/answer.ts';
import { namedPrinter } from '../../../../server/printer-routes.ts';
import { readPool } from '../../../../server/read-pool.ts';

export const prerender = false;

/** Seconds that reading a file may take. */
const READ_S = 30;

const UNDER_WAY = 'It is under way. Stop it first.';

const STOPS = {
  gone: [499, 'The client went away.'],
  'too-long': [504, 'The file took too long to read.'],
  busy: [503, 'Too many files are being read. Try again in a minute.'],
} as const;

/** `PUT /api/printer/ID/file`: the G-code to print, as it is. */
export const PUT: APIRoute = async (context) => {
  const one = namedPrinter(context);
  if (one instanceof Response) return one;
  if (one.isRunning) return answer(409, { message: UNDER_WAY });
  const bytes = new Uint8Array(await context.request.arrayBuffer());
  const outcome = await readPool.run(
    context.locals.rehearseWorker,
    { bytes, printer: one.printer },
    READ_S,
    context.request.signal,
  );
  if (typeof outcome === 'string') {
    const [status, message] = STOPS[outcome];
    return answer(status, { message });
  }
  if (!outcome.ok) return answer(400, { message: outcome.message });
  // Somebody may have begun meanwhile.
  return one.takeFile(outcome.value)
    ? answer(200, one.status())
    : answer(409, { message: UNDER_WAY });
};
