import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { HEIGHT_RULES } from '#core/heights/height-rules.ts';
import { ZONE_ORDERS } from '#core/heights/zone-orders.ts';
import { MARKS } from '#core/artwork/importance.ts';
import { EDIT_KINDS, STEP_WAYS, type SelectionStep } from '#core/edit/artwork-edit.ts';
import { SHIPPED_PRINTERS } from '#core/printer/printer.ts';
import { PLATE_OUTLINES } from '#core/relief/shape.ts';
import { OUTLINE_KINDS } from '#core/tags/outline-kinds.ts';
import { FLUSH_PRINTS } from '#core/stack/flush.ts';
import { ELEMENT_SIDES, ELEMENT_WAYS, TAG_BACKS, type TagElement } from '#core/tags/tag.ts';
import * as artwork from '../../src/state/edits/artwork-edits.ts';
import * as band from '../../src/state/edits/band-edits.ts';
import type { Edit } from '../../src/state/edits/edit.ts';
import { keepData } from '../../src/state/kept-data.ts';
import * as height from '../../src/state/edits/height-edits.ts';
import * as picture from '../../src/state/edits/picture-edits.ts';
import * as piece from '../../src/state/edits/piece-edits.ts';
import * as print from '../../src/state/edits/print-edits.ts';
import * as tag from '../../src/state/edits/tag-edits.ts';
import * as zone from '../../src/state/edits/zone-edits.ts';
import * as project from '../../src/state/edits/project-edits.ts';
import type { PieceSlice, ProjectDocument } from '../../src/state/project-document.ts';
import { FILAMENTS } from './stacks.ts';

/** Every edit there is: whoever adds one adds it below, or the property test says so. */
export const EDITS: Readonly<Record<string, unknown>> = Object.fromEntries(
  Object.entries({
    ...artwork,
    ...band,
    ...height,
    ...picture,
    ...piece,
    ...print,
    ...project,
    ...tag,
    ...zone,
  }).filter(([, value]) => typeof value === 'function'),
);

const index = fc.nat(7);
const filament = fc.constantFrom(...Object.values(FILAMENTS));
/** Numbers that a field, a script or a wrong file might hand over. */
const wild = fc.oneof(
  fc.double({ min: -10, max: 3000 }),
  fc.integer({ min: -5, max: 400 }),
  fc.constantFrom(0, -1, 1e9, Number.NaN, Infinity, -Infinity, 0.5, 1),
);
const histogram = fc
  .array(fc.nat(1000), { minLength: 8, maxLength: 8 })
  .map((bars) => Uint32Array.from({ length: 4096 }, (_, i) => bars[i >> 9] ?? 0));
const colour = fc
  .integer({ min: 0, max: 0xffffff })
  .map((code) => `#${code.toString(16).padStart(6, '0')}`);
const anyColour = fc.oneof(colour, fc.constantFrom('red', '', '#FFF', '#12345g'));
const printer = fc.constantFrom(...SHIPPED_PRINTERS);
const opening = fc.constantFrom<PieceSlice['fit']>(
  null,
  { kind: 'frame', widthMm: 130, heightMm: 180, depthMm: 5 },
  { kind: 'frame', widthMm: 2, heightMm: 1.5, depthMm: null },
  { kind: 'bed', widthMm: 2000, heightMm: 2000, depthMm: null, round: true },
);

