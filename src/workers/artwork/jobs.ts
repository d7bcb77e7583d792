import type { ImportanceStroke, SelectedImportance } from '#core/artwork/importance.ts';
import type { Selection } from '#core/edit/artwork-edit.ts';
import type { HeightMap, Raster, RgbaRaster } from '#core/base/raster.ts';
import type { Result } from '#core/base/result.ts';
import type { Difference } from '#core/heights/difference.ts';
import type { FindCells } from '#core/find/clusters.ts';
import type { ExportFormat } from '#core/formats/mesh/export-files.ts';
import type { FileSize } from '#core/formats/mesh/file-sizes.ts';
import type { StrataFault, UnpackedStrata } from '#core/formats/project/strata-file.ts';
import type { LampLight } from '#core/heights/lamp.ts';
import type { Ramp } from '#core/optics/ramp.ts';
import type { LightKind } from '#core/optics/lights.ts';
import type { FlatColour } from '#core/heights/flat.ts';
import type { FittedZones } from '#core/heights/fit-zones.ts';
import type { ZoneFacts } from '#core/heights/zones.ts';
import type { ZoneOrdering } from '#core/heights/zone-orders.ts';
import type { ZoneColours } from '#core/zones/zone.ts';
import type { ExportRequest } from '#core/plan/export-request.ts';
import type { ReliefRequest, SampleRequest } from '#core/plan/relief-plan.ts';
import type { CountedInlays } from '#core/relief/count-inlays.ts';
import type { FineParts } from '#core/relief/fine-parts.ts';
import type { Stack } from '#core/stack/stack.ts';
import type { FilamentTable } from '#core/stack/stack-ramp.ts';
import type { ElementFigures, TagProblem } from '#core/tags/check-tag.ts';
import type { PlannedTag } from '#core/tags/plan-tag.ts';
import type { PictureShapes } from '#core/tags/picture-shapes.ts';
import type { SvgShapesFault } from '#core/tags/svg-shapes.ts';
import type { Tag } from '#core/tags/tag.ts';
import type { EditedArtwork, EditJobs } from './edit-jobs.ts';
import type { PictureFault, PictureKind } from '../../platform/check-picture.ts';

/** Most pixels of the picture on the stage, and of the heights shown with it. */
export const STAGE_AREA_PX = 1_050_000;

/** A picture as it was taken in. Sides are those of the upright picture, in pixels. */
export interface OpenedArtwork extends EditedArtwork {
  readonly kind: PictureKind;
  /** Sides before it was reduced to the working area, where it was. */
  readonly reducedFrom?: { readonly width: number; readonly height: number };
  /** SHA-256 of the file, hex. */
  readonly digest: string;
}

/** How far what is printed reaches, in samples; 0 x 0 where nothing is. */
export interface PrintedExtent {
  readonly columns: number;
  readonly rows: number;
}

/** A picture to be opened. */
export interface OpenInput {
  readonly bytes: Uint8Array<ArrayBuffer>;
  /** An SVG as the page has drawn it: workers cannot. */
  readonly drawn?: RgbaRaster | undefined;
}

/** A relief printed with a stack. */
export interface PrintRequest {
  readonly request: ReliefRequest;
  readonly stack: Stack;
  readonly filaments: FilamentTable;
  /** Light of the room, daylight unless said otherwise. */
  readonly room?: LightKind | undefined;
}

/** A solid to look at; see `Mesh`. */
export interface ShownSolid {
  readonly positions: Float32Array<ArrayBuffer>;
  readonly triangles: Uint32Array<ArrayBuffer>;
  /** What each corner looks like, as entries of the ramp counted from 0; missing where it follows from the height. */
  readonly looks?: Float32Array<ArrayBuffer> | undefined;
  readonly widthMm: number;
  readonly heightMm: number;
}

/**
 * Every job that can be given to the worker of one artwork: what goes in and what comes out. A job names the relief that it
 * is about; what is worked out already is found under its key (`core/plan`).
 */
// A type, because interfaces have no index signature and so are no JobTable.

