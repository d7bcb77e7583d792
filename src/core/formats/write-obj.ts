import { strToU8, zipSync } from 'fflate';
import type { NamedSolid } from './band-solids.ts';

/** The two files of an OBJ: shape and materials. */
export interface ObjFiles {
  readonly obj: string;
  readonly mtl: string;
}

/** A name without blanks, since the format ends names at them. */
function wordOf(name: string): string {
  return name.replace(/[^\w.-]+/g, '_');
}

/**
 * Solids as Wavefront OBJ with MTL, an object and a material for each. Millimetres, z up.
 * Source of the layout: the appendix "Object Files (.obj)" and "MTL material format" of the Advanced Visualizer manual,
 * Alias/Wavefront 1995: `v`, `f` with numbers counted from 1 over the whole file, `usemtl`; diffuse colour `Kd` 0..1.
 * @param mtlName what the materials' file is called beside the shape
 */
export function writeObj(
  solids: readonly NamedSolid[],
  mtlName: string,
  comment: string,
): ObjFiles {
  const used = solids.filter(({ mesh }) => mesh.triangles.length > 0);
  const obj: string[] = [`# ${comment}`, `mtllib ${mtlName}`];
  const mtl: string[] = [`# ${comment}`];
  let first = 1;
  for (const { name, colour, mesh, liftMm } of used) {
    const word = wordOf(name);
    const { positions: p, triangles: t } = mesh;
    mtl.push(
      `newmtl ${word}`,
      `Kd ${[1, 3, 5].map((at) => (parseInt(colour.slice(at, at + 2), 16) / 255).toFixed(4)).join(' ')}`,
      'd 1',
      'illum 1',
    );
    obj.push(`o ${word}`, `usemtl ${word}`);
    for (let i = 0; i < p.length; i += 3)
      obj.push(
        `v ${tidy(p[i] as number)} ${tidy(p[i + 1] as number)} ${tidy((p[i + 2] as number) + liftMm)}`,
      );
    for (let i = 0; i < t.length; i += 3)
      obj.push(
        `f ${(t[i] as number) + first} ${(t[i + 1] as number) + first} ${(t[i + 2] as number) + first}`,
      );
    first += p.length / 3;
  }
  return { obj: `${obj.join('\n')}\n`, mtl: `${mtl.join('\n')}\n` };
}

/** Hundredths of a micrometre: far below what any printer places. */
function tidy(mm: number): number {
  return Math.round(mm * 1e5) / 1e5;
}

/** Both files of an OBJ in one zip. */
export function zipObj({ obj, mtl }: ObjFiles, stem: string): Uint8Array<ArrayBuffer> {
  return zipSync({ [`${stem}.obj`]: strToU8(obj), [`${stem}.mtl`]: strToU8(mtl) });
}
