/** The part of opentype.js 1.3.4 that lettering uses; its own types want those of a browser. */
declare module 'opentype.js' {
  export type PathCommand =
    | { readonly type: 'M' | 'L'; readonly x: number; readonly y: number }
    | {
        readonly type: 'Q';
        readonly x1: number;
        readonly y1: number;
        readonly x: number;
        readonly y: number;
      }
    | {
        readonly type: 'C';
        readonly x1: number;
        readonly y1: number;
        readonly x2: number;
        readonly y2: number;
        readonly x: number;
        readonly y: number;
      }
    | { readonly type: 'Z' };
  export interface Path {
    readonly commands: readonly PathCommand[];
  }
  export interface Glyph {
    readonly index: number;
    readonly advanceWidth?: number;
    getPath(x: number, y: number, fontSize: number): Path;
  }
  export interface Font {
    readonly unitsPerEm: number;
    readonly names: Readonly<Record<string, Readonly<Record<string, string>> | undefined>>;
    charToGlyph(character: string): Glyph;
    charToGlyphIndex(character: string): number;
    getKerningValue(left: Glyph, right: Glyph): number;
  }
  /** Makers of fonts, for tests. */
  interface Makers {
    readonly Path: new () => Path;
    readonly Glyph: new (parts: {
      name: string;
      unicode?: number | undefined;
      advanceWidth: number;
      path: Path;
    }) => Glyph;
    readonly Font: new (parts: {
      familyName: string;
      styleName: string;
      unitsPerEm: number;
      ascender: number;
      descender: number;
      glyphs: readonly Glyph[];
    }) => { toArrayBuffer(): ArrayBuffer };
  }
  const opentype: Makers & { parse(bytes: ArrayBuffer): Font };
  export default opentype;
}
