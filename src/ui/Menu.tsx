import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import styles from './Menu.module.css';

interface MenuProps {
  readonly label: string;
  readonly trigger: ReactNode;
  /** With a frame and room for words, as a button has. */
  readonly framed?: boolean;
  /** Asked for when the menu is opened. */
  readonly items: () => readonly MenuItem[];
}

export interface MenuItem {
  readonly text: string;
  readonly icon: ReactNode;
  readonly onSelect: () => void;
}

/** A button that opens a short list of actions. */
export function Menu({ label, trigger, framed = false, items }: MenuProps) {
  return (
    // Modal, it would hide the rest of the page from screen readers with the focus still in it.
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className={framed ? styles.framed : styles.trigger} aria-label={label}>
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={styles.content} align="end" sideOffset={4}>
          <Items items={items} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function Items({ items }: Pick<MenuProps, 'items'>) {
  return items().map(({ text, icon, onSelect }) => (
    <DropdownMenu.Item key={text} className={styles.item} onSelect={onSelect}>
      {icon}
      {text}
    </DropdownMenu.Item>
  ));
}
