import { ImagePlus } from 'lucide-react';
import { useDropzone } from 'react-dropzone';
import { Button } from '../../ui/Button.tsx';
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
  // Which kinds are taken is decided by looking into the file, not by its name: names lie.
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    disabled: busy !== null,
    onDrop: ([file]) => {
      if (file) onFile(file);
    },
  });
  return (
    <div className={styles.drop} data-active={isDragActive} {...getRootProps()}>
      <input
        {...getInputProps({ 'aria-label': 'Picture or project file' })}
        data-testid="file-input"
      />
      {busy ? (
        <Progress label={`Opening ${busy.name}`} fraction={busy.fraction} onCancel={onCancel} />
      ) : (
        <>
          <ImagePlus size={26} strokeWidth={1.5} aria-hidden />
          <div className={styles.dropText}>
            <strong>New from picture</strong>
            <span>
              Drop a PNG, JPEG, WebP, AVIF, GIF or BMP here, or a .strata project. It stays on this
              computer.
            </span>
          </div>
          <Button look="main" onClick={open}>
            Choose a file
          </Button>
        </>
      )}
      {trouble ? (
        <p className={styles.trouble} role="alert" data-testid="file-trouble">
          {trouble}
        </p>
      ) : null}
    </div>
  );
}