/** Ids of picture edits and selections: few, so that calls meet each other. */
const editId = fc.constantFrom('a', 'b', 'c', '');
const maskId = fc.constantFrom('m', 'n', 'gone');
const line = fc.record({ radius: wild, points: fc.array(wild, { maxLength: 9 }) });
const settings = fc.dictionary(
  fc.constantFrom(
    'left',
    'width',
    'degrees',
    'brightness',
    'curve',
    'warmth',
    'turn',
    'leastChroma',
    'count',
    'palette',
    'box',
    'on',
    'id',
    'kind',
  ),
  fc.oneof(
    wild,
    fc.boolean(),
    fc.constantFrom(
      null,
      'x',
      [0, 1],
      [
        [0, 0],
        [1, 1],
      ],
    ),
  ),
  { maxKeys: 3 },
);
const step: fc.Arbitrary<SelectionStep> = fc
  .tuple(
    fc.constantFrom(...STEP_WAYS),
    fc.oneof(
      fc.record({
        from: fc.constant('similar' as const),
        x: wild,
        y: wild,
        tolerance: wild,
        connected: fc.boolean(),
      }),
      fc.record({
        from: fc.constant('box' as const),
        left: wild,
        top: wild,
        width: wild,
        height: wild,
      }),
      fc.record({
        from: fc.constant('polygon' as const),
        points: fc.array(wild, { maxLength: 9 }),
      }),
      fc.record({
        from: fc.constant('brush' as const),
        radius: wild,
        points: fc.array(wild, { maxLength: 9 }),
      }),
      fc.record({ from: fc.constant('mask' as const), mask: maskId }),
    ),
  )
  .map(([way, rest]) => ({ way, ...rest }));

/** Makes an edit of a zone of the document that it is given, whatever its id is. */
function onSomeZone(at: number, make: (id: string) => Edit): Edit {
  return Object.assign(
    (document: ProjectDocument) => {
      const { list } = document.heights.zones;
      return make(list[at % Math.max(1, list.length)]?.id ?? 'gone')(document);
    },
    { what: 'zone' },
  );
}

/** A font of the maker's own, beside the document. */
function ownFont(): string {
  return keepData(
    new Uint8Array(
      readFileSync(
        new URL(
          '../../node_modules/@fontsource/fredoka/files/fredoka-latin-600-normal.woff',
          import.meta.url,
        ),
      ),
    ),
  );
}

const elementId = fc.constantFrom('e0', 'e1', 'e2', 'e3', 'gone');
const ids = fc.array(elementId, { maxLength: 3 });
const outlinePatch = fc.record(
  {
    kind: fc.constantFrom(...OUTLINE_KINDS),
    widthMm: wild,
    heightMm: wild,
    cornerMm: wild,
    path: fc.constantFrom('M0 0h10v10z', '', 'M'),
  },
  { requiredKeys: [] },
);
const elementPatch = fc.record(
  {
    xMm: wild,
    yMm: wild,
    turnDeg: wild,
    heightMm: wild,
    tracking: wild,
    lineSpacing: wild,
    arcMm: wild,
    fitMm: wild,
    insetMm: wild,
    widthMm: wild,
    diameterMm: wild,
    lengthMm: wild,
    rimMm: wild,
    layers: wild,
    level: wild,
    name: fc.string({ maxLength: 300 }),
    text: fc.string({ maxLength: 12 }),
    face: fc.constantFrom('hanken', 'fredoka-bold', 'gone', ''),
    mirrored: fc.boolean(),
    way: fc.constantFrom(...ELEMENT_WAYS),
    outline: outlinePatch,
  },
  { requiredKeys: [] },
);

/** Elements of every kind in a few filaments. */
export const anyElement: fc.Arbitrary<TagElement> = fc
  .tuple(
    fc.constantFrom('text', 'shape', 'rim', 'hole', 'loop'),
    elementId,
    fc.integer({ min: -20, max: 20 }),
    fc.integer({ min: -10, max: 10 }),
    filament,
    fc.constantFrom(...ELEMENT_WAYS),
    fc.integer({ min: 1, max: 6 }),
    fc.constantFrom('7', 'Ada', 'o'),
    fc.constantFrom(...ELEMENT_SIDES),
  )
  .map(([kind, id, xMm, yMm, { id: filamentId }, way, layers, text, side]): TagElement => {
    const named = { id, name: '', group: null };
    const place = { xMm, yMm, turnDeg: 3 * xMm, mirrored: yMm > 0 };
    const colour = { filamentId, way, side, layers, level: layers };
    switch (kind) {
      case 'text': {
        const set = { text, face: 'hanken-bold', heightMm: 6, tracking: 0 };
        return { kind, ...named, ...place, ...colour, ...set, lineSpacing: 1, arcMm: 0, fitMm: 0 };
      }
      case 'shape': {
        const outline = { kind: 'disc' as const, widthMm: 9, heightMm: 6, cornerMm: 0 };
        return { kind, ...named, ...place, ...colour, outline };
      }
      case 'rim':
        return { kind, ...named, ...colour, insetMm: 1, widthMm: 1 };
      case 'hole':
        return { kind, ...named, ...place, diameterMm: 4, lengthMm: 4 };
      default:
        return { kind: 'loop', ...named, ...place, diameterMm: 4, rimMm: 2 };
    }
  });

