import { ImagePlus } from 'lucide-react';
import { Button } from '../../ui/Button.tsx';
import { FileDrop } from '../../ui/FileDrop.tsx';
import { Progress } from '../../ui/Progress.tsx';
import styles from './Shelf.module.css';

interface NewProjectProps {
  /** A file being taken in: what it is called, and how far it is. */
  readonly busy: { readonly name: string; readonly fraction: number } | null;
  /** Why the last file could not be taken in. */
  readonly trouble: string | null;
  readonly onFile: (file: File) => void;
  readonly onCancel: () => void;
}

/** Where a picture or a project file is dropped or chosen. */
export function NewProject({ busy, trouble, onFile, onCancel }: NewProjectProps) {
  return (
    <FileDrop
      className={styles.drop}
      onFile={onFile}
      disabled={busy !== null}
      field={{ label: 'Picture or project file', testId: 'file-input' }}
    >
      {(_over, choose) => (
        <>
          {busy ? (
            <Progress label={`Opening ${busy.name}`} fraction={busy.fraction} onCancel={onCancel} />
          ) : (
            <>
              <ImagePlus size={26} strokeWidth={1.5} aria-hidden />
              <div className={styles.dropText}>
                <strong>New from picture</strong>
                <span>
                  Drop or paste a PNG, JPEG, WebP, AVIF, GIF, BMP, TIFF or SVG here, or a .strata
                  project. It stays on this computer.
                </span>
              </div>
              <Button look="main" onClick={choose}>
                Choose a file
              </Button>
            </>
          )}
          {trouble ? (
            <p className={styles.trouble} role="alert" data-testid="file-trouble">
              {trouble}
            </p>
          ) : null}
        </>
      )}
    </FileDrop>
  );
}
