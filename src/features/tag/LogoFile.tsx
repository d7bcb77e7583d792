import { useRef, useState } from 'react';
import { toast } from 'sonner';
import type { SvgShape } from '#core/tags/svg-shapes.ts';
import { addElement } from '../../state/edits/tag-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { selectElements } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { newElement } from './new-element.ts';

/** Largest drawing that is taken as a logo, bytes. */
const MOST_BYTES = 5_000_000;

/** Width of a new logo, as a share of the outline's. */
const LOGO_SHARE = 0.5;

/** Takes a logo from an SVG file: one element for each colour of it. */
export function LogoFile() {
  const { documents, views } = useProject();
  const change = useDocument((state) => state.change);
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const take = async (file: File): Promise<void> => {
    setBusy(true);
    try {
      if (file.size > MOST_BYTES) {
        toast.error(`${file.name} is larger than 5 MB. Simplify the drawing.`);
        return;
      }
      const { readSvgShapes } = await import('../../platform/svg-shapes.ts');
      const read = readSvgShapes(await file.text());
      if (!read.ok) {
        toast.error(`${file.name}: ${read.fault.detail ?? read.fault.code}`, { duration: 9000 });
        return;
      }
      place(file.name.replace(/\.svg$/i, ''), read.value);
    } finally {
      setBusy(false);
    }
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
      const base = newElement('shape', documents.getState().document);
      if (base?.kind !== 'shape') return;
      const own = Object.values(document.stack.filaments);
      const filamentId = nearestColour(shape.colour, own) ?? base.filamentId;
      ids.push(base.id);
      change(
        addElement({
          ...base,
          name: shapes.length > 1 ? `${name} ${i + 1}` : name,
          group,
          filamentId,
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
        }),
        { withinMs: 1000 },
      );
    });
    selectElements(views, ids);
  };
  return (
    <>
      <Button look="quiet" disabled={busy} onClick={() => input.current?.click()}>
        Logo
      </Button>
      <input
        ref={input}
        type="file"
        accept=".svg,image/svg+xml"
        className="visually-hidden"
        aria-label="Logo as SVG"
        tabIndex={-1}
        data-testid="logo-file"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) void take(file);
        }}
      />
    </>
  );
}

/** The filament of the tag whose colour is nearest to one of a drawing. */
function nearestColour(
  colour: string | null,
  filaments: readonly { readonly id: string; readonly colour: string }[],
): string | undefined {
  const rgb = (hex: string): number[] =>
    [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16));
  if (colour === null) return undefined;
  const wanted = rgb(colour);
  const far = (hex: string): number =>
    rgb(hex).reduce((sum, value, k) => sum + (value - (wanted[k] as number)) ** 2, 0);
  return [...filaments].sort((a, b) => far(a.colour) - far(b.colour))[0]?.id;
}
