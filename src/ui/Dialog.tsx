import { X } from 'lucide-react';
import { Dialog as Base } from 'radix-ui';
import type { ReactNode } from 'react';
import styles from './Dialog.module.css';

interface DialogProps {
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
  readonly title: string;
  readonly description?: string;
  /** `side` and `wide` lie over the right edge and leave the rest of the screen in full view; `large` is for lists. */
  readonly place?: 'middle' | 'large' | 'side' | 'wide';
  readonly children: ReactNode;
}

/** A dialog. Escape and the cross close it. */
export function Dialog({
  open,
  onOpenChange,
  title,
  description,
  place = 'middle',
  children,
}: DialogProps) {
  return (
    <Base.Root open={open} onOpenChange={onOpenChange}>
      <Base.Portal>
        <Base.Overlay className={styles.overlay} data-place={place} />
        <Base.Content
          className={styles.content}
          data-place={place}
          {...(description ? {} : { 'aria-describedby': undefined })}
        >
          <header className={styles.header}>
            <Base.Title className={styles.title}>{title}</Base.Title>
            <Base.Close className={styles.close} aria-label="Close">
              <X size={18} aria-hidden />
            </Base.Close>
          </header>
          {description ? (
            <Base.Description className={styles.description}>{description}</Base.Description>
          ) : null}
          {children}
        </Base.Content>
      </Base.Portal>
    </Base.Root>
  );
}
