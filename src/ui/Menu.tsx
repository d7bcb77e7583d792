import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import styles from './Menu.module.css';

interface MenuProps {
  readonly label: string;
  readonly trigger: ReactNode;
  readonly items: readonly {
    readonly text: string;
    readonly icon: ReactNode;
    readonly onSelect: () => void;
  }[];
}

/** A button that opens a short list of actions. */
export function Menu({ label, trigger, items }: MenuProps) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className={styles.trigger} aria-label={label}>
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={styles.content} align="end" sideOffset={4}>
          {items.map(({ text, icon, onSelect }) => (
            <DropdownMenu.Item key={text} className={styles.item} onSelect={onSelect}>
              {icon}
              {text}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