/** What is on the back of a tag, and how its flush face is printed. */
export const anyBack = fc.record({
  back: fc.constantFrom(...TAG_BACKS),
  flush: fc.record({
    print: fc.constantFrom(...FLUSH_PRINTS),
    layers: fc.integer({ min: 1, max: 4 }),
  }),
});

/** Calls of the edits of tags. */
export function tagCalls(): Readonly<Record<string, fc.Arbitrary<Edit>>> {
  const place = fc.record({ xMm: wild, yMm: wild });
  return {
    setTagOutline: outlinePatch.map(tag.setTagOutline),
    setPlateLayers: wild.map(tag.setPlateLayers),
    setChamfer: wild.map(tag.setChamfer),
    setFlush: fc
      .record({ print: fc.constantFrom(...FLUSH_PRINTS), layers: wild })
      .map(tag.setFlush),
    setWays: fc
      .tuple(fc.constantFrom(...ELEMENT_SIDES), fc.constantFrom(...ELEMENT_WAYS))
      .map(([side, way]) => tag.setWays(side, way)),
    setTagBack: fc.constantFrom(...TAG_BACKS).map(tag.setTagBack),
    setPlateFilament: filament.map(tag.setPlateFilament),
    setTagLevels: fc.constantFrom('found' as const, 'own' as const).map(tag.setTagLevels),
    addElement: anyElement.map(tag.addElement),
    removeElements: ids.map(tag.removeElements),
    duplicateElements: fc.tuple(ids, wild).map((args) => tag.duplicateElements(...args)),
    moveElement: fc.tuple(elementId, wild).map((args) => tag.moveElement(...args)),
    patchElement: fc.tuple(elementId, elementPatch).map((args) => tag.patchElement(...args)),
    setElementFilament: fc.tuple(ids, filament).map((args) => tag.setElementFilament(...args)),
    placeElements: fc.dictionary(elementId, place, { maxKeys: 3 }).map(tag.placeElements),
    setOwnFont: fc
      .tuple(elementId, fc.record({ id: fc.constantFrom(ownFont(), 'none'), name: fc.string() }))
      .map((args) => tag.setOwnFont(...args)),
    setSeries: fc
      .option(
        fc.record({
          columns: fc.array(fc.string(), { maxLength: 3 }),
          rows: fc.array(fc.array(fc.string(), { maxLength: 3 }), { maxLength: 4 }),
        }),
      )
      .map(tag.setSeries),
    setSeriesPlate: wild.map(tag.setSeriesPlate),
    setSeriesSpacing: wild.map(tag.setSeriesSpacing),
    groupElements: fc
      .tuple(ids, fc.constantFrom(null, '', 'one'))
      .map((args) => tag.groupElements(...args)),
  };
}

