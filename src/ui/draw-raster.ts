/** Puts an RGBA raster on a canvas, which takes its size; `data-drawn` tells that it is there. */
export function drawRaster(
  canvas: HTMLCanvasElement,
  raster: { readonly width: number; readonly height: number; readonly data: ArrayLike<number> },
): void {
  canvas.width = raster.width;
  canvas.height = raster.height;
  const context = canvas.getContext('2d');
  const image = context?.createImageData(raster.width, raster.height);
  if (!context || !image) return;
  image.data.set(raster.data);
  context.putImageData(image, 0, 0);
  canvas.dataset.drawn = 'true';
}
