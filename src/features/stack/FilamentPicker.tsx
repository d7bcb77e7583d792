import { useEffect, useMemo, useState } from 'react';
import { formatBasis } from '#core/formats/rack-csv.ts';
import { brightnessOf, type Filament } from '#core/stack/filament.ts';

import { Choice } from '../../ui/Choice.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { SearchField } from '../../ui/SearchField.tsx';
import styles from './FilamentPicker.module.css';

const SORTS = [
  { value: 'brightness', text: 'Brightness' },
  { value: 'transmission', text: 'Transmission' },
  { value: 'name', text: 'Name' },
] as const;
type Sort = (typeof SORTS)[number]['value'];

interface FilamentPickerProps {
  readonly title: string;
  readonly rack: readonly Filament[];
  readonly chosenId: string | undefined;
  /** Called while a filament is pointed at or focused, so that it can be shown on the stage; null when none is. */
  readonly onTry: (filament: Filament | null) => void;
  readonly onPick: (filament: Filament) => void;
  readonly onClose: () => void;
}

/** Does a filament answer to all words typed? */
function matches(filament: Filament, words: readonly string[]): boolean {
  const text =
    `${filament.name} ${filament.maker} ${filament.material} ${filament.note} ${filament.colour}`.toLowerCase();
  return words.every((word) => text.includes(word));
}

/** Chooses a filament from the rack; what is pointed at is tried out on the stage at once. */
export function FilamentPicker({
  title,
  rack,
  chosenId,
  onTry,
  onPick,
  onClose,
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
    const words = query.toLowerCase().split(/\s+/).filter(Boolean);
    const key: Readonly<Record<Sort, (a: Filament, b: Filament) => number>> = {
      brightness: (a, b) => brightnessOf(a) - brightnessOf(b),
      transmission: (a, b) => a.transmissionMm - b.transmissionMm,
      name: (a, b) => a.name.localeCompare(b.name),
    };
    return rack
      .filter((filament) => (filament.onHand || !onHandOnly) && matches(filament, words))
      .sort(key[sort]);
  }, [rack, query, sort, onHandOnly]);

  return (
    <Dialog
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      title={title}
      place="side"
    >
      <SearchField
        label="Search the rack"
        placeholder="Name, maker, material, note"
        value={query}
        onChange={setQuery}
      />
      <div className={styles.row}>
        <Choice label="Sort by" value={sort} options={SORTS} onChange={setSort} />
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
      <ul className={styles.list} data-testid="filament-list">
        {shown.map((filament) => (
          <li key={filament.id}>
            <button
              type="button"
              className={styles.item}
              aria-pressed={filament.id === chosenId}
              data-filament={filament.id}
              onMouseEnter={() => {
                onTry(filament);
              }}
              onMouseLeave={() => {
                onTry(null);
              }}
              onFocus={() => {
                onTry(filament);
              }}
              onBlur={() => {
                onTry(null);
              }}
              onClick={() => {
                onPick(filament);
              }}
            >
              <span className={styles.swatch} style={{ background: filament.colour }} />
              <span className={styles.names}>
                <strong>{filament.name}</strong>
                <span>
                  {filament.maker}, {filament.material}
                  {filament.onHand ? '' : ', not on hand'}
                </span>
              </span>
              <span className={`${styles.facts} figures`}>
                L* {Math.round(brightnessOf(filament))}
                <br />
                {filament.transmissionMm} mm {formatBasis(filament.basis)}
              </span>
            </button>
          </li>
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
