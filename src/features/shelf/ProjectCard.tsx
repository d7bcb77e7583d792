import { formatDistanceToNow } from 'date-fns';
import { Copy, Ellipsis, Pencil, Trash2 } from 'lucide-react';
import { useState } from 'react';
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

/** A saved project on the shelf. */
export function ProjectCard({
  project,
  onOpen,
  onRename,
  onDuplicate,
  onDelete,
}: ProjectCardProps) {
  const { document, thumbnail, changedAt } = project;
  const [naming, setNaming] = useState(false);
  const url = useBlobUrl(thumbnail);
  const finish = (name: string): void => {
    setNaming(false);
    if (name.trim() !== '' && name.trim() !== document.name) onRename(name.trim().slice(0, 120));
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
        {naming ? (
          <input
            className={styles.rename}
            aria-label="Name of the project"
            defaultValue={document.name}
            autoFocus
            onFocus={(event) => {
              event.target.select();
            }}
            onBlur={(event) => {
              finish(event.target.value);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter') finish(event.currentTarget.value);
              if (event.key === 'Escape') setNaming(false);
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
                  setNaming(true);
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