/** Calls of the edits of zones. */
function zoneCalls(): Readonly<Record<string, fc.Arbitrary<Edit>>> {
  const parts = fc.array(fc.record({ colours: fc.array(anyColour, { maxLength: 4 }) }), {
    maxLength: 8,
  });
  const on = <Args extends unknown[]>(
    args: fc.Arbitrary<Args>,
    make: (id: string, ...rest: Args) => Edit,
  ): fc.Arbitrary<Edit> =>
    fc.tuple(index, args).map(([at, rest]) => onSomeZone(at, (id) => make(id, ...rest)));
  const curve = fc.option(
    fc.array(fc.record({ lightness: wild, position: wild }), { maxLength: 20 }),
  );
  const ids = (document: ProjectDocument): string[] =>
    document.heights.zones.list.map(({ id }) => id);
  return {
    setZones: parts.map(zone.setZones),
    addZone: fc
      .tuple(fc.string({ maxLength: 80 }), fc.option(maskId, { nil: undefined }))
      .map((args) => zone.addZone(...args)),
    splitZoneInto: on(fc.tuple(parts), zone.splitZoneInto),
    removeZone: on(fc.constant([]), zone.removeZone),
    renameZone: on(fc.tuple(fc.string({ maxLength: 80 })), zone.renameZone),
    moveZone: on(fc.tuple(wild), zone.moveZone),
    orderZones: fc
      .tuple(fc.boolean(), fc.constantFrom(...ZONE_ORDERS))
      .map(([some, by]) =>
        Object.assign(
          (document: ProjectDocument) =>
            zone.orderZones(some ? ids(document).slice(1).reverse() : ['gone'], by)(document),
          { what: 'order' },
        ),
      ),
    setZoneMembers: fc
      .array(fc.array(anyColour, { maxLength: 4 }), { maxLength: 8 })
      .map((members) =>
        Object.assign(
          (document: ProjectDocument) =>
            zone.setZoneMembers(
              members.map((colours, i) => ({ id: ids(document)[i] ?? 'gone', colours })),
            )(document),
          { what: 'members' },
        ),
      ),
    setZoneSpan: on(fc.tuple(fc.option(fc.tuple(wild, wild))), zone.setZoneSpan),
    reverseZone: on(fc.tuple(fc.boolean()), zone.reverseZone),
    setZoneCurve: on(fc.tuple(curve), zone.setZoneCurve),
    setSharedLayers: fc.option(wild).map(zone.setSharedLayers),
    setZoneLean: wild.map(zone.setZoneLean),
    setSoftBorders: wild.map(zone.setSoftBorders),
    paintZone: on(
      fc.tuple(fc.record({ radius: wild, points: fc.array(wild, { maxLength: 9 }) })),
      zone.paintZone,
    ),
    giveSelectionToZone: on(fc.tuple(maskId), zone.giveSelectionToZone),
    clearZonePaint: on(fc.constant([]), zone.clearZonePaint),
  };
}

/** Calls of the edits of the artwork. */
function pictureCalls(): Readonly<Record<string, fc.Arbitrary<Edit>>> {
  const id = editId;
  let fresh = 0;
  return {
    addPictureEdit: fc
      .tuple(id, fc.constantFrom(...EDIT_KINDS), settings)
      .map((args) => picture.addPictureEdit(...args)),
    changePictureEdit: fc.tuple(id, settings).map((args) => picture.changePictureEdit(...args)),
    switchPictureEdit: fc.tuple(id, fc.boolean()).map((args) => picture.switchPictureEdit(...args)),
    limitPictureEdit: fc
      .tuple(id, fc.option(maskId))
      .map((args) => picture.limitPictureEdit(...args)),
    movePictureEdit: fc.tuple(id, wild).map((args) => picture.movePictureEdit(...args)),
    copyPictureEdit: fc.tuple(id, id).map((args) => picture.copyPictureEdit(...args)),
    removePictureEdit: id.map(picture.removePictureEdit),
    addCutoutLine: fc
      .tuple(id, fc.constantFrom(...picture.LINE_LISTS), line)
      .map((args) => picture.addCutoutLine(...args)),
    clearCutoutLines: id.map(picture.clearCutoutLines),
    addSelection: fc
      .tuple(maskId, fc.string({ maxLength: 130 }))
      .map((args) => picture.addSelection(...args)),
    addSelectionStep: fc.tuple(maskId, step).map((args) => picture.addSelectionStep(...args)),
    changeSelection: fc
      .tuple(
        maskId,
        fc.record({ grow: wild, feather: wild, invert: fc.boolean() }, { requiredKeys: [] }),
      )
      .map((args) => picture.changeSelection(...args)),
    removeSelection: maskId.map(picture.removeSelection),
    pasteEdits: fc.constant(
      // What is copied is taken from the document itself.
      Object.assign(
        (document: ProjectDocument) =>
          picture.pasteEdits(document.artwork, () => `p${String((fresh += 1))}`)(document),
        { what: 'paste' },
      ),
    ),
    setEditedBox: fc
      .constantFrom(null, { left: 0.1, top: 0, width: 0.5, height: 1 })
      .map(artwork.setEditedBox),
  };
}

