import { clamp } from '#core/base/numbers.ts';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { fitWidthMm } from '#core/relief/fit.ts';
import {
  GREATEST_SAMPLE_MM,
  GREATEST_SIDE_MM,
  LEAST_SAMPLE_MM,
  LEAST_SIDE_MM,
} from '#core/relief/sampling.ts';
import { padOfShape, type PlateOutline } from '#core/relief/shape.ts';
import { GREATEST_LAYER_MM, LEAST_LAYER_MM, type LayerGrid } from '#core/stack/layer-grid.ts';
import { heightMmOf, heightRatioOf } from '../document-facts.ts';
import type { PieceSlice } from '../project-document.ts';
import { GREATEST_MARGIN_MM, MOST_HOLES } from '../slices/piece.ts';
import { withGrid } from '../regrid.ts';
import { alter, edit, whole, type Edit } from './edit.ts';

/** Limits of a line's width, mm. */
export const LEAST_LINE_MM = 0.1;
export const GREATEST_LINE_MM = 5;

/** Least width of a border, mm: one line. */
export const LEAST_BORDER_MM = 0.4;
/** Least width of a hole, mm. */
export const LEAST_HOLE_MM = 0.5;

const side = (mm: number): number => clamp(mm, LEAST_SIDE_MM, GREATEST_SIDE_MM);
const layerHeight = (mm: number): number => clamp(mm, LEAST_LAYER_MM, GREATEST_LAYER_MM);

/** Width of the picture, mm. */
export function setWidth(mm: number): Edit {
  return alter('width', (draft) => {
    draft.piece.widthMm = side(mm);
  });
}

/** Height of the picture, mm: changes the width where the two are linked. */
export function setHeight(mm: number): Edit {
  return alter('height', (draft) => {
    if (draft.piece.heightMm === null) draft.piece.widthMm = side(mm / heightRatioOf(draft));
    else draft.piece.heightMm = side(mm);
  });
}

/** Links width and height by the proportions of the artwork, or lets each go its own way. */
export function linkSides(linked: boolean): Edit {
  return alter('proportions', (draft) => {
    draft.piece.heightMm = linked ? null : side(heightMmOf(draft));
  });
}

/** Whether the size counts only what is printed. */
export function setTrim(trim: boolean): Edit {
  return alter('trim margins', (draft) => {
    draft.piece.trim = trim;
  });
}

/** Side of a sample, mm. */
export function setSampleSize(mm: number): Edit {
  return alter('sample size', (draft) => {
    draft.piece.sampleMm = clamp(mm, LEAST_SAMPLE_MM, GREATEST_SAMPLE_MM);
  });
}

/** Outlines along the samples, or smooth ones. */
export function setOutlines(outlines: PieceSlice['outlines']): Edit {
  return alter('outlines', (draft) => {
    draft.piece.outlines = outlines;
  });
}

/** What the piece has to fit on or into; null for nothing. */
export function setOpening(opening: PieceSlice['fit']): Edit {
  return alter('opening', (draft) => {
    draft.piece.fit = opening && { ...opening };
  });
}

/** Makes the picture as large as what it has to fit allows; nothing changes where not even the smallest one fits. */
export function growToFit(): Edit {
  return alter('fit', (draft) => {
    const {
      piece: { fit: opening, heightMm, widthMm },
    } = draft;
    if (!opening) return;
    const ratio = heightMm === null ? heightRatioOf(draft) : heightMm / widthMm;
    const wide = Math.floor(fitWidthMm(ratio, padOfShape(draft.piece.shape), opening) * 10) / 10;
    if (wide < LEAST_SIDE_MM) return;
    draft.piece.widthMm = side(wide);
    if (heightMm !== null) draft.piece.heightMm = side((heightMm * draft.piece.widthMm) / widthMm);
  });
}

/** Width of one printed line, mm. */
export function setLineWidth(mm: number): Edit {
  return alter('line', (draft) => {
    draft.print.lineMm = clamp(mm, LEAST_LINE_MM, GREATEST_LINE_MM);
  });
}

