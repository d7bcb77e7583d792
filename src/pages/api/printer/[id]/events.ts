import type { APIRoute } from 'astro';
import { answer } from '../../../../server/answer.ts';
import { namedPrinter } from '../../../../server/printer-routes.ts';

export const prerender = false;

/** `GET /api/printer/ID/events`: server-sent events named `status`. */
export const GET: APIRoute = (context) => {
  const one = namedPrinter(context);
  if (one instanceof Response) return one;
  return one.follow(context.request) ?? answer(503, { message: 'Too many follow this printer.' });
};
