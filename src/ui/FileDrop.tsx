import type { ReactNode } from 'react';
import { useDropzone } from 'react-dropzone';

interface FileDropProps {
  readonly onFile: (file: File) => void;
  readonly className?: string | undefined;
  /** Nothing is taken for now. */
  readonly disabled?: boolean;
  /** A field to choose a file by, for those who do not drag: how it is called, and what it offers. */
  readonly field?: {
    readonly label: string;
    readonly testId: string;
    readonly accept?: string;
  };
  /**
   * @param over a file is being dragged over this place
   * @param choose opens the field
   */
  readonly children: (over: boolean, choose: () => void) => ReactNode;
}

/**
 * A place that files can be dropped on, the only way there is: a place within another one takes its files itself. Which kinds
 * are taken is decided by looking into the file, not by its name: names lie.
 */
export function FileDrop({ onFile, className, disabled = false, field, children }: FileDropProps) {
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    noDragEventsBubbling: true,
    disabled,
    onDrop: ([file]) => {
      if (file) onFile(file);
    },
  });
  return (
    <div
      className={className}
      data-active={isDragActive}
      {...getRootProps()}
      // Only a place for the pointer.
      role={undefined}
      tabIndex={undefined}
    >
      {field ? (
        <input
          {...getInputProps({ 'aria-label': field.label })}
          {...(field.accept === undefined ? {} : { accept: field.accept })}
          data-testid={field.testId}
        />
      ) : null}
      {children(isDragActive, open)}
    </div>
  );
}
