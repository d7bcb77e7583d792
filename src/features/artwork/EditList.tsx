import { ArrowDown, ArrowUp, Clipboard, Copy, Ellipsis, Trash2 } from 'lucide-react';
import {
  copyPictureEdit,
  movePictureEdit,
  removePictureEdit,
  switchPictureEdit,
} from '../../state/edits/picture-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import type { KeptEdit } from '../../state/project-document.ts';
import { setDesk } from '../../state/view-store.ts';
import { Menu } from '../../ui/Menu.tsx';
import { Sortable, useSortableRow } from '../../ui/Sortable.tsx';
import styles from './ArtworkPanel.module.css';
import { keepForOthers } from './copied-edits.ts';
import { EDIT_NAMES, summaryOf } from './edit-words.ts';
import { EditSettings } from './EditSettings.tsx';
import { useDesk } from './use-artwork.ts';

/** The edits in their order; each can be dragged, switched off, opened. */
export function EditList() {
  const edits = useDocument((state) => state.document.artwork.edits);
  const change = useDocument((state) => state.change);
  return (
    <Sortable
      ids={edits.map(({ id }) => id)}
      onMove={(id, over) => {
        change(
          movePictureEdit(
            id,
            edits.findIndex((one) => one.id === over),
          ),
        );
      }}
    >
      <ol className={styles.list} data-testid="edits">
        {edits.map((edit, i) => (
          <EditRow key={edit.id} edit={edit} place={i} last={edits.length - 1} />
        ))}
      </ol>
    </Sortable>
  );
}

interface EditRowProps {
  readonly edit: KeptEdit;
  readonly place: number;
  readonly last: number;
}

function EditRow({ edit, place, last }: EditRowProps) {
  const { documents, views } = useProject();
  const change = useDocument((state) => state.change);
  const selection = useDocument((state) =>
    state.document.artwork.selections.find(({ id }) => id === edit.mask),
  );
  const { openEdit } = useDesk();
  const name = EDIT_NAMES[edit.kind];
  const { ref, style, isDragging, grip } = useSortableRow(edit.id, 'edit', name, styles.grip);
  const open = openEdit === edit.id;
  const move = (to: number): void => {
    change(movePictureEdit(edit.id, to));
  };
  return (
    <li
      ref={ref}
      className={styles.edit}
      style={style}
      data-open={open}
      data-dragging={isDragging}
      data-kind={edit.kind}
      data-testid="edit"
    >
      <div className={styles.editHead}>
        {grip}
        <input
          type="checkbox"
          checked={edit.on}
          aria-label={`${name} is on`}
          onChange={(event) => {
            change(switchPictureEdit(edit.id, event.target.checked));
          }}
        />
        <button
          type="button"
          className={styles.editName}
          aria-expanded={open}
          data-off={!edit.on}
          onClick={() => {
            setDesk(views, {
              openEdit: open ? null : edit.id,
              tool: !open && edit.kind === 'crop' ? 'crop' : null,
              showTouched: false,
            });
          }}
        >
          <span>{name}</span>
          <span className={`${styles.summary} figures`}>{edit.on ? summaryOf(edit) : 'off'}</span>
        </button>
        {selection ? (
          <button
            type="button"
            className={styles.chip}
            title="Show this selection"
            onClick={() => {
              setDesk(views, { selection: selection.id });
            }}
          >
            {selection.name}
          </button>
        ) : null}
        <Menu
          label={`More for ${name}`}
          trigger={<Ellipsis size={16} aria-hidden />}
          items={() => [
            {
              text: 'Duplicate',
              icon: <Copy size={15} aria-hidden />,
              onSelect: () => {
                change(copyPictureEdit(edit.id, crypto.randomUUID()));
              },
            },
            ...(place > 0
              ? [
                  {
                    text: 'Earlier',
                    icon: <ArrowUp size={15} aria-hidden />,
                    onSelect: () => {
                      move(place - 1);
                    },
                  },
                ]
              : []),
            ...(place < last
              ? [
                  {
                    text: 'Later',
                    icon: <ArrowDown size={15} aria-hidden />,
                    onSelect: () => {
                      move(place + 1);
                    },
                  },
                ]
              : []),
            {
              text: 'Copy for another project',
              icon: <Clipboard size={15} aria-hidden />,
              onSelect: () => {
                keepForOthers(documents.getState().document.artwork, [edit.id]);
              },
            },
            {
              text: 'Remove',
              icon: <Trash2 size={15} aria-hidden />,
              onSelect: () => {
                change(removePictureEdit(edit.id));
              },
            },
          ]}
        />
      </div>
      {open ? <EditSettings edit={edit} /> : null}
    </li>
  );
}
