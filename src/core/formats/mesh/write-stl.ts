import { writePieces, type BytePieces } from '../../base/byte-pieces.ts';
import { noCheckpoint, type Checkpoint } from '../../base/checkpoint.ts';
import type { Mesh } from '../../relief/terrace-mesh.ts';

const HEADER_BYTES = 80;
const TRIANGLE_BYTES = 50;

/** Triangles between two looks at whether anybody still wants the file, and in one piece of a binary one. */
const STRIDE = 20_000;

/** Bytes of a binary STL. */
export function stlBytes(triangles: number): number {
  return HEADER_BYTES + 4 + triangles * TRIANGLE_BYTES;
}

/**
 * Binary STL of a mesh, in mm. Source of the layout: the StereoLithography Interface Specification (3D Systems, 1989),
 * little-endian: 80 bytes of header, the count, then normal, three corners and two unused bytes a triangle.
 * @param header up to 80 ASCII signs. It must not begin with `solid`, or readers take the file for the text form.
 */
export function writeStl(
  mesh: Mesh,
  header: string,
  checkpoint: Checkpoint = noCheckpoint,
): BytePieces {
  const { positions, triangles } = mesh;
  const count = triangles.length / 3;
  const head = new Uint8Array(HEADER_BYTES + 4);
  const text = header.replace(/[^\x20-\x7e]/g, '?').slice(0, HEADER_BYTES);
  for (let i = 0; i < text.length; i += 1) head[i] = text.charCodeAt(i);
  new DataView(head.buffer).setUint32(HEADER_BYTES, count, true);
  const pieces: BytePieces = [head];
  const normal = new Float64Array(3);
  for (let first = 0; first < count; first += STRIDE) {
    checkpoint(first / count);
    const last = Math.min(count, first + STRIDE);
    const piece = new Uint8Array((last - first) * TRIANGLE_BYTES);
    const view = new DataView(piece.buffer);
    for (let n = first; n < last; n += 1) {
      const t = 3 * n;
      const at = (n - first) * TRIANGLE_BYTES;
      writeNormal(positions, triangles, t, normal);
      for (let k = 0; k < 3; k += 1) view.setFloat32(at + 4 * k, normal[k] as number, true);
      for (let corner = 0; corner < 3; corner += 1) {
        const p = (triangles[t + corner] as number) * 3;
        const to = at + 12 + 12 * corner;
        view.setFloat32(to, positions[p] as number, true);
        view.setFloat32(to + 4, positions[p + 1] as number, true);
        view.setFloat32(to + 8, positions[p + 2] as number, true);
      }
    }
    pieces.push(piece);
  }
  return pieces;
}

/**
 * The text form of STL, in mm. Source of the layout: the StereoLithography Interface Specification (3D Systems, 1989).
 * @param name stands after `solid`; ASCII, one line
 */
export function writeStlText(
  mesh: Mesh,
  name: string,
  checkpoint: Checkpoint = noCheckpoint,
): BytePieces {
  const { positions: p, triangles } = mesh;
  const word = name.replace(/[^\x20-\x7e]/g, '?');
  const normal = new Float64Array(3);
  const corner = (index: number): string => {
    const at = 3 * index;
    return `vertex ${plain(p[at])} ${plain(p[at + 1])} ${plain(p[at + 2])}\n`;
  };
  return writePieces((out) => {
    out.text(`solid ${word}\n`);
    for (let t = 0; t < triangles.length; t += 3) {
      if (t % (3 * STRIDE) === 0) checkpoint(t / triangles.length);
      writeNormal(p, triangles, t, normal);
      out.text(
        `facet normal ${plain(normal[0])} ${plain(normal[1])} ${plain(normal[2])}\nouter loop\n`,
      );
      out.text(corner(triangles[t] as number));
      out.text(corner(triangles[t + 1] as number));
      out.text(corner(triangles[t + 2] as number));
      out.text('endloop\nendfacet\n');
    }
    out.text(`endsolid ${word}\n`);
  });
}

/** Hundredths of a micrometre: equal corners stay equal, and none has an exponent. */
function plain(value = 0): string {
  return String(Math.round(value * 1e5) / 1e5);
}

/** Unit normal of triangle `t` by the right-hand rule. */
function writeNormal(p: Float32Array, triangles: Uint32Array, t: number, out: Float64Array): void {
  const a = (triangles[t] as number) * 3;
  const b = (triangles[t + 1] as number) * 3;
  const c = (triangles[t + 2] as number) * 3;
  const ux = (p[b] as number) - (p[a] as number);
  const uy = (p[b + 1] as number) - (p[a + 1] as number);
  const uz = (p[b + 2] as number) - (p[a + 2] as number);
  const vx = (p[c] as number) - (p[a] as number);
  const vy = (p[c + 1] as number) - (p[a + 1] as number);
  const vz = (p[c + 2] as number) - (p[a + 2] as number);
  const nx = uy * vz - uz * vy;
  const ny = uz * vx - ux * vz;
  const nz = ux * vy - uy * vx;
  const length = Math.hypot(nx, ny, nz) || 1;
  out[0] = nx / length;
  out[1] = ny / length;
  out[2] = nz / length;
}
