import type { APIRoute } from 'astro';
import { newPrinterSchema } from '../../../platform/printer-api.ts';
import { answer } from '../../../server/answer.ts';
import { allPrinters, MOST_PRINTERS, putUp } from '../../../server/printer-hall.ts';
import { readBody } from '../../../server/printer-routes.ts';

export const prerender = false;

/** `GET /api/printer`: all simulated printers. */
export const GET: APIRoute = () =>
  answer(200, { printers: allPrinters().map((one) => one.status()) });

/** `POST /api/printer`: puts one up. */
export const POST: APIRoute = async ({ request }) => {
  const given = await readBody(request, newPrinterSchema);
  if (given instanceof Response) return given;
  const one = putUp(given);
  return one
    ? answer(201, one.status())
    : answer(503, {
        message: `There are ${MOST_PRINTERS} printers already. Take one down with DELETE, or wait.`,
      });
};
