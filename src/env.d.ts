/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    /** File of the worker that `POST /api/find` starts; handed over by `src/server/serve.ts`. */
    readonly findWorker: string;
    readonly rehearseWorker: string;
  }
}
