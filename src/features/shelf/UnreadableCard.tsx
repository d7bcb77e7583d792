import { CircleAlert, Download, Trash2 } from 'lucide-react';
import { Button } from '../../ui/Button.tsx';
import styles from './Shelf.module.css';

interface UnreadableCardProps {
  readonly name: string;
  readonly onDownload: () => void;
  readonly onDelete: () => void;
}

/** A project that is stored and cannot be read: it is never hidden, and can be taken elsewhere. */
export function UnreadableCard({ name, onDownload, onDelete }: UnreadableCardProps) {
  return (
    <li className={styles.card} data-testid="unreadable-card" data-name={name}>
      <p className={styles.unreadable}>
        <CircleAlert size={18} aria-hidden />
        <span>
          This project cannot be read: it is damaged, or was made by a later version of the app. It
          stays here as it is. Download it to open it there.
        </span>
      </p>
      <div className={styles.caption}>
        <strong className={styles.name}>{name}</strong>
        <span className={styles.unreadableTools}>
          <Button icon={<Download size={15} aria-hidden />} onClick={onDownload}>
            Download
          </Button>
          <Button
            look="quiet"
            icon={<Trash2 size={15} aria-hidden />}
            aria-label={`Delete ${name}`}
            onClick={onDelete}
          />
        </span>
      </div>
    </li>
  );
}
