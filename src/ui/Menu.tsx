import { DropdownMenu } from 'radix-ui';
import { useState, type ReactNode } from 'react';
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

/** Menus lie in the main part of the page: outside of all parts a screen reader would not come upon them. */
function landmark(): Element | null {
  return document.querySelector('main');
}

/** A button that opens a short list of actions. */
export function Menu({ label, trigger, framed = false, items }: MenuProps) {
  const [container, setContainer] = useState<Element | null>(null);
  return (
    // Modal, it would hide the rest of the page from screen readers with the focus still in it.
    <DropdownMenu.Root
      modal={false}
      onOpenChange={(open) => {
        // Asked for as it opens: the screen that it was first drawn on may be another one.
        if (open) setContainer(landmark());
      }}
    >
      <DropdownMenu.Trigger className={framed ? styles.framed : styles.trigger} aria-label={label}>
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal container={container}>
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
