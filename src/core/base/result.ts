/** What went wrong: a stable `code` for programs, and the facts that the wording needs. */
export interface Fault<Code extends string = string> {
  readonly code: Code;
  /** Where: a line, a field, a file name. */
  readonly where?: string;
  /** The offending value, or another fact worth repeating to the maker. */
  readonly detail?: string;
}

/** Outcome of an operation that is expected to fail on some input. */
export type Result<Value, Failure extends Fault = Fault> =
  { readonly ok: true; readonly value: Value } | { readonly ok: false; readonly fault: Failure };

/** Wraps a success. */
export function succeed<Value>(value: Value): { readonly ok: true; readonly value: Value } {
  return { ok: true, value };
}

/** Wraps a failure; `where` and `detail` are left out when undefined. */
export function fail<Code extends string>(
  code: Code,
  where?: string,
  detail?: string,
): { readonly ok: false; readonly fault: Fault<Code> } {
  return {
    ok: false,
    fault: {
      code,
      ...(where === undefined ? {} : { where }),
      ...(detail === undefined ? {} : { detail }),
    },
  };
}
