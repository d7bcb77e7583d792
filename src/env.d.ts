/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    /** File of the worker that `POST /api/find` starts; handed over by `server.mjs`. */
    readonly findWorker: string;
    readonly rehearseWorker: string;
  }
}