/**
 * How each edit is called, by its name.
 * @param documents states that a version or a found stack may stem from
 */
export function editCalls(first: ProjectDocument): Readonly<Record<string, fc.Arbitrary<Edit>>> {
  const bands = fc.array(
    fc.record({
      filamentId: filament.map(({ id }) => id),
      layers: fc.integer({ min: 1, max: 12 }),
    }),
    { minLength: 1, maxLength: 6 },
  );
  return {
    moveEdge: fc.tuple(index, wild).map((args) => band.moveEdge(...args)),
    moveBand: fc.tuple(index, index).map((args) => band.moveBand(...args)),
    lockBand: fc.tuple(index, fc.boolean()).map((args) => band.lockBand(...args)),
    trimBand: fc.tuple(index, wild).map((args) => band.trimBand(...args)),
    splitInTwo: index.map(band.splitInTwo),
    joinDown: index.map(band.joinDown),
    dropBand: index.map(band.dropBand),
    putFilament: fc
      .tuple(
        fc.record({
          bandIndex: index,
          mode: fc.constantFrom('replace' as const, 'above' as const),
        }),
        filament,
      )
      .map((args) => band.putFilament(...args)),
    scaleLayers: wild.map(band.scaleLayers),
    holdTotalHeight: fc.boolean().map(band.holdTotalHeight),
    takeRackValues: fc
      .array(filament, { maxLength: 4 })
      .map((some) => band.takeRackValues(some.map((one) => ({ ...one, transmissionMm: 2.5 })))),
    chooseHeightRule: fc.constantFrom(...HEIGHT_RULES).map(height.chooseHeightRule),
    setTonePoints: fc.tuple(wild, wild, wild).map((args) => height.setTonePoints(...args)),
    fitTonePoints: histogram.map(height.fitTonePoints),
    setToneCurve: fc
      .option(fc.array(fc.record({ lightness: wild, position: wild }), { maxLength: 20 }), {
        nil: undefined,
      })
      .map(height.setToneCurve),
    reverseTone: fc.boolean().map(height.reverseTone),
    setLean: wild.map(height.setLean),
    setCalm: wild.map(height.setCalm),
    keepDetails: fc.boolean().map(height.keepDetails),
    ...tagCalls(),
    ...zoneCalls(),
    setSmallestIsland: wild.map(height.setSmallestIsland),
    toggleEndBand: index.map((i) =>
      // The band is looked for in the document that the edit is given.
      Object.assign(
        (document: ProjectDocument) =>
          height.toggleEndBand(document.stack.bands[i % document.stack.bands.length]?.id ?? 'gone')(
            document,
          ),
        { what: 'toggle' },
      ),
    ),
    addAim: anyColour.map(height.addAim),
    changeAim: fc
      .tuple(index, fc.record({ colour: anyColour, layerNumber: wild }, { requiredKeys: [] }))
      .map((args) => height.changeAim(...args)),
    removeAim: index.map(height.removeAim),
    setFlatColours: fc
      .array(fc.record({ colour: anyColour, layers: wild }), { maxLength: 20 })
      .map(height.setFlatColours),
    setFlatLayers: fc.tuple(index, wild).map((args) => height.setFlatLayers(...args)),
    swapFlatLayers: fc.tuple(index, index).map((args) => height.swapFlatLayers(...args)),
    addStroke: fc
      .record({
        mark: fc.constantFrom(...MARKS),
        radius: wild,
        points: fc.array(wild, { maxLength: 9 }),
      })
      .map(artwork.addStroke),
    markSelection: fc
      .tuple(maskId, fc.constantFrom(...MARKS))
      .map((args) => artwork.markSelection(...args)),
    clearImportance: fc.constant(artwork.clearImportance()),
    ...pictureCalls(),
    setWidth: wild.map(piece.setWidth),
    setHeight: wild.map(piece.setHeight),
    linkSides: fc.boolean().map(piece.linkSides),
    setTrim: fc.boolean().map(piece.setTrim),
    setSampleSize: wild.map(piece.setSampleSize),
    setOutlines: fc.constantFrom('samples' as const, 'smooth' as const).map(piece.setOutlines),
    setOpening: opening.map(piece.setOpening),
    growToFit: fc.constant(piece.growToFit()),
    setLineWidth: wild.map(piece.setLineWidth),
    setLayerHeight: fc
      .tuple(fc.constantFrom('firstLayerMm' as const, 'layerMm' as const), wild)
      .map((args) => piece.setLayerHeight(...args)),
    setLeastLayers: wild.map(piece.setLeastLayers),
    setGrid: fc
      .constantFrom(
        { firstLayerMm: 0.16, layerMm: 0.08 },
        { firstLayerMm: 0.2, layerMm: 0.02 },
        { firstLayerMm: 0.16, layerMm: 0.08, baseLayerMm: 0.24, baseLayers: 3 },
        { firstLayerMm: 0.3, layerMm: 0.3, baseLayerMm: 1, baseLayers: 250 },
        { firstLayerMm: 0.16, layerMm: 0.08, baseLayerMm: 0.02, baseLayers: 993 },
      )
      .map(piece.setGrid),
    setBorder: fc.option(wild).map(piece.setBorder),
    setBorderWidth: wild.map(piece.setBorderWidth),
    setPlate: fc
      .tuple(fc.option(fc.constantFrom(...PLATE_OUTLINES)), wild)
      .map((args) => piece.setPlate(...args)),
    changePlate: fc
      .record({ layers: wild, marginMm: wild }, { requiredKeys: [] })
      .map(piece.changePlate),
    setCorners: wild.map(piece.setCorners),
    addHole: fc.record({ xMm: wild, yMm: wild, diameterMm: wild }).map(piece.addHole),
    changeHole: fc
      .tuple(index, fc.constantFrom('xMm' as const, 'yMm' as const, 'diameterMm' as const), wild)
      .map((args) => piece.changeHole(...args)),
    removeHole: index.map(piece.removeHole),
    choosePrinter: printer.map(print.choosePrinter),
    setStart: fc
      .constantFrom(null, '2026-11-25T18:30', 'soon', '2026-99-25T18:30', '')
      .map(print.setStart),
    changePieces: fc
      .record(
        {
          copies: wild,
          spacingMm: wild,
          way: fc.constantFrom('together' as const, 'apart' as const),
        },
        { requiredKeys: [] },
      )
      .map(print.changePieces),
    setOwnLayers: fc
      .tuple(index, fc.option(fc.record({ copies: wild, layerMm: wild })))
      .map((args) => print.setOwnLayers(...args)),
    setSliced: fc
      .tuple(fc.constantFrom('slicedMinutes' as const, 'slicedGrams' as const), fc.option(wild))
      .map((args) => print.setSliced(...args)),
    setIroning: fc
      .option(
        fc.record({
          bands: fc.array(wild, { maxLength: 5 }),
          spacingMm: wild,
          flow: wild,
          speedMmS: wild,
        }),
      )
      .map(print.setIroning),
    setSpliceMargin: wild.map(print.setSpliceMargin),
    renameProject: fc.string({ maxLength: 260 }).map(project.renameProject),
    goBackTo: fc.constant(
      project.goBackTo({ id: 'v', name: 'v', createdAt: 0, thumbnail: null, document: first }),
    ),
    takeFirst: fc
      .tuple(bands, fc.boolean())
      .map(([found, flat]) =>
        project.takeFirst(
          { bands: found, meanDeltaE: 1, price: 1, mostSwaps: 5, lean: 15, tone: null } as never,
          Object.values(FILAMENTS),
          flat ? [{ colour: '#336699', layers: 3 }] : [],
        ),
      ),
    takeSuggestion: fc.tuple(bands, fc.boolean()).map(([found, tone]) =>
      project.takeSuggestion(
        {
          bands: found,
          meanDeltaE: 1,
          price: 1,
          mostSwaps: 5,
          lean: tone ? 0 : 6,
          tone: tone
            ? [
                { lightness: 10, position: 0 },
                { lightness: 90, position: 1 },
              ]
            : null,
        } as never,
        Object.values(FILAMENTS),
      ),
    ),
  };
}
