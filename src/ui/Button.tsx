import type { ButtonHTMLAttributes, ReactNode, Ref } from 'react';
import styles from './Button.module.css';

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** `main` is for the one main action of a screen; `quiet` has no frame until it is pointed at. */
  readonly look?: 'plain' | 'main' | 'quiet';
  readonly icon?: ReactNode;
  readonly ref?: Ref<HTMLButtonElement>;
}

/** A button with an optional icon before its text. */
export function Button({ look = 'plain', icon, children, className, ...rest }: ButtonProps) {
  return (
    <button
      type="button"
      className={[styles.button, styles[look], className].filter(Boolean).join(' ')}
      {...rest}
    >
      {icon}
      {children === undefined ? null : <span>{children}</span>}
    </button>
  );
}
