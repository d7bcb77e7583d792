/** The names of jobs, each with what goes in and what comes out, and what may come before that. */
export type JobTable = Readonly<
  Record<string, { readonly input: unknown; readonly output: unknown; readonly interim?: unknown }>
>;

export type JobName<Table extends JobTable> = keyof Table & string;
export type JobInput<Table extends JobTable, Name extends JobName<Table>> = Table[Name]['input'];
export type JobOutput<Table extends JobTable, Name extends JobName<Table>> = Table[Name]['output'];

/** What a job tells before it is done. */
export type JobInterim<Table extends JobTable, Name extends JobName<Table>> = Table[Name] extends {
  readonly interim: infer Interim;
}
  ? Interim
  : never;

/** What the page sends. */
export interface ToWorker<Table extends JobTable, Name extends JobName<Table> = JobName<Table>> {
  readonly id: number;
  readonly name: Name;
  readonly input: JobInput<Table, Name>;
  /** One shared 32-bit cell, not 0 once cancelled. Shared memory overtakes the message queue. */
  readonly cancelled: Int32Array<SharedArrayBuffer> | null;
}

/** What the worker answers. */
export type FromWorker<Table extends JobTable> =
  | { readonly id: number; readonly kind: 'progress'; readonly fraction: number }
  | {
      readonly id: number;
      readonly kind: 'interim';
      readonly interim: JobInterim<Table, JobName<Table>>;
    }
  | {
      readonly id: number;
      readonly kind: 'done';
      readonly output: JobOutput<Table, JobName<Table>>;
    }
  | { readonly id: number; readonly kind: 'cancelled' }
  | {
      readonly id: number;
      readonly kind: 'failed';
      readonly message: string;
      /** Where in the worker it came up. */
      readonly stack?: string;
    };
