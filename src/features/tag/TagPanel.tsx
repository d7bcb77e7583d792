import { useEffect, useMemo, useState, type ComponentType } from 'react';
import type { Filament } from '#core/stack/filament.ts';
import { isColoured } from '#core/tags/tag.ts';
import { moveElement, setElementFilament, setPlateFilament } from '../../state/edits/tag-edits.ts';
import { useDocument, useLive, useProject, useView } from '../../state/project-context.ts';
import { plannedTagOf } from '../../state/tag-plan.ts';
import { documentOfSide, hasOwnBack, sideAtHand } from '../../state/tag-side.ts';
import { PLATE, selectElements } from '../../state/view-store.ts';
import { Choice } from '../../ui/Choice.tsx';
import { Note } from '../../ui/Note.tsx';
import { Panel, PanelHeading } from '../../ui/Panel.tsx';
import { Sortable } from '../../ui/Sortable.tsx';
import { ElementRow, PlateRow } from './ElementRow.tsx';
import { Levels } from './Levels.tsx';
import styles from './TagPanel.module.css';
import { TagSection } from './TagSection.tsx';
import { swapWords } from './tag-words.ts';
import { usePlannedTag, useTag } from './use-tag.ts';

/** Chooses a filament; what is pointed at is tried out at once. */
export type FilamentChooser = ComponentType<{
  readonly title: string;
  readonly rack: readonly Filament[];
  readonly chosenId: string | undefined;
  readonly onTry: (filament: Filament | null) => void;
  readonly onPick: (filament: Filament) => void;
  readonly onClose: () => void;
  readonly note?: string | undefined;
}>;

/** The Tag stop: its elements, front first, and the bands that follow. */
export function TagPanel({ Chooser }: { readonly Chooser: FilamentChooser }) {
  const { rack, documents, live, views } = useProject();
  const tag = useTag();
  const change = useDocument((state) => state.change);
  const filaments = useDocument((state) => state.document.stack.filaments);
  const { swaps } = usePlannedTag();
  const { selected, side: wished } = useView((state) => state.tagDesk);
  const side = sideAtHand(tag, wished);
  const checked = useLive((state) => state.checked);
  /** Of what a filament is being chosen: elements, or the plate. */
  const [choosing, setChoosing] = useState<readonly string[] | null>(null);
  const [tried, setTried] = useState<{ name: string; swaps: number } | null>(null);
  // Elements are put on one piece, however many there will be.
  useEffect(() => {
    live.through((document) => documentOfSide(document, side));
    return () => {
      live.through(null);
    };
  }, [live, side]);
  const front = useMemo(
    () => tag.elements.filter((one) => !isColoured(one) || one.side === side).reverse(),
    [tag.elements, side],
  );
  const known = useMemo(() => withUsed(rack, Object.values(filaments)), [rack, filaments]);
  const editOf = (ids: readonly string[], filament: Filament) =>
    ids.includes(PLATE) ? setPlateFilament(filament) : setElementFilament(ids, filament);
  const first = tag.elements.find(({ id }) => choosing?.includes(id));
  const chosenId = choosing?.includes(PLATE)
    ? tag.plate.filamentId
    : first && 'filamentId' in first
      ? first.filamentId
      : undefined;
  return (
    <Panel className={styles.panel}>
      {choosing ? (
        <>
          <Chooser
            title={choosing.includes(PLATE) ? 'Filament of the plate' : 'Filament of the element'}
            rack={known}
            chosenId={chosenId}
            onTry={(filament) => {
              const { document } = documents.getState();
              const shown = filament ? editOf(choosing, filament)(document) : null;
              live.preview(shown);
              setTried(
                filament && shown
                  ? { name: filament.name, swaps: plannedTagOf(shown)?.swaps ?? 0 }
                  : null,
              );
            }}
            onPick={(filament) => {
              change(editOf(choosing, filament));
              setChoosing(null);
            }}
            onClose={() => {
              setChoosing(null);
            }}
            note={
              tried ? `With ${tried.name}: ${swapWords(tried.swaps)}` : `Now: ${swapWords(swaps)}`
            }
          />
        </>
      ) : null}
      <div className={styles.top}>
        <PanelHeading>Elements, front first</PanelHeading>
        {hasOwnBack(tag) ? (
          <Choice
            label="Side"
            value={side}
            options={[
              { value: 'front', text: 'Front' },
              { value: 'back', text: 'Back' },
            ]}
            onChange={(next) => {
              selectElements(views, []);
              views.setState(({ tagDesk }) => ({ tagDesk: { ...tagDesk, side: next } }));
            }}
          />
        ) : null}
      </div>
      <Sortable
        ids={front.map(({ id }) => id)}
        onMove={(id, over) => {
          change(
            moveElement(
              id,
              tag.elements.findIndex((one) => one.id === over),
            ),
          );
        }}
      >
        <ol className={styles.list} data-testid="elements">
          {front.map((element) => (
            <ElementRow
              key={element.id}
              element={element}
              open={selected.length === 1 && selected[0] === element.id}
              problems={(checked?.of.elements === tag.elements ? checked.problems : []).filter(
                ({ element: i }) => tag.elements[i]?.id === element.id,
              )}
              onChoose={(ids) => {
                setChoosing(ids);
              }}
            />
          ))}
          <PlateRow
            open={selected.includes(PLATE)}
            onChoose={() => {
              setChoosing([PLATE]);
            }}
          />
        </ol>
      </Sortable>
      {front.length === 0 ? (
        <Note>Put lettering, shapes and a hole on it with the tools below the picture.</Note>
      ) : null}
      <Levels
        onSelect={(id) => {
          selectElements(views, [id]);
        }}
      />
      <TagSection />
    </Panel>
  );
}

/** The rack, and what the tag uses that is not in it any more. */
function withUsed(rack: readonly Filament[], used: readonly Filament[]): readonly Filament[] {
  return [...rack, ...used.filter(({ id }) => !rack.some((one) => one.id === id))];
}
