import type { APIRoute } from 'astro';
import { commandSchema } from '../../../../platform/printer-api.ts';
import { answer } from '../../../../server/answer.ts';
import { namedPrinter, readBody } from '../../../../server/printer-routes.ts';

export const prerender = false;

/** `POST /api/printer/ID/commands`: what a maker does at it. */
export const POST: APIRoute = async (context) => {
  const one = namedPrinter(context);
  if (one instanceof Response) return one;
  const command = await readBody(context.request, commandSchema);
  if (command instanceof Response) return command;
  const refused = one.obey(command);
  return refused === null ? answer(200, one.status()) : answer(409, { message: refused });
};
