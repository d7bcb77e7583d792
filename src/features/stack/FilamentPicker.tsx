import { useEffect, useMemo, useState } from 'react';
import { brightnessOf, HUES, hueOf, type Filament } from '#core/stack/filament.ts';
import { describeBasis, hasWords, wordsOf } from '#core/stack/filament-words.ts';
import { hidingMm, sameColour } from '#core/stack/same-colour.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { SearchField } from '../../ui/SearchField.tsx';
import { usePointing } from '../../ui/use-pointing.ts';
import { Swatch } from '../../ui/Swatch.tsx';
import styles from './FilamentPicker.module.css';

const SORTS = [
  { value: 'brightness', text: 'Brightness' },
  { value: 'hue', text: 'Hue' },
  { value: 'transmission', text: 'Transmission' },
  { value: 'maker', text: 'Maker' },
  { value: 'name', text: 'Name' },
] as const;
type Sort = (typeof SORTS)[number]['value'];

interface FilamentPickerProps {
  readonly title: string;
  readonly rack: readonly Filament[];
  /** The filament that the band has now: others of its colour are offered first. */
  readonly chosenId: string | undefined;
  /** Called while a filament is pointed at or focused, so that it can be shown on the stage; null when none is. */
  readonly onTry: (filament: Filament | null) => void;
  readonly onPick: (filament: Filament) => void;
  readonly onClose: () => void;
  /** What the one that is pointed at would bring. */
  readonly note?: string | undefined;
}

/** Chooses a filament from the rack; what is pointed at is tried out on the stage at once. */
export function FilamentPicker({
  title,
  rack,
  chosenId,
  onTry,
  onPick,
  onClose,
  note,
}: FilamentPickerProps) {
  const [query, setQuery] = useState('');
  const [sort, setSort] = useState<Sort>('brightness');
  const [onHandOnly, setOnHandOnly] = useState(true);
  useEffect(
    () => () => {
      onTry(null);
    },
    // Only when the picker goes away.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [],
  );
  const shown = useMemo(() => {
    const words = wordsOf(query);
    const key: Readonly<Record<Sort, (a: Filament, b: Filament) => number>> = {
      brightness: (a, b) => brightnessOf(a) - brightnessOf(b),
      hue: (a, b) =>
        HUES.indexOf(hueOf(a)) - HUES.indexOf(hueOf(b)) || brightnessOf(a) - brightnessOf(b),
      transmission: (a, b) => hidingMm(a) - hidingMm(b),
      maker: (a, b) => a.maker.localeCompare(b.maker) || a.name.localeCompare(b.name),
      name: (a, b) => a.name.localeCompare(b.name),
    };
    return rack
      .filter((filament) => (filament.onHand || !onHandOnly) && hasWords(filament, words))
      .sort(key[sort]);
  }, [rack, query, sort, onHandOnly]);

  const present = rack.find(({ id }) => id === chosenId);
  const twins = useMemo(
    () =>
      present
        ? sameColour(present, rack).filter(({ filament }) => filament.onHand || !onHandOnly)
        : [],
    [present, rack, onHandOnly],
  );

  return (
    <Dialog
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      title={title}
      place="side"
    >
      <div className={styles.row}>
        <SearchField
          label="Search the rack"
          placeholder="Name, maker, material, note"
          value={query}
          onChange={setQuery}
        />
      </div>
      <div className={styles.row}>
        <SelectField label="Sort by" value={sort} options={SORTS} onChange={setSort} compact />
        <label className={styles.check}>
          <input
            type="checkbox"
            checked={onHandOnly}
            onChange={(event) => {
              setOnHandOnly(event.target.checked);
            }}
          />
          on hand
        </label>
      </div>
      {note === undefined ? null : (
        <p className={styles.note} role="status" data-testid="picker-note">
          {note}
        </p>
      )}
      {present && twins.length > 0 && shown.length > 0 ? (
        <section className={styles.twins} data-testid="same-colour">
          <h3>Same colour as {present.name}, other transmission</h3>
          <ul>
            {twins.map(({ filament, times }) => (
              <Row
                key={filament.id}
                filament={filament}
                note={`${times.toFixed(1)} x as see-through`}
                chosen={false}
                onTry={onTry}
                onPick={onPick}
              />
            ))}
          </ul>
        </section>
      ) : null}
      <ul className={styles.list} data-testid="filament-list">
        {shown.map((filament) => (
          <Row
            key={filament.id}
            filament={filament}
            chosen={filament.id === chosenId}
            onTry={onTry}
            onPick={onPick}
          />
        ))}
      </ul>
      {shown.length === 0 ? (
        <p>
          No filament fits. Use fewer words{onHandOnly ? ', or look at those not on hand too' : ''}.
        </p>
      ) : null}
    </Dialog>
  );
}

interface RowProps {
  readonly filament: Filament;
  readonly chosen: boolean;
  /** What to say about it in place of its maker. */
  readonly note?: string;
  readonly onTry: (filament: Filament | null) => void;
  readonly onPick: (filament: Filament) => void;
}

/** One filament to point at and to pick. */
function Row({ filament, chosen, note, onTry, onPick }: RowProps) {
  const pointing = usePointing((pointed) => {
    onTry(pointed ? filament : null);
  });
  return (
    <li>
      <button
        type="button"
        className={styles.item}
        aria-pressed={chosen}
        data-filament={filament.id}
        {...pointing}
        onClick={() => {
          onPick(filament);
        }}
      >
        <Swatch colour={filament.colour} widthPx={34} />
        <span className={styles.names}>
          <strong>{filament.name}</strong>
          <span>
            {note ?? `${filament.maker}, ${filament.material}`}
            {filament.onHand ? '' : ', not on hand'}
          </span>
        </span>
        <span className={`${styles.facts} figures`}>
          L* {Math.round(brightnessOf(filament))}
          <br />
          {filament.transmissionMm} mm {describeBasis(filament.basis)}
        </span>
      </button>
    </li>
  );
}
