import { useMemo, useState } from 'react';
import { readNamesCsv } from '#core/formats/sheet/names-csv.ts';
import { fieldsOf, fillFields, NUMBER_FIELD, rowOf } from '#core/tags/series.ts';
import { fitScale, LEAST_FIT } from '#core/tags/shapes.ts';
import { decodeText, describeTextFault } from '../../platform/decode-text.ts';
import { describeNamesFault } from '../../platform/tag-words.ts';
import { setSeries, setSeriesPlate, setSeriesSpacing } from '../../state/edits/tag-edits.ts';
import { joinsWhen } from '../../state/document-store.ts';
import { useDocument } from '../../state/project-context.ts';
import type { TagSlice } from '../../state/project-document.ts';
import { faceOfTag, plannedSeriesOf } from '../../state/tag-plan.ts';
import { Button } from '../../ui/Button.tsx';
import { Facts } from '../../ui/Facts.tsx';
import { Note } from '../../ui/Note.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { Panel, PanelHeading } from '../../ui/Panel.tsx';
import { PickFile } from './PickFile.tsx';
import styles from './TagPanel.module.css';
import { useTag } from './use-tag.ts';
import { toast } from '../../ui/toast.ts';
import { useTypedHold } from '../../ui/typed-hold.ts';

/** The Series stop: a list of names, and how their pieces lie on the bed. */
export function SeriesPanel() {
  const tag = useTag();
  const change = useDocument((state) => state.change);
  const document = useDocument((state) => state.document);
  const planned = useMemo(() => plannedSeriesOf(document), [document]);
  const { series } = tag;
  const fields = fieldsOf(tag);
  const columns = series?.columns ?? [];
  const missing = fields.filter(
    (field) =>
      field !== NUMBER_FIELD && !columns.some((name) => name.toLowerCase() === field.toLowerCase()),
  );
  const take = async (file: File): Promise<void> => {
    const text = decodeText(new Uint8Array(await file.arrayBuffer()));
    if (!text.ok) {
      toast.error(`${file.name}: ${describeTextFault(text.fault)}`);
      return;
    }
    const names = readNamesCsv(text.value.text);
    if (!names.ok) {
      toast.error(`${file.name}: ${describeNamesFault(names.fault)}`, { duration: 9000 });
      return;
    }
    const { columns: own, rows } = names.value;
    change(
      setSeries({ columns: own, rows: rows.map((row) => own.map((name) => row[name] ?? '')) }),
    );
  };
  return (
    <Panel className={styles.panel}>
      <div className={styles.top}>
        <PanelHeading>Series</PanelHeading>
      </div>
      <div className={styles.levels}>
        {fields.length === 0 ? (
          <Note>
            No lettering has a field yet. Write {'{name}'} where the name goes, at the Tag stop;{' '}
            {'{#}'} counts the pieces.
          </Note>
        ) : (
          <p>
            Fields in the lettering:{' '}
            <strong>{fields.map((field) => `{${field}}`).join(' ')}</strong>
          </p>
        )}
        <TypedNames field={fields.find((field) => field !== NUMBER_FIELD) ?? 'name'} />
        <div className={styles.offers}>
          <PickFile
            label="Choose a CSV of names"
            accept=".csv,text/csv"
            name="Names as CSV"
            testId="names-file"
            onFile={take}
          />
          {series ? (
            <Button
              onClick={() => {
                change(setSeries(null));
              }}
            >
              One piece alone
            </Button>
          ) : null}
        </div>
        {series && missing.length > 0 ? (
          <Note tone="attention" role="alert" data-testid="missing-fields">
            The lettering asks for {missing.map((field) => `{${field}}`).join(', ')}, which the list
            does not have. It has {columns.join(', ')}.
          </Note>
        ) : null}
      </div>
      {series && planned ? (
        <>
          <div className={styles.levels}>
            <div className={styles.numbers}>
              <NumberField
                label="Plate"
                unit={`of ${planned.plates}`}
                value={planned.plate + 1}
                least={1}
                greatest={planned.plates}
                step={1}
                decimals={0}
                testId="series-plate"
                onChange={(value, repeats) => {
                  change(setSeriesPlate(value - 1), joinsWhen(repeats));
                }}
              />
              <NumberField
                label="Between"
                unit="mm"
                value={series.spacingMm}
                least={0}
                greatest={50}
                step={0.5}
                testId="series-spacing"
                onChange={(value, repeats) => {
                  change(setSeriesSpacing(value), joinsWhen(repeats));
                }}
              />
            </div>
            <div data-testid="series-facts">
              <Facts
                rows={[
                  ['Names', series.rows.length],
                  ['A plate holds', planned.perPlate],
                  ['Plates', planned.plates],
                ]}
              />
            </div>
          </div>
          <Names tag={tag} series={series} planned={planned} />
        </>
      ) : null}
    </Panel>
  );
}

