import { clamp } from '#core/base/numbers.ts';
import { useState } from 'react';
import { shareInPicture } from '#core/relief/sampling.ts';
import { useDocument, useProject, useView } from '../../state/project-context.ts';
import { addStroke } from '../../state/edits/artwork-edits.ts';
import { paintZone } from '../../state/edits/zone-edits.ts';
import { MOST_STROKE_NUMBERS } from '../../state/slices/artwork.ts';
import type { Brush, Spot } from '../../state/view-store.ts';

/** How far the pointer goes before the stroke gets another place, as a share of the picture's width. */
const STEP = 0.004;

/** A step of the brush with an arrow key, as a share of the picture's sides. */
const KEY_STEP = 0.02;

/** A line that the brush went along: x and y in turn, in shares of the piece; the radius as a share of its width. */
export interface GrowingLine {
  readonly radius: number;
  readonly points: readonly number[];
}

/** What the stage needs to paint. */
export interface BrushInHand {
  readonly brush: Brush | null;
  readonly growing: GrowingLine | null;
  readonly begin: (spot: Spot | null) => void;
  readonly goOn: (spot: Spot | null) => void;
  readonly end: () => void;
  readonly drop: () => void;
  /** True where the key belonged to the brush. */
  readonly onKey: (key: string) => boolean;
}

/** The brush in hand: a stroke is one step of history. */
export function useBrush(): BrushInHand {
  const { views, live } = useProject();
  const brush = useView((state) => state.brush);
  const { change, hold } = useDocument((state) => state);
  const [growing, setGrowing] = useState<GrowingLine | null>(null);
  const keep = ({ radius, points }: GrowingLine): void => {
    if (!brush) return;
    const { columns, rows, pad = 0 } = live.store.getState().shown;
    const { says } = brush;
    const line = {
      radius: (radius * columns) / (columns - 2 * pad),
      points: points.map((share, i) => shareInPicture(share, i % 2 === 0 ? columns : rows, pad)),
    };
    change('zone' in says ? paintZone(says.zone, line) : addStroke({ ...line, mark: says.mark }));
  };
  const grow = (line: GrowingLine): void => {
    setGrowing(line);
    hold(() => {
      keep(line);
    });
  };
  const drop = (): void => {
    hold(null);
    setGrowing(null);
  };
  return {
    brush,
    growing,
    begin: (spot) => {
      if (brush && spot) grow({ radius: brush.radius, points: [spot.x, spot.y] });
    },
    goOn: (spot) => {
      if (!growing || !spot || growing.points.length + 2 > MOST_STROKE_NUMBERS) return;
      const [x = 0, y = 0] = growing.points.slice(-2);
      if (Math.hypot(spot.x - x, spot.y - y) < STEP) return;
      grow({ ...growing, points: [...growing.points, spot.x, spot.y] });
    },
    end: () => {
      hold(null);
      if (growing) keep(growing);
      setGrowing(null);
    },
    drop,
    onKey: (key) => {
      if (!brush) return false;
      const at = views.getState().pointer ?? { x: 0.5, y: 0.5 };
      const step: Readonly<Record<string, readonly [number, number]>> = {
        ArrowLeft: [-KEY_STEP, 0],
        ArrowRight: [KEY_STEP, 0],
        ArrowUp: [0, -KEY_STEP],
        ArrowDown: [0, KEY_STEP],
      };
      const by = step[key];
      if (by) {
        views.setState({
          pointer: { x: clamp(at.x + by[0], 0, 0.999), y: clamp(at.y + by[1], 0, 0.999) },
        });
        return true;
      }
      if (key === ' ' || key === 'Enter') {
        keep({ radius: brush.radius, points: [at.x, at.y] });
        return true;
      }
      return false;
    },
  };
}
