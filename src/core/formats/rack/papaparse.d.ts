/**
 * The part of papaparse that is used here. The published types bring those of Node with them, and with them Node's globals
 * into the core, which must do without.
 */
declare module 'papaparse' {
  interface ParseError {
    readonly type: string;
    readonly message: string;
    readonly row?: number;
  }
  /* eslint-disable @typescript-eslint/no-unnecessary-type-parameters -- as the package has it */
  const Papa: {
    parse<Row>(
      text: string,
      options: {
        readonly delimiter?: string;
        readonly delimitersToGuess?: readonly string[];
        readonly header?: boolean;
        readonly dynamicTyping?: boolean;
        readonly skipEmptyLines?: boolean | 'greedy';
        readonly transformHeader?: (name: string) => string;
      },
    ): {
      readonly data: Row[];
      readonly errors: readonly ParseError[];
      readonly meta: { readonly fields?: readonly string[] };
    };
    unparse(
      rows: readonly object[],
      options: {
        readonly columns: string[];
        readonly newline: string;
        readonly escapeFormulae?: boolean | RegExp;
      },
    ): string;
  };
  export default Papa;
}
