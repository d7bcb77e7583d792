import { format } from 'date-fns';
import { Columns2, Pencil, RotateCcw, Trash2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { bandLetter, totalLayers } from '#core/stack/stack.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { useDocument, useProject, useVersions } from '../../state/project-context.ts';
import {
  changeVersion,
  keepVersion,
  MOST_VERSIONS,
  type NamedVersion,
} from '../../state/versions.ts';
import { goBackTo } from '../../state/edits/project-edits.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { TextField } from '../../ui/Fields.tsx';
import { useBlobUrl } from '../../ui/use-blob-url.ts';
import styles from './Versions.module.css';

interface VersionsDialogProps {
  /** Makes the small picture of a state's print; null where it cannot be made. */
  readonly onThumbnail: (document: ProjectDocument) => Promise<Blob | null>;
  readonly onClose: () => void;
}

/** States of the project under names of the maker's own: kept, looked at, compared and gone back to. */
export function VersionsDialog({ onThumbnail, onClose }: VersionsDialogProps) {
  const { versions: store, documents, views } = useProject();
  const versions = useVersions();
  const change = useDocument((state) => state.change);
  const [name, setName] = useState('');
  const [told, setTold] = useState('');
  /** The version whose name is being typed, as it was before. */
  const [named, setNamed] = useState<Pick<NamedVersion, 'id' | 'name'> | null>(null);
  useMissingThumbnails(onThumbnail);

  const keep = async (): Promise<void> => {
    const wanted = name.trim() || `Version ${versions.length + 1}`;
    const { document } = documents.getState();
    const thumbnail = await onThumbnail(document);
    const kept = keepVersion(store, {
      id: crypto.randomUUID(),
      name: wanted,
      createdAt: Date.now(),
      document,
      thumbnail,
    });
    setTold(
      kept
        ? `${wanted} is kept`
        : `There are ${MOST_VERSIONS} versions already. Delete one that is not needed any more.`,
    );
    if (kept) setName('');
  };
  const goBack = (version: NamedVersion): void => {
    change(goBackTo(version));
    onClose();
  };
  const compare = (version: NamedVersion): void => {
    views.setState({ view: 'wipe', sides: [{ versionId: version.id }, 'print'] });
    onClose();
  };
  const rename = (id: string, next: string): void => {
    changeVersion(store, id, (before) => ({ ...before, name: next }));
  };

  return (
    <Dialog
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      onEscape={() => {
        // The name goes back to what it was, and the dialog stays.
        if (named) rename(named.id, named.name);
        setNamed(null);
        return named !== null;
      }}
      title="Versions"
      description="A version keeps everything as it is now, under a name. Going back to one is a step that can be undone."
      place="large"
    >
      <form
        className={styles.keep}
        onSubmit={(event) => {
          event.preventDefault();
          void keep();
        }}
      >
        <TextField
          label="Name"
          autoFocus
          placeholder="Before I tried the other grey"
          maxLength={80}
          value={name}
          onChange={(event) => {
            setName(event.target.value);
          }}
        />
        <Button look="main" type="submit">
          Keep this version
        </Button>
      </form>
      <p role="status" className={styles.told}>
        {told}
      </p>
      <ul className={styles.list} data-testid="versions">
        {[...versions].reverse().map((version) => (
          <VersionRow
            key={version.id}
            version={version}
            onCompare={compare}
            onGoBack={goBack}
            renaming={named?.id === version.id ? named.name : null}
            onNaming={(begins) => {
              setNamed(begins ? version : null);
            }}
            onRename={(next) => {
              rename(version.id, next);
            }}
            onDelete={() => {
              const { sides } = views.getState();
              const gone = sides.some(
                (side) => typeof side === 'object' && side.versionId === version.id,
              );
              if (gone) views.setState({ sides: ['artwork', 'print'] });
              changeVersion(store, version.id, () => null);
              setTold(`${version.name} is deleted`);
            }}
          />
        ))}
      </ul>
      {versions.length === 0 ? <p className={styles.told}>No version yet.</p> : null}
    </Dialog>
  );
}

/** Makes the pictures of versions that came without one, as those of files do; one at a time, while they are looked at. */
function useMissingThumbnails(make: VersionsDialogProps['onThumbnail']): void {
  const { versions: store } = useProject();
  useEffect(() => {
    let gone = false;
    const all = async (): Promise<void> => {
      for (const { id, document } of store
        .getState()
        .versions.filter((one) => one.thumbnail === null)) {
        const thumbnail = await make(document);
        if (gone) return;
        if (thumbnail) changeVersion(store, id, (version) => ({ ...version, thumbnail }));
      }
    };
    void all();
    return () => {
      gone = true;
    };
  }, [store, make]);
}

interface VersionRowProps {
  readonly version: NamedVersion;
  readonly onCompare: (version: NamedVersion) => void;
  readonly onGoBack: (version: NamedVersion) => void;
  /** The name that it had before another one is typed; null while none is. */
  readonly renaming: string | null;
  readonly onNaming: (begins: boolean) => void;
  readonly onRename: (name: string) => void;
  readonly onDelete: () => void;
}

function VersionRow({
  version,
  renaming,
  onNaming,
  onCompare,
  onGoBack,
  onRename,
  onDelete,
}: VersionRowProps) {
  const url = useBlobUrl(version.thumbnail);
  const {
    stack: { bands },
  } = version.document;
  return (
    <li className={styles.version} data-testid="version">
      <span className={styles.thumb}>{url ? <img src={url} alt="" /> : null}</span>
      <span className={styles.names}>
        {renaming !== null ? (
          <TextField
            label={`New name of ${renaming}`}
            defaultValue={version.name}
            maxLength={80}
            autoFocus
            onChange={(event) => {
              // Kept while it is typed, so that it is saved like any other change.
              const next = event.target.value.trim();
              if (next) onRename(next);
            }}
            onBlur={() => {
              onNaming(false);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter') event.currentTarget.blur();
            }}
          />
        ) : (
          <strong>{version.name}</strong>
        )}
        <span className="figures">
          {format(version.createdAt, 'yyyy-MM-dd HH:mm')}, {totalLayers(bands)} layers, bands A to{' '}
          {bandLetter(bands.length - 1)}
        </span>
      </span>
      <Button
        icon={<Columns2 size={15} aria-hidden />}
        aria-label={`Compare ${version.name} on the wipe`}
        onClick={() => {
          onCompare(version);
        }}
      >
        Compare
      </Button>
      <Button
        icon={<RotateCcw size={15} aria-hidden />}
        aria-label={`Go back to ${version.name}`}
        onClick={() => {
          onGoBack(version);
        }}
      >
        Go back
      </Button>
      <Button
        look="quiet"
        icon={<Pencil size={15} aria-hidden />}
        aria-label={`Rename ${version.name}`}
        onClick={() => {
          onNaming(true);
        }}
      />
      <Button
        look="quiet"
        icon={<Trash2 size={15} aria-hidden />}
        aria-label={`Delete ${version.name}`}
        onClick={onDelete}
      />
    </li>
  );
}
