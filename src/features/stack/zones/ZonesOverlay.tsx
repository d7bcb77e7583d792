import { useEffect, useRef, useState } from 'react';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { Raster } from '#core/base/raster.ts';
import { useLive, useProject, useView } from '../../../state/project-context.ts';
import { innermostOf } from './innermost.ts';
import { markOf } from './zone-marks.ts';
import styles from './Zones.module.css';

interface ZonesOverlayProps {
  /** Picture on the screen, px. */
  readonly width: number;
  readonly height: number;
}

/** Zones over the picture on request: a hatch and a numeral each, and a line of both colours between them. */
export function ZonesOverlay({ width, height }: ZonesOverlayProps) {
  const marked = useView((state) => state.zonesMarked);
  const byZones = useLive((state) => state.zones !== null);
  return marked && byZones ? <MarkedZones width={width} height={height} /> : null;
}

/** Longest side of the drawing, px; a larger one is stretched. */
const MOST_SIDE_PX = 2000;

function MarkedZones({ width, height }: ZonesOverlayProps) {
  const { worker } = useProject();
  const request = useLive((state) => state.request);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [labels, setLabels] = useState<Raster<Uint8Array> | null>(null);
  const rule = request?.rule.kind === 'zones' ? request.rule : null;
  // Where zones are does not depend on where they stand.
  const members = JSON.stringify([
    rule?.zones.map(({ colours }) => colours),
    rule?.painted,
    request?.columns,
    request?.rows,
    request?.recipe?.key,
  ]);
  useEffect(() => {
    if (request?.rule.kind !== 'zones') return undefined;
    const abort = new AbortController();
    worker
      .run('zoneLabels', request, abort)
      .then((answer) => {
        if (!abort.signal.aborted) setLabels(answer.labels);
      })
      .catch((error: unknown) => {
        // Cancelled, newer ones are on the way; all else the live print says.
        if (!(error instanceof Cancelled)) setLabels(null);
      });
    return () => {
      abort.abort();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [worker, members]);

  const factor = Math.min(1, MOST_SIDE_PX / Math.max(width, height));
  const [columns, rows] = [Math.round(width * factor), Math.round(height * factor)];
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !labels || columns < 1 || rows < 1) return;
    context.putImageData(drawZones(labels, columns, rows), 0, 0);
  }, [labels, columns, rows]);
  if (!labels) return null;
  return (
    <>
      <canvas
        ref={canvas}
        className={styles.over}
        width={columns}
        height={rows}
        aria-hidden
        data-testid="zones-marked"
      />
      {innermostOf(labels).map((spot, place) =>
        spot ? (
          <span
            key={place}
            className={styles.tag}
            style={{ left: spot.x * width, top: spot.y * height }}
            data-testid="zone-tag"
          >
            {markOf(place).numeral}
          </span>
        ) : null,
      )}
    </>
  );
}

/** Inks hatches and borders, each dark beside light, so that they are seen on any colour. */
function drawZones(labels: Raster<Uint8Array>, columns: number, rows: number): ImageData {
  const picture = new ImageData(columns, rows);
  const words = new Uint32Array(picture.data.buffer);
  const at = (x: number, y: number): number => {
    if (x < 0 || y < 0 || x >= columns || y >= rows) return 0;
    const column = Math.floor((x * labels.width) / columns);
    const row = Math.floor((y * labels.height) / rows);
    return labels.data[row * labels.width + column] ?? 0;
  };
  const [dark, light, faint, pale] = [0xff1f1915, 0xffffffff, 0x901f1915, 0x90ffffff];
  for (let y = 0; y < rows; y += 1)
    for (let x = 0; x < columns; x += 1) {
      const own = at(x, y);
      if (own === 0) continue;
      const i = y * columns + x;
      const before = at(x - 1, y);
      const above = at(x, y - 1);
      if ((before !== own && before !== 0) || (above !== own && above !== 0)) words[i] = dark;
      else if (at(x + 1, y) !== own || at(x, y + 1) !== own) words[i] = light;
      else {
        const { inked } = markOf(own - 1);
        if (inked(x, y)) words[i] = faint;
        else if (inked(x - 1, y) || inked(x, y - 1)) words[i] = pale;
      }
    }
  return picture;
}
