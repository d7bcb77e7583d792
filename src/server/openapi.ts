import { z } from 'zod';
import {
  changeSchema,
  commandSchema,
  newPrinterSchema,
  refusalSchema,
  statusSchema,
} from '../platform/printer-api.ts';

const SCHEMAS = {
  NewPrinter: z.toJSONSchema(newPrinterSchema, { io: 'input' }),
  Change: z.toJSONSchema(changeSchema, { io: 'input' }),
  Command: z.toJSONSchema(commandSchema, { io: 'input' }),
  Status: z.toJSONSchema(statusSchema),
  Refusal: z.toJSONSchema(refusalSchema),
};

const ref = (name: keyof typeof SCHEMAS): object => ({ $ref: `#/components/schemas/${name}` });
const json = (schema: object): object => ({ content: { 'application/json': { schema } } });
const status = { description: 'How it is now.', ...json(ref('Status')) };
const refusal = (description: string): object => ({ description, ...json(ref('Refusal')) });
const NONE = { 404: refusal('There is no such printer.') };
const ID = [{ name: 'id', in: 'path', required: true, schema: { type: 'string', format: 'uuid' } }];

/** What the simulated printers understand, as OpenAPI 3.1 (schemas are JSON Schema 2020-12, which it takes as they are). */
export function openApi(): object {
  return {
    openapi: '3.1.0',
    info: {
      title: 'Simulated printer',
      version: '1.0.0',
      description:
        'A printer that runs G-code by the clock. It stops at the pause commands of its profile and runs through all others. A real printer may stand behind the same door.',
    },
    paths: {
      '/api/printer': {
        get: {
          summary: 'All printers',
          responses: {
            200: {
              description: 'All printers.',
              ...json({
                type: 'object',
                properties: { printers: { type: 'array', items: ref('Status') } },
                required: ['printers'],
              }),
            },
          },
        },
        post: {
          summary: 'Put a printer up',
          requestBody: { required: true, ...json(ref('NewPrinter')) },
          responses: {
            201: status,
            400: refusal('The body is wrong.'),
            503: refusal('There are too many.'),
          },
        },
      },
      '/api/printer/{id}': {
        parameters: ID,
        get: { summary: 'How it is', responses: { 200: status, ...NONE } },
        patch: {
          summary: 'Another speed, other faults',
          requestBody: { required: true, ...json(ref('Change')) },
          responses: { 200: status, 400: refusal('The body is wrong.'), ...NONE },
        },
        delete: {
          summary: 'Take it down',
          responses: {
            200: {
              description: 'It is down.',
              ...json({ type: 'object', properties: { id: { type: 'string' } } }),
            },
            ...NONE,
          },
        },
      },
      '/api/printer/{id}/file': {
        parameters: ID,
        put: {
          summary: 'The G-code to print',
          requestBody: {
            required: true,
            content: {
              'application/octet-stream': { schema: { type: 'string', format: 'binary' } },
            },
          },
          responses: {
            200: status,
            400: refusal('It is no G-code that can be printed.'),
            409: refusal('It is under way.'),
            413: { description: 'It is too large.' },
            503: refusal('Too many files are being read.'),
            504: refusal('It took too long to read.'),
            ...NONE,
          },
        },
      },
      '/api/printer/{id}/commands': {
        parameters: ID,
        post: {
          summary: 'Start, pause, resume, stop, load a spool',
          requestBody: { required: true, ...json(ref('Command')) },
          responses: {
            200: status,
            400: refusal('The body is wrong.'),
            409: refusal('It cannot do that now.'),
            ...NONE,
          },
        },
      },
      '/api/printer/{id}/events': {
        parameters: ID,
        get: {
          summary: 'Its status as server-sent events',
          responses: {
            200: {
              description: 'Events named `status`, with a Status as data.',
              content: { 'text/event-stream': { schema: { type: 'string' } } },
            },
            503: refusal('Too many follow it.'),
            ...NONE,
          },
        },
      },
      '/api/printer/openapi.json': {
        get: { summary: 'This description', responses: { 200: { description: 'OpenAPI 3.1.' } } },
      },
    },
    components: { schemas: SCHEMAS },
  };
}