/** Height of the first layer, or of those above it, mm. Layers keep their numbers. */
export function setLayerHeight(which: 'firstLayerMm' | 'layerMm', mm: number): Edit {
  return alter(which, ({ stack: { grid } }) => {
    grid[which] = layerHeight(mm);
  });
}

/** Least height of what is printed, in layers. */
export function setLeastLayers(layers: number): Edit {
  return alter('least height', (draft) => {
    draft.heights.leastLayers = whole(layers, 1, MAX_LAYERS);
  });
}

/** Another layer grid, on which everything keeps its height in mm; nothing changes where that takes too many layers. */
export function setGrid(grid: LayerGrid): Edit {
  return edit('layer grid', (document) => {
    const moved = withGrid(document, grid);
    return moved.ok ? moved.value : document;
  });
}

/** A border that ends at some layer; null for none. Its width stays, 5 mm at first. */
export function setBorder(layers: number | null): Edit {
  return alter('border', ({ piece: { shape } }) => {
    shape.border =
      layers === null
        ? null
        : { widthMm: shape.border?.widthMm ?? 5, layers: whole(layers, 1, MAX_LAYERS) };
  });
}

/** Width of the border, mm. */
export function setBorderWidth(mm: number): Edit {
  return alter(
    'border width',
    ({
      piece: {
        shape: { border },
      },
    }) => {
      if (border) border.widthMm = clamp(mm, LEAST_BORDER_MM, GREATEST_MARGIN_MM);
    },
  );
}

/** A plate of some outline; null for none. What it had stays. */
export function setPlate(outline: PlateOutline | null, firstLayers: number): Edit {
  return alter('plate', ({ piece: { shape } }) => {
    shape.plate =
      outline === null
        ? null
        : {
            outline,
            marginMm: shape.plate?.marginMm ?? 3,
            layers: shape.plate?.layers ?? whole(firstLayers, 1, MAX_LAYERS),
          };
  });
}

/** The layer at which the plate ends, or its margin in mm. */
export function changePlate(part: { readonly layers?: number; readonly marginMm?: number }): Edit {
  return alter(
    `plate ${Object.keys(part).join()}`,
    ({
      piece: {
        shape: { plate },
      },
    }) => {
      if (!plate) return;
      if (part.layers !== undefined) plate.layers = whole(part.layers, 1, MAX_LAYERS);
      if (part.marginMm !== undefined) plate.marginMm = clamp(part.marginMm, 0, GREATEST_MARGIN_MM);
    },
  );
}

/** Radius of the corners, mm. */
export function setCorners(mm: number): Edit {
  return alter('corners', ({ piece: { shape } }) => {
    shape.cornerMm = clamp(mm, 0, GREATEST_MARGIN_MM);
  });
}

/** A hole in the piece. */
export type Hole = PieceSlice['shape']['holes'][number];

const HOLE_LIMITS: Readonly<Record<keyof Hole, readonly [number, number]>> = {
  xMm: [0, GREATEST_SIDE_MM],
  yMm: [0, GREATEST_SIDE_MM],
  diameterMm: [LEAST_HOLE_MM, GREATEST_MARGIN_MM],
};

function holeValue(key: keyof Hole, mm: number): number {
  return clamp(mm, ...HOLE_LIMITS[key]);
}

/** One more hole, as long as there are not too many. */
export function addHole({ xMm, yMm, diameterMm }: Hole): Edit {
  return alter(
    'hole',
    ({
      piece: {
        shape: { holes },
      },
    }) => {
      if (holes.length < MOST_HOLES)
        holes.push({
          xMm: holeValue('xMm', xMm),
          yMm: holeValue('yMm', yMm),
          diameterMm: holeValue('diameterMm', diameterMm),
        });
    },
  );
}

/** The place or the width of a hole, mm. */
export function changeHole(index: number, key: keyof Hole, mm: number): Edit {
  return alter(
    `hole ${index} ${key}`,
    ({
      piece: {
        shape: { holes },
      },
    }) => {
      const hole = holes[index];
      if (hole) hole[key] = holeValue(key, mm);
    },
  );
}

/** Takes a hole away. */
export function removeHole(index: number): Edit {
  return alter(
    'hole',
    ({
      piece: {
        shape: { holes },
      },
    }) => {
      holes.splice(index, 1);
    },
  );
}
