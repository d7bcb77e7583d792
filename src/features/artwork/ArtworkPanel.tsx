import { Download } from 'lucide-react';
import { mimeOf } from '../../platform/check-picture.ts';
import { downloadFile } from '../../platform/browser/files.ts';
import { useDocument, useLive, useProject } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { Facts } from '../../ui/Facts.tsx';
import { Note } from '../../ui/Note.tsx';
import styles from './ArtworkPanel.module.css';

/** Stop 1: what the picture is, and its file back. */
export function ArtworkPanel() {
  const { artworkBytes } = useProject();
  const artwork = useDocument((state) => state.document.artwork.file);
  const opened = useLive((state) => state.opened);
  const { reducedFrom, transparentShare, stage } = opened;
  return (
    <div className={styles.panel}>
      <h2 className={styles.heading}>Artwork</h2>
      <Facts
        rows={[
          ['File', artwork.fileName],
          ['Kind', artwork.kind.toUpperCase()],
          ['Size', `${artwork.width} x ${artwork.height} px`],
          ['Bytes', `${(artworkBytes.length / 1000).toFixed(0)} kB`],
          [
            'Cut away',
            transparentShare === 0 ? 'nothing' : `${(transparentShare * 100).toFixed(1)} %`,
          ],
          ['Shown at', `${stage.width} x ${stage.height} px`],
        ]}
      />
      {reducedFrom ? (
        <Note tone="attention" role="note">
          The picture has {reducedFrom.width} x {reducedFrom.height} pixels. It was reduced to{' '}
          {artwork.width} x {artwork.height} for work; no nozzle prints finer. The file itself is
          kept as it was.
        </Note>
      ) : null}
      {transparentShare === 1 ? (
        <Note tone="attention" role="alert">
          The picture is fully transparent: nothing of it is printed. Begin again from a picture
          with something on it.
        </Note>
      ) : transparentShare > 0 ? (
        <Note tone="attention" role="note">
          Transparent parts are not printed: the piece gets the outline of the picture.
        </Note>
      ) : null}
      <Button
        icon={<Download size={16} aria-hidden />}
        onClick={() => {
          downloadFile(artwork.fileName, artworkBytes, mimeOf(artwork.kind));
        }}
      >
        Download original
      </Button>
      <Note>Nothing leaves this computer: the picture is kept in this browser only.</Note>
    </div>
  );
}