/** Names typed or pasted, one in each line. */
function TypedNames({ field }: { readonly field: string }) {
  const { series } = useTag();
  const change = useDocument((state) => state.change);
  const hold = useTypedHold();
  const [draft, setDraft] = useState<string | null>(null);
  // A list of one column is the text itself; a table comes from a file.
  const own = series?.columns.length === 1 ? series.rows.map(([name]) => name).join('\n') : '';
  if (series && series.columns.length > 1) return null;
  const take = (typed: string): void => {
    const rows = typed
      .split('\n')
      .map((name) => name.trim())
      .filter((name) => name !== '');
    change(
      setSeries(rows.length > 0 ? { columns: [field], rows: rows.map((name) => [name]) } : null),
    );
  };
  const commit = (): void => {
    hold(null);
    if (draft === null || draft === own) return;
    take(draft);
    setDraft(null);
  };
  return (
    <textarea
      className={styles.text}
      aria-label={`Names for {${field}}, one in each line`}
      placeholder="One name in each line"
      rows={6}
      value={draft ?? own}
      data-testid="typed-names"
      onChange={(event) => {
        const typed = event.target.value;
        setDraft(typed);
        hold(() => {
          take(typed);
        });
      }}
      onBlur={commit}
    />
  );
}

/** Each name with what becomes of its lettering. */
function Names({
  tag,
  series,
  planned,
}: {
  readonly tag: TagSlice;
  readonly series: NonNullable<TagSlice['series']>;
  readonly planned: NonNullable<ReturnType<typeof plannedSeriesOf>>;
}) {
  const told = useMemo(
    () => series.rows.map((_, i) => statusOf(tag, series, planned, i)),
    [tag, series, planned],
  );
  return (
    <ol className={styles.names} data-testid="names">
      {series.rows.map((row, i) => (
        <li key={i} data-plate={Math.floor(i / planned.perPlate) === planned.plate}>
          <span className="figures">{i + 1}</span>
          <span>{row.join(', ')}</span>
          <span>{told[i]}</span>
        </li>
      ))}
    </ol>
  );
}

function statusOf(
  tag: TagSlice,
  series: NonNullable<TagSlice['series']>,
  planned: NonNullable<ReturnType<typeof plannedSeriesOf>>,
  index: number,
): string {
  const filled = fillFields(tag, rowOf(series, index), index + 1);
  let least = 1;
  for (const element of filled.elements) {
    const face = element.kind === 'text' ? faceOfTag(element.face) : undefined;
    if (element.kind === 'text' && face) least = Math.min(least, fitScale(element, face));
  }
  const missing = planned.pieces[index]?.shapes.flatMap((shape) => shape.missing ?? []) ?? [];
  if (missing.length > 0) return `no ${missing.join(' ')} in the face`;
  if (least <= LEAST_FIT) return 'does not fit';
  return least < 1
    ? `set at ${Math.round(100 * least)} %`
    : `plate ${Math.floor(index / planned.perPlate) + 1}`;
}
