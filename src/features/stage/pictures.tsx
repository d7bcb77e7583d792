import { useEffect, useMemo, useRef } from 'react';
import { FINE_RIDGE } from '#core/relief/fine-parts.ts';
import type { Raster, RgbaRaster } from '#core/base/raster.ts';
import { mapPlace, type Frame } from '#core/edit/frame.ts';
import { lumaOf } from '#core/colour/luma.ts';
import { paletteOf, recolour, type Palette } from '#core/heights/height-map.ts';
import { SpreadLook } from '../../state/spread-look.ts';
import { isSeenApart, rampSeen } from '../../state/room-light.ts';
import { lampPalette } from '#core/heights/lamp.ts';
import { differencePalette, heightShades } from '#core/heights/shades.ts';
import type { LiveState } from '../../state/live-print.ts';
import { useDocument, useLive, useProject, useView } from '../../state/project-context.ts';
import type { ViewState } from '../../state/view-store.ts';
import { editedFrameOf } from '../../state/recipe.ts';
import type { OpenedArtwork } from '../../workers/artwork/jobs.ts';
import styles from './Stage.module.css';

/** The unedited picture where the edited one lies: the nearest pixels. */
function placedOriginal(
  { stage, width, height }: OpenedArtwork,
  like: RgbaRaster,
  frame: Frame,
): RgbaRaster {
  const out = new Uint32Array(like.width * like.height);
  const from = new Uint32Array(stage.data.slice().buffer);
  const [sx, sy] = [frame.width / like.width, frame.height / like.height];
  for (let y = 0; y < like.height; y += 1)
    for (let x = 0; x < like.width; x += 1) {
      const [ox, oy] = mapPlace(frame.toOriginal, (x + 0.5) * sx, (y + 0.5) * sy);
      const px = Math.floor((ox / width) * stage.width);
      const py = Math.floor((oy / height) * stage.height);
      if (px < 0 || py < 0 || px >= stage.width || py >= stage.height) continue;
      out[y * like.width + x] = from[py * stage.width + px] as number;
    }
  return { width: like.width, height: like.height, data: new Uint8ClampedArray(out.buffer) };
}

/** A picture in greys of its luma. */
function greyed({ width, height, data }: RgbaRaster): RgbaRaster {
  const out = new Uint8ClampedArray(data);
  for (let at = 0; at < out.length; at += 4) out.fill(lumaOf(data, at), at, at + 3);
  return { width, height, data: out };
}

/** The artwork, one canvas pixel for each pixel of the stage picture. */
export function ArtworkCanvas() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const edited = useLive((state) => state.edited.stage);
  const opened = useLive((state) => state.opened);
  const original = useView((state) => state.originalHeld);
  const greys = useView((state) => state.greys);
  const artwork = useDocument((state) => state.document.artwork);
  const stage = useMemo(() => {
    const shown = original ? placedOriginal(opened, edited, editedFrameOf({ artwork })) : edited;
    return greys ? greyed(shown) : shown;
  }, [artwork, edited, opened, original, greys]);
  const { columns, rows, pad = 0 } = useLive((state) => state.shown);
  // The picture lies within the piece, with the space for border and plate around it.
  const inset =
    pad === 0
      ? undefined
      : {
          left: `${(100 * pad) / columns}%`,
          top: `${(100 * pad) / rows}%`,
          width: `${(100 * (columns - 2 * pad)) / columns}%`,
          height: `${(100 * (rows - 2 * pad)) / rows}%`,
        };
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return;
    const image = context.createImageData(stage.width, stage.height);
    image.data.set(stage.data);
    context.putImageData(image, 0, 0);
    element.dataset.painted = '1';
  }, [stage]);
  return (
    <canvas
      ref={canvas}
      className={styles.canvas}
      style={inset}
      width={stage.width}
      height={stage.height}
      role="img"
      aria-label="The artwork"
      data-testid="artwork-canvas"
    />
  );
}

