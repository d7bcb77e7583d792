import { clamp } from '#core/base/numbers.ts';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { mapPlace } from '#core/edit/frame.ts';
import { MOST_LEAN } from '#core/stack/lean.ts';
import { GREATEST_CURVE_POINTS, LEAST_CURVE_POINTS, type ToneCurve } from '#core/heights/tone.ts';
import type { ZoneOrder } from '#core/heights/zone-orders.ts';
import { nameOfColour } from '#core/zones/colour-name.ts';
import { MOST_ZONE_COLOURS, MOST_ZONES, type ZoneColours } from '#core/zones/zone.ts';
import { produce } from 'immer';
import type { HeightsSlice } from '../project-document.ts';
import { editedFrameOf } from '../recipe.ts';
import { MOST_STROKE_NUMBERS, MOST_STROKES } from '../slices/artwork.ts';
import { GREATEST_SOFT_MM, LONGEST_ZONE_NAME } from '../slices/heights.ts';
import { keepPoints } from '../strokes.ts';
import { alter, edit, whole, type Edit } from './edit.ts';

type KeptZone = HeightsSlice['zones']['list'][number];

const HEX = /^#[0-9a-f]{6}$/;

function coloursOf(colours: readonly string[]): string[] {
  return [...new Set(colours.filter((colour) => HEX.test(colour)))].slice(0, 2 * MOST_ZONE_COLOURS);
}

function freshZone(colours: readonly string[], name?: string): KeptZone {
  const own = coloursOf(colours);
  return {
    id: crypto.randomUUID(),
    name: (name ?? nameOfColour(own)).slice(0, LONGEST_ZONE_NAME),
    colours: own,
    span: null,
    reversed: false,
    curve: null,
  };
}

/** Makes an edit of a change of one zone; a zone that is not there changes nothing. */
function onZone(what: string, id: string, recipe: (zone: KeptZone) => void): Edit {
  return alter(`${what} of zone ${id}`, ({ heights: { zones } }) => {
    const own = zones.list.find((zone) => zone.id === id);
    if (own) recipe(own);
  });
}

/** Parts the picture anew, lowest zone first; what was painted goes with the zones that were there. */
export function setZones(parts: readonly ZoneColours[]): Edit {
  return alter('zones', ({ heights: { zones }, artwork: { masks } }) => {
    zones.list = parts.slice(0, MOST_ZONES).map(({ colours }) => freshZone(colours));
    zones.order = 'found';
    masks.zones = [];
  });
}

/** One zone more, on top of all: without colours it has what is painted, or what a selection takes in. */
export function addZone(name: string, selection?: string): Edit {
  return alter('zones', ({ heights: { zones }, artwork: { masks, selections } }) => {
    if (zones.list.length >= MOST_ZONES) return;
    const zone = freshZone([], name);
    zones.list.push(zone);
    if (selection !== undefined && selections.some(({ id }) => id === selection))
      masks.zones = [...masks.zones, { zone: zone.id, selection }].slice(-MOST_STROKES);
  });
}

/** Two zones in place of one, the second above the first, which keeps its settings. */
export function splitZoneInto(id: string, [first, second]: readonly ZoneColours[]): Edit {
  return alter('zones', ({ heights: { zones } }) => {
    const at = zones.list.findIndex((zone) => zone.id === id);
    const own = zones.list[at];
    if (!own || !first || !second || zones.list.length >= MOST_ZONES) return;
    own.colours = coloursOf(first.colours);
    own.span = null;
    zones.list.splice(at + 1, 0, freshZone(second.colours));
  });
}

/** Takes a zone away; its samples go to the zones with the nearest colours. */
export function removeZone(id: string): Edit {
  return alter('zones', ({ heights: { zones }, artwork: { masks } }) => {
    zones.list = zones.list.filter((zone) => zone.id !== id);
    masks.zones = masks.zones.filter(({ zone }) => zone !== id);
  });
}

/** Calls a zone something else. */
export function renameZone(id: string, name: string): Edit {
  return onZone('name', id, (zone) => {
    zone.name = name.trim().slice(0, LONGEST_ZONE_NAME);
  });
}

/** Puts a zone at another place in the order, 0 lowest. */
export function moveZone(id: string, to: number): Edit {
  return alter('order of zones', ({ heights: { zones } }) => {
    const at = zones.list.findIndex((zone) => zone.id === id);
    const [own] = at < 0 ? [] : zones.list.splice(at, 1);
    if (!own) return;
    zones.list.splice(whole(to, 0, zones.list.length), 0, own);
    zones.order = 'hand';
  });
}

/** Orders zones by how they were found; their spans are found anew. Ids that are missing keep their places at the top. */
export function orderZones(ids: readonly string[], by: ZoneOrder): Edit {
  return alter('order of zones', ({ heights: { zones } }) => {
    const place = (id: string): number => (ids.includes(id) ? ids.indexOf(id) : ids.length);
    zones.list = [...zones.list].sort((one, other) => place(one.id) - place(other.id));
    for (const zone of zones.list) zone.span = null;
    zones.order = by;
  });
}

