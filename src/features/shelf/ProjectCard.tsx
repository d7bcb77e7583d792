import { formatDistanceToNow } from 'date-fns';
import { Copy, Ellipsis, Pencil, Trash2 } from 'lucide-react';
import { useRef, useState } from 'react';
import { totalLayers } from '#core/stack/stack.ts';
import type { ShelvedProject } from '../../state/library.ts';
import { Menu } from '../../ui/Menu.tsx';
import { useBlobUrl } from '../../ui/use-blob-url.ts';
import styles from './Shelf.module.css';

interface ProjectCardProps {
  readonly project: ShelvedProject;
  readonly onOpen: () => void;
  readonly onRename: (name: string) => void;
  readonly onDuplicate: () => void;
  readonly onDelete: () => void;
}

/** Rest after a key before the typed name is kept, ms. */
const TYPING_REST_MS = 500;

/** A saved project on the shelf. */
export function ProjectCard({
  project,
  onOpen,
  onRename,
  onDuplicate,
  onDelete,
}: ProjectCardProps) {
  const { document, thumbnail, changedAt } = project;
  /** The name that it had before another one is typed; null while none is. */
  const [naming, setNaming] = useState<string | null>(null);
  const typing = useRef<ReturnType<typeof setTimeout>>(undefined);
  const url = useBlobUrl(thumbnail);
  const take = (name: string): void => {
    clearTimeout(typing.current);
    if (name.trim() !== '' && name.trim() !== document.name) onRename(name.trim().slice(0, 120));
  };
  const finish = (name: string): void => {
    setNaming(null);
    take(name);
  };
  return (
    <li className={styles.card} data-testid="project-card" data-name={document.name}>
      <button
        type="button"
        className={styles.open}
        onClick={onOpen}
        aria-label={`Open ${document.name}`}
      >
        {url ? (
          <img className={styles.thumb} src={url} alt="" />
        ) : (
          <span className={styles.thumb} />
        )}
      </button>
      <div className={styles.caption}>
        {naming !== null ? (
          <input
            className={styles.rename}
            aria-label="Name of the project"
            defaultValue={naming}
            autoFocus
            onFocus={(event) => {
              event.target.select();
            }}
            onChange={(event) => {
              // A name that is being typed is kept after a short rest: nobody knows when the page goes.
              const typed = event.target.value;
              clearTimeout(typing.current);
              typing.current = setTimeout(() => {
                take(typed);
              }, TYPING_REST_MS);
            }}
            onBlur={(event) => {
              finish(event.target.value);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter') finish(event.currentTarget.value);
              if (event.key === 'Escape') finish(naming);
            }}
          />
        ) : (
          <strong className={styles.name}>{document.name}</strong>
        )}
        <Menu
          label={`${document.name}: more`}
          trigger={<Ellipsis size={16} aria-hidden />}
          items={() => [
            {
              text: 'Rename',
              icon: <Pencil size={15} aria-hidden />,
              onSelect: () => {
                // After the menu has given the focus back.
                setTimeout(() => {
                  setNaming(document.name);
                }, 0);
              },
            },
            { text: 'Duplicate', icon: <Copy size={15} aria-hidden />, onSelect: onDuplicate },
            { text: 'Delete', icon: <Trash2 size={15} aria-hidden />, onSelect: onDelete },
          ]}
        />
        <span className={styles.facts}>
          {document.stack.bands.length} filaments, {totalLayers(document.stack.bands)} layers,
          changed {formatDistanceToNow(changedAt, { addSuffix: true })}
        </span>
      </div>
    </li>
  );
}