/** Marks what is finer than one printed line: ridges in white, gaps in black, with a little of the picture left to see. */
export function FineCanvas() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const fine = useLive((state) => state.fine);
  const show = useView((state) => state.showFine);
  useEffect(() => {
    const element = canvas.current;
    if (!element || !fine) return;
    const { width, height, data } = fine.map;
    element.width = width;
    element.height = height;
    const image = new ImageData(width, height);
    data.forEach((mark, i) => {
      if (mark === 0) return;
      image.data.fill(mark === FINE_RIDGE ? 255 : 0, 4 * i, 4 * i + 3);
      image.data[4 * i + 3] = 210;
    });
    element.getContext('2d')?.putImageData(image, 0, 0);
  }, [fine, show]);
  return show ? (
    <canvas
      ref={canvas}
      className={styles.canvas}
      role="img"
      aria-label="What is finer than one line"
      data-testid="fine-canvas"
    />
  ) : null;
}

/** What is painted over the samples. */
export type Painting = 'print' | 'lamp' | 'heights' | 'difference';

const NAMES: Readonly<Record<Painting, string>> = {
  print: 'The predicted print',
  lamp: 'The predicted print before a lamp',
  heights: 'The relief as shades, light is high',
  difference: 'Difference of print and artwork',
};

/** The map that a painting colours, and with which colours; null while there is none. */
function whatToPaint(
  painting: Painting,
  { heights, ramp, difference }: LiveState,
  { light, seenFromMm, seenDifference }: ViewState,
): { readonly map: Raster<Uint8Array>; readonly palette: Palette } | null {
  if (painting === 'difference') {
    const seen = isSeenApart({ light, seenFromMm }) ? seenDifference : difference;
    return seen && { map: seen.map, palette: differencePalette() };
  }
  if (!heights) return null;
  switch (painting) {
    case 'lamp':
      return { map: heights, palette: lampPalette(ramp, light) };
    case 'heights':
      return { map: heights, palette: heightShades(ramp.length) };
    default:
      return { map: heights, palette: paletteOf(rampSeen(ramp, light)) };
  }
}

/**
 * The samples in the colours of one view, one canvas pixel for each sample. It listens to the stores itself: a dragged
 * boundary repaints this canvas once a frame and renders nothing else of the stage.
 */
export function SampleCanvas({ painting }: { readonly painting: Painting }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { live, views, worker } = useProject();
  useEffect(() => {
    let frame = 0;
    let image: ImageData | undefined;
    let packed = new Uint32Array();
    const look = new SpreadLook(worker, () => {
      repaint();
    });
    /** The print where its light goes sideways, if it is at hand. */
    const spread = (): RgbaRaster | undefined => {
      if (painting !== 'print' && painting !== 'lamp') return undefined;
      const { request, ramp } = live.store.getState();
      const { light } = views.getState();
      if (!request) return undefined;
      return look.want(
        painting === 'lamp'
          ? { request, ramp, light }
          : { request, ramp: rampSeen(ramp, light), light: null },
      );
    };
    const paint = (): void => {
      frame = 0;
      const element = canvas.current;
      const what = whatToPaint(painting, live.store.getState(), views.getState());
      if (!what || !element) return;
      const { map, palette } = what;
      if (image?.width !== map.width || image.height !== map.height) {
        element.width = map.width;
        element.height = map.height;
        image = new ImageData(map.width, map.height);
        packed = new Uint32Array(image.data.buffer);
      }
      const seen = spread();
      if (seen?.width === map.width && seen.height === map.height) image.data.set(seen.data);
      else recolour(map.data, palette, packed);
      element.dataset.spread = String(seen !== undefined);
      element.getContext('2d')?.putImageData(image, 0, 0);
      element.dataset.painted = String(Number(element.dataset.painted ?? 0) + 1);
    };
    paint();
    const repaint = (): void => {
      if (frame === 0) frame = requestAnimationFrame(paint);
    };
    const unfollow = live.store.subscribe((state, before) => {
      if (
        state.heights !== before.heights ||
        state.ramp !== before.ramp ||
        state.difference !== before.difference
      )
        repaint();
    });
    const unwatch = views.subscribe((state, before) => {
      if (state.light !== before.light) repaint();
      const seen =
        state.seenDifference !== before.seenDifference || state.seenFromMm !== before.seenFromMm;
      if (painting === 'difference' && seen) repaint();
    });
    return () => {
      look.stop();
      unfollow();
      unwatch();
      cancelAnimationFrame(frame);
    };
  }, [live, views, worker, painting]);
  return (
    <canvas
      ref={canvas}
      className={styles.canvas}
      role="img"
      aria-label={NAMES[painting]}
      data-testid={`${painting}-canvas`}
    />
  );
}
