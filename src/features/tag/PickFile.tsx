import { useRef, useState } from 'react';
import { Button } from '../../ui/Button.tsx';

interface PickFileProps {
  readonly label: string;
  /** Endings and kinds that are offered. */
  readonly accept: string;
  /** Spoken name of the field. */
  readonly name: string;
  readonly testId: string;
  readonly look?: 'quiet';
  readonly onFile: (file: File) => Promise<void>;
}

/** A button that takes a file. */
export function PickFile({ label, accept, name, testId, look, onFile }: PickFileProps) {
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  return (
    <>
      <Button {...(look ? { look } : {})} disabled={busy} onClick={() => input.current?.click()}>
        {label}
      </Button>
      <input
        ref={input}
        type="file"
        accept={accept}
        className="visually-hidden"
        aria-label={name}
        tabIndex={-1}
        data-testid={testId}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (!file) return;
          setBusy(true);
          void onFile(file).finally(() => {
            setBusy(false);
          });
        }}
      />
    </>
  );
}
