const WAYS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/**
 * Where an arrow key points: x to the right, y down, so many steps; undefined for every other key.
 * @param step length of a step, in any unit
 */
export function arrowWay(key: string, step: number): readonly [number, number] | undefined {
  const way = WAYS[key];
  return way && [way[0] * step, way[1] * step];
}
