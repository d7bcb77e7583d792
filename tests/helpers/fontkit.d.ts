/** The part of fontkit that tests use; it comes without types. */
declare module 'fontkit' {
  interface Font {
    readonly unitsPerEm: number;
    readonly capHeight: number;
    glyphForCodePoint(code: number): {
      readonly path: {
        readonly commands: readonly {
          readonly command: string;
          readonly args: readonly number[];
        }[];
      };
    };
  }
  export function create(bytes: Uint8Array): Font;
}
