import { Download, Package } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { bytesIn } from '#core/base/byte-pieces.ts';
import { Cancelled } from '#core/base/checkpoint.ts';
import { formatsOf, type ExportFormat } from '#core/formats/mesh/export-files.ts';
import { swapSheetText } from '#core/formats/sheet/swap-sheet-text.ts';
import { swapsJson } from '#core/formats/sheet/swaps-json.ts';
import { downloadFile, fileStem } from '../../platform/browser/files.ts';
import { heightRequest } from '../../state/document-facts.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { exportRequest, sheetOfDocument } from '../../state/project-export.ts';
import { writeProjectFile } from '../../state/project-file.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { pieceOfTag } from '../../state/tag-plan.ts';
import { useBatch } from '../../state/use-batch.ts';
import { Button } from '../../ui/Button.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { Progress } from '../../ui/Progress.tsx';
import { Note } from '../../ui/Note.tsx';
import { SelectIfSeveral } from '../../ui/SelectIfSeveral.tsx';
import styles from './ReliefPanel.module.css';
import { sizeWords, useFileSize } from './use-file-size.ts';
import { toast } from '../../ui/toast.ts';

/** What each format is good for. */
const FORMATS: Readonly<Record<ExportFormat, string>> = {
  stl: 'STL: the whole shape, for any slicing program',
  '3mf': '3MF: one coloured solid for each band',
  'stl-text': 'STL as text: larger, readable',
  obj: 'OBJ and MTL: by band, in a zip',
  glb: 'GLB: to show the relief elsewhere',
  heights: 'Heights as 16-bit PNG',
  print: 'Predicted print as PNG',
  layers: 'Outline of each layer as SVG',
  areas: 'Areas of each height as SVG',
  inlays: 'Inlays as STL: printed first, face down',
  body: 'Body as STL: printed over the inlays',
};

const NAMES: Readonly<Record<ExportFormat, string>> = {
  stl: 'STL',
  '3mf': '3MF',
  'stl-text': 'STL as text',
  obj: 'OBJ',
  glb: 'GLB',
  heights: 'heights',
  print: 'print',
  layers: 'layers',
  areas: 'areas',
  inlays: 'inlays',
  body: 'body',
};

interface FilesSectionProps {
  /** Why no file can be made; null where one can. */
  readonly trouble: string | null;
}

/** The files: one by one, or everything in a zip. All carry the stamp in their names. */
export function FilesSection({ trouble }: FilesSectionProps) {
  const project = useProject();
  const whole = useDocument((state) => state.document);
  const batch = useBatch();
  const { document } = batch;
  const [chosen, setFormat] = useState<ExportFormat>('stl');
  const formats = formatsOf(pieceOfTag(document)?.inlays !== undefined);
  const format = formats.includes(chosen) ? chosen : 'stl';
  const [fraction, setFraction] = useState<number | null>(null);
  /** What is being made, in a word. */
  const [making, setMaking] = useState('');
  const [made, setMade] = useState<{ words: string; of: ProjectDocument } | null>(null);
  const disabled = trouble !== null;
  const size = useFileSize(document, format, disabled || batch.index > 0);
  const abort = useRef<AbortController | null>(null);
  // The buttons go while a file is made, and with them the focus: it comes back to the one that was pressed.
  const pressed = useRef<'one' | 'all' | null>(null);
  const buttons = { one: useRef<HTMLButtonElement>(null), all: useRef<HTMLButtonElement>(null) };
  const returnTo = fraction === null ? pressed.current : null;
  useEffect(() => {
    if (returnTo === null) return;
    pressed.current = null;
    if (window.document.activeElement === window.document.body) buttons[returnTo].current?.focus();
    // The buttons are the same as long as this is shown.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [returnTo]);

  const run = async (everything: boolean): Promise<void> => {
    const controller = new AbortController();
    abort.current = controller;
    pressed.current = everything ? 'all' : 'one';
    setFraction(0);
    setMaking(everything ? 'files' : NAMES[format]);
    setMade(null);
    const wanted = exportRequest(document);
    try {
      const extra = everything ? await sheetAndProject(controller.signal) : null;
      const { files } = await project.exporter.run(
        'files',
        {
          ...wanted,
          formats: everything ? formats : [format],
          zip: extra,
        },
        { signal: controller.signal, onProgress: setFraction },
      );
      for (const { suffix, pieces, type, triangles } of files) {
        downloadFile(`${fileStem(document.name)}-${wanted.stamp}-${suffix}`, pieces, type);
        const size = { bytes: bytesIn(pieces), triangles, exact: true };
        setMade({ words: sizeWords(size), of: document });
      }
    } catch (error) {
      if (!(error instanceof Cancelled))
        toast.error(
          `The file could not be made: ${error instanceof Error ? error.message : String(error)}`,
        );
    } finally {
      setFraction(null);
    }
  };

  /** What goes into the zip besides the shape. */
  const sheetAndProject = async (signal: AbortSignal): Promise<Record<string, Uint8Array>> => {
    const counted = await project.exporter.run('counts', heightRequest(document), { signal });
    const sheet = sheetOfDocument(document, counted, project.rack);
    const text = new TextEncoder();
    return {
      'swap-sheet.txt': text.encode(swapSheetText(sheet)),
      'swaps.json': text.encode(swapsJson(sheet)),
      [`${fileStem(document.name)}.strata`]: writeProjectFile({
        document: whole,
        artwork: project.artworkBytes,
        versions: project.versions.getState().versions,
      }),
    };
  };

  const saved = made?.of === document ? made.words : null;

  return (
    <section className={styles.files} aria-label="Files">
      <SelectIfSeveral label="Files of" testId="batch" of={batch} />
      <SelectField
        label="File"
        value={format}
        testId="format"
        options={formats.map((value) => ({ value, text: FORMATS[value] }))}
        onChange={(value) => {
          setFormat(value);
          setMade(null);
        }}
      />
      {trouble ? (
        <Note tone="attention" role="alert">
          {trouble}
        </Note>
      ) : (
        <Note className="figures" role="status" data-testid="file-size">
          {saved
            ? `Saved: ${saved}`
            : size
              ? sizeWords(size)
              : // It is counted in what is shown, and these are in other layers.
                batch.index > 0
                ? 'its size is told when it is made'
                : 'working out its size ...'}
        </Note>
      )}
      {fraction === null ? (
        <div className={styles.row}>
          <Button
            ref={buttons.one}
            look="main"
            icon={<Download size={16} aria-hidden />}
            disabled={disabled}
            onClick={() => void run(false)}
          >
            Download {NAMES[format]}
          </Button>
          <Button
            ref={buttons.all}
            icon={<Package size={16} aria-hidden />}
            disabled={disabled}
            title="Every format, the swap sheet and the project in one zip"
            onClick={() => void run(true)}
          >
            Everything
          </Button>
        </div>
      ) : (
        <Progress
          label={`Making the ${making}`}
          fraction={fraction}
          onCancel={() => abort.current?.abort()}
        />
      )}
      {saved ? <Note>Scale it in X and Y only.</Note> : null}
    </section>
  );
}
