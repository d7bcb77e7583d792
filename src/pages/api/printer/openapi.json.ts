import type { APIRoute } from 'astro';
import { answer } from '../../../server/answer.ts';
import { openApi } from '../../../server/openapi.ts';

export const prerender = false;

/** `GET /api/printer/openapi.json`: what stands behind this door. */
export const GET: APIRoute = () => answer(200, openApi());
