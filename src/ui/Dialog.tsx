import { X } from 'lucide-react';
import { Dialog as Base } from 'radix-ui';
import type { ReactNode } from 'react';
import styles from './Dialog.module.css';
import { useReturnFocus } from './use-return-focus.ts';

interface DialogProps {
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
  readonly title: string;
  readonly description?: string;
  /** `side` and `wide` lie over the right edge and leave the rest of the screen in full view; `large` is for lists. */
  readonly place?: 'middle' | 'large' | 'side' | 'wide';
  /** The rest of the screen can be worked on while the dialog is open, and pressing there does not close it. */
  readonly besides?: boolean;
  /** Called first when Escape is pressed; true keeps the dialog open. */
  readonly onEscape?: () => boolean;
  readonly children: ReactNode;
}

/** A dialog. Escape and the cross close it. */
export function Dialog({
  open,
  onOpenChange,
  title,
  description,
  place = 'middle',
  besides = false,
  onEscape,
  children,
}: DialogProps) {
  const returnFocus = useReturnFocus(open);
  return (
    <Base.Root open={open} onOpenChange={onOpenChange} modal={!besides}>
      <Base.Portal>
        {besides ? null : <Base.Overlay className={styles.overlay} data-place={place} />}
        <Base.Content
          className={styles.content}
          data-place={place}
          onInteractOutside={(event) => {
            if (besides) event.preventDefault();
          }}
          onEscapeKeyDown={(event) => {
            if (onEscape?.() === true) event.preventDefault();
          }}
          {...returnFocus}
          {...(description ? {} : { 'aria-describedby': undefined })}
        >
          <div className={styles.header}>
            <Base.Title className={styles.title}>{title}</Base.Title>
            <Base.Close className={styles.close} aria-label="Close">
              <X size={18} aria-hidden />
            </Base.Close>
          </div>
          {description ? (
            <Base.Description className={styles.description}>{description}</Base.Description>
          ) : null}
          {children}
        </Base.Content>
      </Base.Portal>
    </Base.Root>
  );
}