export type ArtworkJobs = EditJobs & {
  /** Unpacks a `.strata` file: a large one takes a while, and one from elsewhere may be anything. */
  unpack: {
    input: { readonly bytes: Uint8Array<ArrayBuffer> };
    output: Result<UnpackedStrata, StrataFault>;
  };
  /** Decodes a picture and keeps it for the jobs that follow. */
  open: {
    input: OpenInput;
    output:
      | { readonly ok: true; readonly value: OpenedArtwork }
      | { readonly ok: false; readonly fault: PictureFault };
  };
  /** Heights of the picture at some resolution, free of diagonal contacts, and how many samples have each. */
  heights: {
    input: ReliefRequest;
    output: {
      readonly heights: HeightMap;
      readonly counts: Uint32Array;
      readonly edges: Uint32Array;
      readonly extent: PrintedExtent;
      /** See `naturalness`; null where it means nothing. */
      readonly natural: number | null;
      /** Mean CIEDE2000 by the fast formula, where the rule has the differences at hand; otherwise null. */
      readonly roughError: number | null;
      /** The zones of the rule, where it has some; otherwise null. */
      readonly zones: readonly ZoneFacts[] | null;
    };
  };
  /** Parts the picture by its colours into `count` zones, or one zone into two. */
  proposeZones: {
    input: {
      readonly samples: SampleRequest;
      readonly count: number;
      readonly split?: { readonly zone: ZoneColours; readonly others: readonly ZoneColours[] };
    };
    output: { readonly zones: readonly ZoneColours[] };
  };
  /** Where the zones of a relief are: the zone of each sample, counted from 1. Its rule must be by zones. */
  zoneLabels: {
    input: ReliefRequest;
    output: { readonly labels: Raster<Uint8Array> };
  };
  /** Ways to order the zones of a relief, with their price; see `zoneOrders`. */
  zoneOrders: {
    input: ReliefRequest;
    output: { readonly orders: readonly ZoneOrdering[] };
  };
  /** Fits the zones of a relief to its stack; see `fitZones`. */
  fitZones: {
    input: { readonly request: ReliefRequest; readonly reorder: boolean };
    output: FittedZones;
  };
  /** How far the print that a relief gives with a stack is from the artwork; null where nothing is printed. */
  difference: {
    input: PrintRequest;
    output: { readonly difference: Difference | null };
  };
  /** How far the print looks from the artwork at a distance (0: side by side), and its rarest colours there. */
  seen: {
    input: PrintRequest & { readonly distanceMm: number };
    output: { readonly difference: Difference | null; readonly rarest: number | null };
  };
  /** A small PNG of the print that a relief gives with a stack. */
  thumbnail: {
    input: PrintRequest & { readonly sidePx: number };
    output: { readonly png: Uint8Array<ArrayBuffer> };
  };
  /** The print that a relief gives with a stack. */
  print: {
    input: PrintRequest;
    output: { readonly print: RgbaRaster; readonly counts: Uint32Array };
  };
  /** The print where light goes sideways in it, by the entries of a ramp: before a lamp, or from the front where there is none. */
  look: {
    input: {
      readonly request: ReliefRequest;
      readonly ramp: Ramp;
      readonly light: LampLight | null;
    };
    output: { readonly print: RgbaRaster };
  };
  /** The solid of a relief, thinned to `mostSamples` for looking at it. */
  solid: {
    input: {
      readonly request: ReliefRequest;
      readonly stack: Stack;
      readonly mostSamples: number;
      /** See `ReliefShape`. */
      readonly smoothMm?: number | undefined;
    };
    output: ShownSolid;
  };
  /** The colours of the picture on these samples, and how much they matter by what was painted. */
  colours: {
    input: {
      readonly samples: SampleRequest;
      readonly importance: readonly (ImportanceStroke | SelectedImportance)[];
      /** All of the project's: marks name them. */
      readonly selections: readonly Selection[];
      /** Keeps the colours of zones apart; its rule must be by zones. */
      readonly zoned?: ReliefRequest | undefined;
      /** How far light goes sideways in what it will be printed with: colours are those that must be printed to come near it. None by default. */
      readonly spread?: { readonly spreadMm: number; readonly sampleMm: number } | undefined;
    };
    output: FindCells;
  };
  /** Samples at each height of a relief, its outlines, and the middles of its layers. */
  counts: {
    input: ReliefRequest;
    output: {
      readonly counts: Uint32Array;
      readonly edges: Uint32Array;
      readonly extent: PrintedExtent;
      /** See `middlesOf`. */
      readonly middles: readonly (readonly [number, number])[];
      /** Of a face on the bed; null where there are none. */
      readonly inlays: CountedInlays | null;
    };
  };
  /** Reduces the picture to `count` colours, each with the height of the band top that looks most like it. */
  flatColours: {
    input: {
      readonly samples: SampleRequest;
      readonly count: number;
      readonly stack: Stack;
      readonly filaments: FilamentTable;
    };
    output: { readonly colours: readonly FlatColour[] };
  };
  /** How large a file of the finished relief will be, counted in the relief that is shown, which may be coarser. */
  size: {
    input: ExportRequest & { readonly shown: ReliefRequest; readonly format: ExportFormat };
    output: FileSize;
  };
  /** The flat areas of another picture as outlines, and the line around all of them. */
  pictureShapes: {
    input: { readonly bytes: Uint8Array<ArrayBuffer> };
    output: Result<PictureShapes, PictureFault | SvgShapesFault>;
  };
  /** What is wrong with a tag, and how fine each of its elements is. */
  checkTag: {
    input: {
      readonly tag: Tag;
      readonly planned: PlannedTag;
      readonly lineMm: number;
      readonly layerMm: number;
    };
    output: {
      readonly problems: readonly TagProblem[];
      /** One for each element; null where there is nothing of it. */
      readonly figures: readonly (ElementFigures | null)[];
    };
  };
  /** Where a relief is finer than a line. */
  fineParts: {
    input: { readonly request: ReliefRequest; readonly lineMm: number };
    output: FineParts;
  };
};
