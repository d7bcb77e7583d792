import { clamp } from '#core/base/numbers.ts';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { MOST_LEAN } from '#core/stack/lean.ts';
import { GREATEST_FLAT_COLOURS } from '#core/heights/flat.ts';
import type { HeightRuleKind } from '#core/heights/height-rules.ts';
import {
  fitTone,
  GREATEST_CURVE_POINTS,
  LEAST_CURVE_POINTS,
  tidyTone,
  type ToneCurve,
} from '#core/heights/tone.ts';
import { totalLayers } from '#core/stack/stack.ts';
import type { HeightsSlice } from '../project-document.ts';
import { GREATEST_ISLAND_MM } from '../slices/heights.ts';
import { alter, whole, type Edit } from './edit.ts';

const HEX = /^#[0-9a-f]{6}$/;

/** Chooses the rule that counts. */
export function chooseHeightRule(rule: HeightRuleKind): Edit {
  return alter('height rule', (draft) => {
    draft.heights.rule = rule;
  });
}

/** Three points on the picture's brightness, L* 0..100; when the ends move, the midpoint keeps its share of the way. */
export function setTonePoints(blackPoint: number, midpoint: number, whitePoint: number): Edit {
  return alter('tone points', ({ heights: { tone } }) => {
    const share = (tone.midpoint - tone.blackPoint) / (tone.whitePoint - tone.blackPoint);
    const carried =
      midpoint === tone.midpoint ? blackPoint + share * (whitePoint - blackPoint) : midpoint;
    const { reversed } = tone;
    Object.assign(
      tone,
      tidyTone({ kind: 'tone', reversed, blackPoint, midpoint: carried, whitePoint }),
    );
  });
}

/** Puts the points where the picture's brightness begins and ends. */
export function fitTonePoints(histogram: Uint32Array): Edit {
  return alter('fit points', ({ heights: { tone } }) => {
    Object.assign(tone, fitTone(histogram), { reversed: tone.reversed });
  });
}

/** A curve in place of the points; undefined goes back to them. Too many or too few points change nothing. */
export function setToneCurve(curve: ToneCurve | undefined): Edit {
  return alter('tone curve', ({ heights: { tone } }) => {
    if (!curve) {
      delete tone.curve;
      return;
    }
    if (curve.length < LEAST_CURVE_POINTS || curve.length > GREATEST_CURVE_POINTS) return;
    tone.curve = curve
      .map(({ lightness, position }) => ({
        lightness: clamp(lightness, 0, 100),
        position: clamp(position, 0, 1),
      }))
      .sort((a, b) => a.lightness - b.lightness);
  });
}

/** Dark low and light high, or the other way about. */
export function reverseTone(reversed: boolean): Edit {
  return alter('direction of tone', ({ heights: { tone } }) => {
    tone.reversed = reversed;
  });
}

/** How strongly heights by colour lean to tone; see `Lean.price`. */
export function setLean(price: number): Edit {
  return alter('lean', ({ heights: { closest } }) => {
    closest.lean = clamp(price, 0, MOST_LEAN);
  });
}

/** How strongly neighbouring heights are pulled together, 0..1. */
export function setCalm(calm: number): Edit {
  return alter('calm', (draft) => {
    draft.heights.calm = clamp(calm, 0, 1);
  });
}

/** Grows details that are too small where that costs less than to level them, or levels them all. */
export function keepDetails(details: boolean): Edit {
  return alter('small details', (draft) => {
    draft.heights.details = details;
  });
}

/** Side of the smallest island that is printed, mm. */
export function setSmallestIsland(mm: number): Edit {
  return alter('smallest island', (draft) => {
    draft.heights.smallestMm = clamp(mm, 0, GREATEST_ISLAND_MM);
  });
}

/** Lets heights end in a band under closest blend, or not. */
export function toggleEndBand(bandId: string): Edit {
  return alter('bands that heights end in', ({ stack: { bands }, heights: { closest } }) => {
    const { bandIds } = closest;
    const ids = bands.map(({ id }) => id);
    const allowed = (id: string): boolean => bandIds === null || bandIds.includes(id);
    const next = ids.filter((one) => (one === bandId ? !allowed(one) : allowed(one)));
    // All of them, or none, is no choice.
    closest.bandIds = next.length === ids.length || next.length === 0 ? null : next;
  });
}

/** An aim colour at the top of the stack. */
export function addAim(colour: string): Edit {
  return alter('aim colour', ({ stack: { bands }, heights: { closest } }) => {
    if (HEX.test(colour) && closest.aims.length < MAX_LAYERS)
      closest.aims.push({ colour, layerNumber: whole(totalLayers(bands), 1, MAX_LAYERS) });
  });
}

/** Another colour or layer for an aim colour. */
export function changeAim(
  index: number,
  { colour, layerNumber }: { readonly colour?: string; readonly layerNumber?: number },
): Edit {
  return alter(`aim colour ${index}`, ({ heights: { closest } }) => {
    const aim = closest.aims[index];
    if (!aim) return;
    if (colour !== undefined && HEX.test(colour)) aim.colour = colour;
    if (layerNumber !== undefined) aim.layerNumber = whole(layerNumber, 1, MAX_LAYERS);
  });
}

/** Takes an aim colour away. */
export function removeAim(index: number): Edit {
  return alter('aim colour', ({ heights: { closest } }) => {
    closest.aims.splice(index, 1);
  });
}

/** The colours of flat areas, each with its height. */
export function setFlatColours(colours: HeightsSlice['flat']['colours']): Edit {
  return alter('flat colours', ({ heights: { flat } }) => {
    flat.colours = colours
      .filter(({ colour }) => HEX.test(colour))
      .slice(0, GREATEST_FLAT_COLOURS)
      .map(({ colour, layers }) => ({ colour, layers: whole(layers, 1, MAX_LAYERS) }));
  });
}

/** The height of one flat colour, in layers. */
export function setFlatLayers(index: number, layers: number): Edit {
  return alter(`height of flat colour ${index}`, ({ heights: { flat } }) => {
    const own = flat.colours[index];
    if (own) own.layers = whole(layers, 1, MAX_LAYERS);
  });
}

/** Exchanges the heights of two flat colours. */
export function swapFlatLayers(first: number, second: number): Edit {
  return alter('order of flat colours', ({ heights: { flat } }) => {
    const a = flat.colours[first];
    const b = flat.colours[second];
    if (a && b) [a.layers, b.layers] = [b.layers, a.layers];
  });
}