/** Gives zones, in a new order, other colours: what fitting them to a stack found. */
export function setZoneMembers(
  members: readonly { readonly id: string; readonly colours: readonly string[] }[],
): Edit {
  return alter('zones fitted', ({ heights: { zones } }) => {
    const found = members.flatMap(({ id, colours }) => {
      const own = zones.list.find((zone) => zone.id === id);
      return own ? [{ ...own, colours: coloursOf(colours), span: null }] : [];
    });
    const left = zones.list.filter(({ id }) => members.every((one) => one.id !== id));
    zones.list = [...new Map([...found, ...left].map((zone) => [zone.id, zone])).values()];
  });
}

/** Where a zone lies, in layers; null lets its colours decide. */
export function setZoneSpan(id: string, span: readonly [number, number] | null): Edit {
  return onZone('span', id, (zone) => {
    if (!span) {
      zone.span = null;
      return;
    }
    const [one, other] = span.map((layer) => whole(layer, 1, MAX_LAYERS)) as [number, number];
    zone.span = [Math.min(one, other), Math.max(one, other)];
  });
}

/** Dark low and light high within a zone, or the other way about. */
export function reverseZone(id: string, reversed: boolean): Edit {
  return onZone('direction', id, (zone) => {
    zone.reversed = reversed;
  });
}

/** How lightness runs over a zone's heights; null lets its colours decide. */
export function setZoneCurve(id: string, curve: ToneCurve | null): Edit {
  return onZone('curve', id, (zone) => {
    if (!curve) {
      zone.curve = null;
      return;
    }
    if (curve.length < LEAST_CURVE_POINTS || curve.length > GREATEST_CURVE_POINTS) return;
    zone.curve = curve
      .map(({ lightness, position }) => ({
        lightness: clamp(lightness, 0, 100),
        position: clamp(position, 0, 1),
      }))
      .sort((a, b) => a.lightness - b.lightness);
  });
}

/** Layers that neighbouring zones may share; null: as many as they like. */
export function setSharedLayers(shared: number | null): Edit {
  return alter('shared layers', ({ heights: { zones } }) => {
    zones.shared = shared === null ? null : whole(shared, 0, MAX_LAYERS);
  });
}

/** How strongly heights keep to order and spans; see `ZonesRule.lean`. */
export function setZoneLean(price: number): Edit {
  return alter('lean of zones', ({ heights: { zones } }) => {
    zones.lean = clamp(price, 0, MOST_LEAN);
  });
}

/** Within how far of a border the better of two zones counts, mm. */
export function setSoftBorders(mm: number): Edit {
  return alter('soft borders', ({ heights: { zones } }) => {
    zones.softMm = clamp(mm, 0, GREATEST_SOFT_MM);
  });
}

/**
 * Paints what belongs to a zone.
 * @param radius as a share of the edited picture's width
 * @param points as shares of its sides, x and y in turn
 */
export function paintZone(
  id: string,
  { radius, points }: { readonly radius: number; readonly points: readonly number[] },
): Edit {
  const even = points.slice(0, Math.min(MOST_STROKE_NUMBERS, 2 * Math.floor(points.length / 2)));
  return edit(`paint of zone ${id}`, (document) => {
    const there = document.heights.zones.list.some((zone) => zone.id === id);
    if (!there || even.length < 2 || !(radius > 0) || !Number.isFinite(radius)) return document;
    const { width, height, toOriginal } = editedFrameOf(document);
    const places: number[] = [];
    for (let i = 0; i < even.length; i += 2)
      places.push(
        ...mapPlace(
          toOriginal,
          clamp(even[i] ?? 0, -1, 2) * width,
          clamp(even[i + 1] ?? 0, -1, 2) * height,
        ),
      );
    const stroke = { zone: id, radius: radius * width, points: keepPoints(places) };
    return produce(document, ({ artwork: { masks } }) => {
      masks.zones = [...masks.zones, stroke].slice(-MOST_STROKES);
    });
  });
}

/** All of a selection belongs to a zone. It is said once of each selection, and last. */
export function giveSelectionToZone(id: string, selection: string): Edit {
  return alter(`paint of zone ${id}`, ({ heights: { zones }, artwork: { masks, selections } }) => {
    if (!zones.list.some((zone) => zone.id === id)) return;
    if (!selections.some((one) => one.id === selection)) return;
    masks.zones = [
      ...masks.zones.filter((one) => !('selection' in one) || one.selection !== selection),
      { zone: id, selection },
    ].slice(-MOST_STROKES);
  });
}

/** Takes away what was painted of a zone, and the selections that it was given. */
export function clearZonePaint(id: string): Edit {
  return alter(`paint of zone ${id}`, ({ artwork: { masks } }) => {
    masks.zones = masks.zones.filter(({ zone }) => zone !== id);
  });
}
