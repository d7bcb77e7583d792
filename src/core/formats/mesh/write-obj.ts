import type { BytePieces, PieceWriter } from '../../base/byte-pieces.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../../base/checkpoint.ts';
import type { NamedSolid } from './band-solids.ts';
import { zipPieces } from './zip-pieces.ts';

/** A name without blanks, since the format ends names at them. */
function wordOf(name: string): string {
  return name.replace(/[^\w.-]+/g, '_');
}

/** Corners or triangles between two looks at whether anybody still wants the file. */
const STRIDE = 30_000;

/**
 * Solids as Wavefront OBJ with MTL, an object and a material for each, both in one zip. Millimetres, z up.
 * Source of the layout: the appendix "Object Files (.obj)" and "MTL material format" of the Advanced Visualizer manual,
 * Alias/Wavefront 1995: `v`, `f` with numbers counted from 1 over the whole file, `usemtl`; diffuse colour `Kd` 0..1.
 * @param stem what both files are called, without their endings
 */
export function writeObj(
  solids: readonly NamedSolid[],
  stem: string,
  comment: string,
  checkpoint: Checkpoint = noCheckpoint,
): BytePieces {
  const used = solids.filter(({ mesh }) => mesh.triangles.length > 0);
  const shape = (out: PieceWriter): void => {
    out.text(`# ${comment}\nmtllib ${stem}.mtl\n`);
    let first = 1;
    used.forEach((solid, i) => {
      writeSolid(solid, first, out, partOf(checkpoint, i / used.length, (i + 1) / used.length));
      first += solid.mesh.positions.length / 3;
    });
  };
  const materials = (out: PieceWriter): void => {
    out.text(`# ${comment}\n`);
    for (const { name, colour } of used) {
      const shares = [1, 3, 5].map((at) =>
        (parseInt(colour.slice(at, at + 2), 16) / 255).toFixed(4),
      );
      out.text(`newmtl ${wordOf(name)}\nKd ${shares.join(' ')}\nd 1\nillum 1\n`);
    }
  };
  return zipPieces([
    { name: `${stem}.obj`, write: shape },
    { name: `${stem}.mtl`, write: materials },
  ]);
}

/** @param first number of the solid's first corner in the file */
function writeSolid(
  { name, mesh, liftMm }: NamedSolid,
  first: number,
  out: PieceWriter,
  checkpoint: Checkpoint,
): void {
  const word = wordOf(name);
  const { positions: p, triangles: t } = mesh;
  const steps = p.length + t.length;
  out.text(`o ${word}\nusemtl ${word}\n`);
  for (let i = 0; i < p.length; i += 3) {
    if (i % STRIDE === 0) checkpoint(i / steps);
    out.text(
      `v ${tidy(p[i] as number)} ${tidy(p[i + 1] as number)} ${tidy((p[i + 2] as number) + liftMm)}\n`,
    );
  }
  for (let i = 0; i < t.length; i += 3) {
    if (i % STRIDE === 0) checkpoint((p.length + i) / steps);
    out.text(
      `f ${(t[i] as number) + first} ${(t[i + 1] as number) + first} ${(t[i + 2] as number) + first}\n`,
    );
  }
}

/** Hundredths of a micrometre: far below what any printer places. */
function tidy(mm: number): number {
  return Math.round(mm * 1e5) / 1e5;
}
