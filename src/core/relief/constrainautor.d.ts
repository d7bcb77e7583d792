/** What is used of the package: a Delaunay triangulation is changed in place until all given edges are in it. */
declare module '@kninnug/constrainautor' {
  interface Triangulation {
    readonly coords: ArrayLike<number>;
    readonly triangles: Uint32Array;
    readonly halfedges: Int32Array;
    readonly hull: Uint32Array;
  }

  const Constrainautor: new (
    triangulation: Triangulation,
    edges?: readonly (readonly [number, number])[],
  ) => object;
  /** @throws where edges cross, or one passes through a point */
  export default Constrainautor;
}
