import { useEffect, useRef, useState } from 'react';
import type { RgbaRaster } from '#core/base/raster.ts';
import { roomOf } from '../../state/room-light.ts';
import { printOf } from '../../state/print-of.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { useDocument, useProject, useVersions, useView } from '../../state/project-context.ts';
import type { NamedVersion } from '../../state/versions.ts';
import type { WipeSide } from '../../state/view-store.ts';
import { SelectField } from '../../ui/Fields.tsx';
import { ArtworkCanvas, SampleCanvas } from './pictures.tsx';
import styles from './Stage.module.css';

/** A named version is compared by eye, so it is worked out no finer than a screen shows. */
const VERSION_SAMPLES = 500_000;

/** What a side of the wipe is called. */
export function nameOfSide(side: WipeSide, versions: readonly NamedVersion[]): string {
  if (side === 'artwork') return 'Artwork';
  if (side === 'print') return 'Print';
  if (side === 'present') return 'Present stack';
  return versions.find(({ id }) => id === side.versionId)?.name ?? 'Version';
}

/** The picture on one side of the wipe line. */
export function SideCanvas({ side }: { readonly side: WipeSide }) {
  if (side === 'artwork') return <ArtworkCanvas />;
  if (side === 'print') return <SampleCanvas painting="print" />;
  if (side === 'present') return <PresentCanvas />;
  return <VersionCanvas versionId={side.versionId} />;
}

/** The predicted print of the document, whatever is being tried out. */
function PresentCanvas() {
  const document = useDocument((state) => state.document);
  return <PrintCanvas document={document} name="the present stack" id="present" />;
}

/** The predicted print of a named version. */
function VersionCanvas({ versionId }: { readonly versionId: string }) {
  const version = useVersions().find(({ id }) => id === versionId);
  return version ? (
    <PrintCanvas document={version.document} name={version.name} id={versionId} />
  ) : null;
}

interface PrintCanvasProps {
  readonly document: ProjectDocument;
  readonly name: string;
  readonly id: string;
}

/** The predicted print of some state of the project, worked out apart from what the stage shows. */
function PrintCanvas({ document, name, id }: PrintCanvasProps) {
  const { worker } = useProject();
  const room = useView((state) => roomOf(state.light));
  const canvas = useRef<HTMLCanvasElement>(null);
  const [print, setPrint] = useState<RgbaRaster | null>(null);
  useEffect(() => {
    const abort = new AbortController();
    printOf(worker, document, VERSION_SAMPLES, abort.signal, room)
      .then((answer) => {
        if (!abort.signal.aborted) setPrint(answer.print);
      })
      // What was given up, or a project that was closed meanwhile.
      .catch(() => undefined);
    return () => {
      abort.abort();
    };
  }, [document, worker, room]);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !print) return;
    const image = context.createImageData(print.width, print.height);
    image.data.set(print.data);
    context.putImageData(image, 0, 0);
  }, [print]);
  return (
    <canvas
      ref={canvas}
      className={styles.canvas}
      width={print?.width ?? 1}
      height={print?.height ?? 1}
      role="img"
      aria-label={`The predicted print of ${name}`}
      data-testid="version-canvas"
      data-version={print ? id : undefined}
    />
  );
}

/** Chooses what is compared, once there are named versions. */
export function WipeSides() {
  const { views } = useProject();
  const sides = useView((state) => state.sides);
  const versions = useVersions();
  if (versions.length === 0) return null;
  const valueOf = (side: WipeSide): string => (typeof side === 'string' ? side : side.versionId);
  const choose = (index: 0 | 1, value: string): void => {
    const side: WipeSide = value === 'artwork' || value === 'print' ? value : { versionId: value };
    views.setState({ sides: index === 0 ? [side, sides[1]] : [sides[0], side] });
  };
  return (
    <div className={styles.light} role="group" aria-label="Compared" data-testid="wipe-sides">
      {([0, 1] as const).map((index) => (
        <div key={index} className={styles.lightRow}>
          <span>{index === 0 ? 'Left' : 'Right'}</span>
          <SelectField
            compact
            label={index === 0 ? 'Left of the wipe line' : 'Right of the wipe line'}
            value={valueOf(sides[index])}
            options={[
              { value: 'artwork', text: 'Artwork' },
              { value: 'print', text: 'Print as it is' },
              ...versions.map(({ id, name }) => ({ value: id, text: name })),
            ]}
            onChange={(value) => {
              choose(index, value);
            }}
          />
        </div>
      ))}
    </div>
  );
}
