/** One thread of the pool behind `POST /api/find`. Built as a file of its own, because threads are started from files. */
import { BadInput } from '../platform/bad-input.ts';
import { runFindJob, type FindJobAnswer, type FindOptions } from '../platform/node/find-job.ts';

export interface FindTask {
  readonly image: Uint8Array;
  readonly rackCsv: string;
  readonly options: FindOptions;
}

export type FindOutcome =
  | { readonly ok: true; readonly value: FindJobAnswer }
  | { readonly ok: false; readonly message: string };

export default async function find({ image, rackCsv, options }: FindTask): Promise<FindOutcome> {
  try {
    const source = { image, imageName: 'image', rackCsv, rackName: 'rack' };
    return { ok: true, value: await runFindJob(source, options) };
  } catch (error) {
    if (error instanceof BadInput) return { ok: false, message: error.message };
    throw error;
  }
}
