import { ClipboardPaste, Clipboard, Download, ImageDown, Replace } from 'lucide-react';
import { mimeOf } from '../../platform/check-picture.ts';
import { downloadFile } from '../../platform/browser/files.ts';
import { pasteEdits } from '../../state/edits/picture-edits.ts';
import { useDocument, useLive, useProject } from '../../state/project-context.ts';
import { recipeOf } from '../../state/recipe.ts';
import { Button } from '../../ui/Button.tsx';
import { FileDrop } from '../../ui/FileDrop.tsx';
import { Facts } from '../../ui/Facts.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row } from '../../ui/Row.tsx';
import styles from './ArtworkPanel.module.css';
import { keepForOthers, keptForOthers } from './copied-edits.ts';
import { toast } from '../../ui/toast.ts';

/** What the picture is, its files, and edits that go to other projects. */
export function PictureFile({ onReplace }: { readonly onReplace: (file: File) => void }) {
  const { artworkBytes, documents, worker } = useProject();
  const file = useDocument((state) => state.document.artwork.file);
  const edits = useDocument((state) => state.document.artwork.edits);
  const change = useDocument((state) => state.change);
  const name = useDocument((state) => state.document.name);
  const opened = useLive((state) => state.opened);
  const edited = useLive((state) => state.edited);
  const { reducedFrom } = opened;
  const { transparentShare, stage } = edited;
  const downloadEdited = async (): Promise<void> => {
    try {
      const recipe = recipeOf(documents.getState().document);
      const { png } = await worker.run('editedPng', { recipe });
      downloadFile(`${name}, edited.png`, png, 'image/png');
    } catch (error) {
      toast(
        `The edited picture could not be made (${error instanceof Error ? error.message : String(error)}). Try it again.`,
      );
    }
  };
  return (
    <>
      {reducedFrom ? (
        <Note tone="attention" role="note">
          The picture has {reducedFrom.width} x {reducedFrom.height} pixels. It was reduced to{' '}
          {file.width} x {file.height} for work; no nozzle prints finer. The file itself is kept as
          it was.
        </Note>
      ) : null}
      {transparentShare === 1 ? (
        <Note tone="attention" role="alert">
          Everything is cut away: nothing would be printed. Switch the last edit off, or keep more.
        </Note>
      ) : transparentShare > 0 ? (
        <Note>Transparent parts are not printed: the piece gets the outline of the picture.</Note>
      ) : null}
      <details className={styles.file} open={edits.length === 0}>
        <summary>Picture and files</summary>
        <Facts
          rows={[
            ['File', file.fileName],
            ['Kind', file.kind.toUpperCase()],
            ['Size', `${file.width} x ${file.height} px`],
            ['Bytes', `${(artworkBytes.length / 1000).toFixed(0)} kB`],
            [
              'Cut away',
              transparentShare === 0 ? 'nothing' : `${(transparentShare * 100).toFixed(1)} %`,
            ],
            ['Shown at', `${stage.width} x ${stage.height} px`],
          ]}
        />
        <Row>
          <Button
            icon={<Download size={16} aria-hidden />}
            onClick={() => {
              downloadFile(file.fileName, artworkBytes, mimeOf(file.kind));
            }}
          >
            Download original
          </Button>
          <Button
            icon={<ImageDown size={16} aria-hidden />}
            onClick={() => {
              void downloadEdited();
            }}
          >
            Download artwork as edited
          </Button>
          <FileDrop
            onFile={onReplace}
            field={{ label: 'Another picture', testId: 'replace-picture' }}
          >
            {(over, choose) => (
              <Button
                icon={<Replace size={16} aria-hidden />}
                aria-pressed={over}
                title="Edits, stack and size stay; the project as it is stays on the shelf"
                onClick={choose}
              >
                Replace the picture
              </Button>
            )}
          </FileDrop>
          <Button
            icon={<Clipboard size={16} aria-hidden />}
            disabled={edits.length === 0}
            onClick={() => {
              keepForOthers(
                documents.getState().document.artwork,
                edits.map(({ id }) => id),
              );
            }}
          >
            Copy all edits
          </Button>
          <Button
            icon={<ClipboardPaste size={16} aria-hidden />}
            onClick={() => {
              const copied = keptForOthers();
              if (copied) change(pasteEdits(copied, () => crypto.randomUUID()));
              else toast('No edits were copied yet. Copy some in another project first.');
            }}
          >
            Put copied edits here
          </Button>
        </Row>
        <Note>Nothing leaves this computer: the picture is kept in this browser only.</Note>
      </details>
    </>
  );
}
