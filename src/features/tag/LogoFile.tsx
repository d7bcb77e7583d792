import { ciede2000 } from '#core/colour/ciede2000.ts';
import { labOfBytes } from '#core/colour/lab.ts';
import { parseHex } from '#core/colour/srgb.ts';
import type { Filament } from '#core/stack/filament.ts';
import type { SvgShape } from '#core/tags/svg-shapes.ts';
import { addElement } from '../../state/edits/tag-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { selectElements } from '../../state/view-store.ts';
import { newElement } from './new-element.ts';
import { PickFile } from './PickFile.tsx';
import { DRAWING_KINDS, readDrawing } from './read-drawing.ts';

/** Width of a new logo, as a share of the outline's. */
const LOGO_SHARE = 0.5;

/** Takes a logo from an SVG file or from the flat areas of a picture: one element for each colour of it. */
export function LogoFile() {
  const { documents, views, rack, worker } = useProject();
  const change = useDocument((state) => state.change);
  const take = async (file: File): Promise<void> => {
    const read = await readDrawing(file, worker);
    if (read) place(file.name.replace(/\.\w+$/, ''), read.shapes);
  };
  const place = (name: string, shapes: readonly SvgShape[]): void => {
    const { document } = documents.getState();
    const { tag } = document;
    if (!tag) return;
    const [left, right] = [
      Math.min(...shapes.map((shape) => shape.left)),
      Math.max(...shapes.map((shape) => shape.left + shape.width)),
    ];
    const [top, bottom] = [
      Math.min(...shapes.map((shape) => shape.top)),
      Math.max(...shapes.map((shape) => shape.top + shape.height)),
    ];
    const scale = (LOGO_SHARE * tag.outline.widthMm) / (right - left);
    const group = shapes.length > 1 ? crypto.randomUUID() : null;
    const ids: string[] = [];
    shapes.forEach((shape, i) => {
      const base = newElement('shape', documents.getState().document, rack);
      if (base?.kind !== 'shape') return;
      const own = rack.filter(({ onHand }) => onHand);
      const filament =
        nearestColour(shape.colour, own) ?? rack.find(({ id }) => id === base.filamentId);
      ids.push(base.id);
      change(
        addElement(
          {
            ...base,
            name: shapes.length > 1 ? `${name} ${i + 1}` : name,
            group,
            filamentId: filament?.id ?? base.filamentId,
            xMm: (shape.left + shape.width / 2 - (left + right) / 2) * scale,
            yMm: ((top + bottom) / 2 - shape.top - shape.height / 2) * scale,
            outline: {
              kind: 'path',
              path: shape.path,
              fill: shape.fill,
              widthMm: shape.width * scale,
              heightMm: shape.height * scale,
              cornerMm: 0,
            },
          },
          filament,
        ),
        { withinMs: 1000 },
      );
    });
    selectElements(views, ids);
  };
  return (
    <PickFile
      label="Logo"
      look="quiet"
      accept={DRAWING_KINDS}
      name="Logo as SVG or picture"
      testId="logo-file"
      onFile={take}
    />
  );
}

/** The filament whose colour is nearest to one of a drawing; undefined where the drawing does not say. */
function nearestColour(
  colour: string | null,
  filaments: readonly Filament[],
): Filament | undefined {
  const wanted = colour === null ? undefined : parseHex(colour);
  if (!wanted) return undefined;
  const far = ({ colour: own }: Filament): number =>
    ciede2000(labOfBytes(wanted), labOfBytes(parseHex(own) ?? [0, 0, 0]));
  return [...filaments].sort((a, b) => far(a) - far(b))[0];
}
