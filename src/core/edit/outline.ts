/**
 * The outline of a set of pixels as closed lines along their sides, each as x and y in turn, in pixels; corners only.
 * @param inside whether a pixel belongs to it; asked for pixels of the raster alone
 * @param most lines that are followed; the rest of a speckled set is left out
 */
export function traceOutline(
  inside: (x: number, y: number) => boolean,
  width: number,
  height: number,
  most = 4000,
): number[][] {
  const at = (x: number, y: number): boolean =>
    x >= 0 && y >= 0 && x < width && y < height && inside(x, y);
  // Sides that run to the right, above a pixel of the set: each line has at least one.
  const seen = new Uint8Array((width + 1) * (height + 1));
  const lines: number[][] = [];
  for (let y = 0; y < height && lines.length < most; y += 1)
    for (let x = 0; x < width && lines.length < most; x += 1) {
      if (!at(x, y) || at(x, y - 1) || seen[y * (width + 1) + x] === 1) continue;
      const line: number[] = [];
      let [px, py, dx, dy] = [x, y, 1, 0];
      do {
        if (dx === 1) seen[py * (width + 1) + px] = 1;
        px += dx;
        py += dy;
        // The set lies to the right of the way: pixels ahead on the left and on the right.
        const left = at(px + (dx - 1 + dy) / 2, py + (dy - 1 - dx) / 2);
        const right = at(px + (dx - 1 - dy) / 2, py + (dy - 1 + dx) / 2);
        const turn = right ? (left ? -1 : 0) : 1;
        if (turn !== 0) {
          line.push(px, py);
          [dx, dy] = turn === 1 ? [-dy, dx] : [dy, -dx];
        }
      } while (px !== x || py !== y || dx !== 1);
      lines.push(line);
    }
  return lines;
}
