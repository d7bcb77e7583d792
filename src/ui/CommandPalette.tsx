import { Command } from 'cmdk';
import { VisuallyHidden, Dialog } from 'radix-ui';
import styles from './CommandPalette.module.css';
import { Keys } from './Keys.tsx';
import { useReturnFocus } from './use-return-focus.ts';

/** Something that can be done, by name or by key. */
export interface NamedCommand {
  readonly id: string;
  readonly group: string;
  readonly text: string;
  /** The key, as people write it: `B`, `Ctrl+Z`. */
  readonly keys?: string;
  readonly run: () => void;
}

interface CommandPaletteProps {
  readonly commands: readonly NamedCommand[];
  readonly onClose: () => void;
}

/** All that can be done, found by typing a few letters of its name. */
export function CommandPalette({ commands, onClose }: CommandPaletteProps) {
  const groups = [...new Set(commands.map(({ group }) => group))];
  const returnFocus = useReturnFocus(true);
  return (
    <Dialog.Root
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
    >
      <Dialog.Portal>
        <Dialog.Overlay className={styles.overlay} />
        <Dialog.Content className={styles.content} aria-describedby={undefined} {...returnFocus}>
          <VisuallyHidden.Root>
            <Dialog.Title>Commands</Dialog.Title>
          </VisuallyHidden.Root>
          <Command label="Commands" loop>
            <Command.Input
              className={styles.input}
              placeholder="What do you want to do?"
              data-testid="palette-input"
              autoFocus
            />
            <Command.List className={styles.list}>
              <Command.Empty className={styles.empty}>
                No command is called that. Try a shorter word.
              </Command.Empty>
              {groups.map((group) => (
                <Command.Group key={group} heading={group} className={styles.group}>
                  {commands
                    .filter((command) => command.group === group)
                    .map(({ id, text, keys, run }) => (
                      <Command.Item
                        key={id}
                        value={`${group} ${text}`}
                        className={styles.item}
                        onSelect={() => {
                          onClose();
                          run();
                        }}
                      >
                        <span>{text}</span>
                        {keys ? <Keys keys={keys} /> : null}
                      </Command.Item>
                    ))}
                </Command.Group>
              ))}
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
