import type { APIRoute } from 'astro';
import { changeSchema } from '../../../../platform/printer-api.ts';
import { answer } from '../../../../server/answer.ts';
import { removePrinter } from '../../../../server/printer-hall.ts';
import { namedPrinter, readBody } from '../../../../server/printer-routes.ts';

export const prerender = false;

/** `GET /api/printer/ID`: how it is now. */
export const GET: APIRoute = (context) => {
  const one = namedPrinter(context);
  return one instanceof Response ? one : answer(200, one.status());
};

/** `PATCH /api/printer/ID`: another speed, other faults. */
export const PATCH: APIRoute = async (context) => {
  const one = namedPrinter(context);
  if (one instanceof Response) return one;
  const change = await readBody(context.request, changeSchema);
  if (change instanceof Response) return change;
  one.change(change);
  return answer(200, one.status());
};

/** `DELETE /api/printer/ID`: takes it down. */
export const DELETE: APIRoute = (context) => {
  const one = namedPrinter(context);
  if (one instanceof Response) return one;
  removePrinter(one.id);
  return answer(200, { id: one.id });
};
