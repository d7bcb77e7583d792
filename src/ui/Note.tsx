import type { HTMLAttributes } from 'react';
import styles from './Note.module.css';

interface NoteProps extends HTMLAttributes<HTMLParagraphElement> {
  /** Words that explain, set back; or words that should be looked at, with a mark beside them. */
  readonly tone?: 'soft' | 'attention';
  readonly 'data-testid'?: string;
  readonly 'data-proposed'?: boolean;
}

/** A few words beside a control. */
export function Note({ tone = 'soft', className, ...rest }: NoteProps) {
  return <p className={[styles[tone], className].filter(Boolean).join(' ')} {...rest} />;
}
