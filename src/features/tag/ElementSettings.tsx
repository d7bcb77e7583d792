import { MAX_LAYERS } from '#core/base/raster.ts';
import { OUTLINE_KINDS } from '#core/tags/outline-kinds.ts';
import { ELEMENT_WAYS, isColoured, isPlaced, type ElementWay } from '#core/tags/tag.ts';
import { faceName, SHIPPED_FACES, takeFace } from '../../platform/faces.ts';
import { describeFontFault } from '../../platform/tag-words.ts';
import { joinsWhen } from '../../state/document-store.ts';
import {
  patchElement,
  setFlush,
  setOwnFont,
  type ElementPatch,
} from '../../state/edits/tag-edits.ts';
import { keepData } from '../../state/kept-data.ts';
import { useDocument, useLive } from '../../state/project-context.ts';
import type { KeptElement } from '../../state/project-document.ts';
import { LONGEST_LETTERING, MOST_FLUSH_LAYERS, TAG_LIMITS } from '#core/tags/tag-limits.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { PickFile } from './PickFile.tsx';
import { FORM_NAMES, mm } from './tag-words.ts';
import styles from './TagPanel.module.css';
import { useLevelWords, useTag } from './use-tag.ts';
import { toast } from '../../ui/toast.ts';

interface ElementSettingsProps {
  readonly element: KeptElement;
  readonly onChoose: () => void;
}

/** A number of an element: its field, label, step and limits. */
type NumberOf = readonly [
  key: Exclude<
    keyof ElementPatch,
    'name' | 'text' | 'face' | 'mirrored' | 'way' | 'side' | 'outline'
  >,
  label: string,
  unit: string | undefined,
  limits: readonly [number, number],
  step: number,
];

const NUMBERS: Readonly<Record<KeptElement['kind'], readonly NumberOf[]>> = {
  text: [
    ['heightMm', 'Capitals', 'mm', TAG_LIMITS.heightMm, 0.5],
    ['tracking', 'Tracking', '‰', TAG_LIMITS.tracking, 10],
    ['lineSpacing', 'Lines', 'em', TAG_LIMITS.lineSpacing, 0.05],
    ['arcMm', 'Arc', 'mm', TAG_LIMITS.arcMm, 1],
    ['fitMm', 'Widest', 'mm', [0, 400], 1],
  ],
  shape: [],
  rim: [
    ['widthMm', 'Width', 'mm', TAG_LIMITS.widthMm, 0.1],
    ['insetMm', 'From the edge', 'mm', [0, 100], 0.1],
  ],
  hole: [
    ['diameterMm', 'Diameter', 'mm', TAG_LIMITS.holeMm, 0.5],
    ['lengthMm', 'Length', 'mm', TAG_LIMITS.holeMm, 0.5],
  ],
  loop: [
    ['diameterMm', 'Hole', 'mm', TAG_LIMITS.holeMm, 0.5],
    ['rimMm', 'Ring', 'mm', TAG_LIMITS.widthMm, 0.1],
  ],
};

const PLACES: readonly NumberOf[] = [
  ['xMm', 'Right', 'mm', TAG_LIMITS.placeMm, 0.5],
  ['yMm', 'Up', 'mm', TAG_LIMITS.placeMm, 0.5],
  ['turnDeg', 'Turned', '°', TAG_LIMITS.turnDeg, 1],
];

/** The settings of one element. */
export function ElementSettings({ element, onChoose }: ElementSettingsProps) {
  const change = useDocument((state) => state.change);
  const { fonts } = useTag();
  const figures = useLive((state) => state.checked?.figures.get(element.id));
  const patch = (values: ElementPatch, repeats = false): void => {
    change(patchElement(element.id, values), joinsWhen(repeats));
  };
  const number = ([key, label, unit, [least, greatest], step]: NumberOf) => (
    <NumberField
      key={key}
      label={label}
      {...(unit === undefined ? {} : { unit })}
      value={(element as unknown as Record<string, number>)[key] ?? 0}
      least={least}
      greatest={greatest}
      step={step}
      testId={`element-${key}`}
      onChange={(value, repeats) => {
        patch({ [key]: value }, repeats);
      }}
    />
  );
  return (
    <div className={styles.settings} data-testid="element-settings">
      {element.kind === 'text' ? (
        <>
          <textarea
            className={styles.text}
            aria-label="Lettering"
            rows={Math.min(4, element.text.split('\n').length)}
            maxLength={LONGEST_LETTERING}
            value={element.text}
            data-testid="element-text"
            onChange={(event) => {
              change(patchElement(element.id, { text: event.target.value }), { withinMs: 1500 });
            }}
          />
          <SelectField
            label="Face"
            value={element.face}
            testId="element-face"
            options={[
              ...SHIPPED_FACES.map((face) => ({ value: face.id, text: faceName(face) })),
              ...fonts.map(({ id, name }) => ({ value: id, text: name })),
            ]}
            onChange={(face) => {
              patch({ face });
            }}
          />
          <PickFile
            label="Own font file"
            accept=".ttf,.otf,.woff"
            name="Font file"
            testId="font-file"
            onFile={async (file) => {
              const bytes = new Uint8Array(await file.arrayBuffer());
              const id = keepData(bytes);
              const taken = takeFace(id, [bytes]);
              if (taken.ok)
                change(setOwnFont(element.id, { id, name: file.name.replace(/\.\w+$/, '') }));
              else
                toast.error(`${file.name}: ${describeFontFault(taken.fault)}`, { duration: 9000 });
            }}
          />
        </>
      ) : null}
      {element.kind === 'shape' ? (
        <>
          <SelectField
            label="Form"
            value={element.outline.kind}
            testId="element-form"
            options={OUTLINE_KINDS.filter(
              (kind) => kind !== 'path' || element.outline.path !== undefined,
            ).map((value) => ({ value, text: FORM_NAMES[value] }))}
            onChange={(kind) => {
              patch({ outline: { kind } });
            }}
          />
          <div className={styles.numbers}>
            {(['widthMm', 'heightMm', 'cornerMm'] as const)
              .filter((key) => key !== 'cornerMm' || element.outline.kind === 'rounded')
              .map((key) => (
                <NumberField
                  key={key}
                  label={{ widthMm: 'Width', heightMm: 'Height', cornerMm: 'Corners' }[key]}
                  unit="mm"
                  value={element.outline[key]}
                  least={key === 'cornerMm' ? 0 : TAG_LIMITS.sideMm[0]}
                  greatest={TAG_LIMITS.sideMm[1]}
                  step={0.5}
                  testId={`element-${key}`}
                  onChange={(value, repeats) => {
                    patch({ outline: { [key]: value } }, repeats);
                  }}
                />
              ))}
          </div>
        </>
      ) : null}
      <div className={styles.numbers}>
        {NUMBERS[element.kind].map(number)}
        {isPlaced(element) ? PLACES.map(number) : null}
      </div>
      {figures ? (
        <p className={`${styles.figures} figures`} data-testid="element-figures">
          {figures.widthMm.toFixed(1)} x {mm(figures.heightMm, 1)}
          {figures.strokeMm === null ? '' : `, thinnest stroke ${mm(figures.strokeMm)}`}
          {figures.gapMm === null ? '' : `, thinnest gap ${mm(figures.gapMm)}`}
        </p>
      ) : null}
      {isColoured(element) ? <ColourSettings element={element} onChoose={onChoose} /> : null}
    </div>
  );
}

const WAY_WORDS: Readonly<Record<ElementWay, string>> = {
  raised: 'raised',
  sunk: 'sunk',
  flush: 'flush',
};

/** In which layers an element lies, and in which filament. */
function ColourSettings({
  element,
  onChoose,
}: {
  readonly element: Extract<KeptElement, { readonly filamentId: string }>;
  readonly onChoose: () => void;
}) {
  const { levels, flush } = useTag();
  const change = useDocument((state) => state.change);
  const filament = useDocument((state) => state.document.stack.filaments[element.filamentId]);
  const words = useLevelWords();
  const own = levels === 'own';
  return (
    <>
      <Choice
        label="How it lies"
        value={element.way}
        options={ELEMENT_WAYS.map((value) => ({ value, text: WAY_WORDS[value] }))}
        onChange={(way) => {
          change(patchElement(element.id, { way }));
        }}
      />
      {element.way === 'flush' ? (
        <NumberField
          label="Inlays"
          unit={`layers, ${words(flush.layers)}`}
          value={flush.layers}
          least={1}
          greatest={MOST_FLUSH_LAYERS}
          step={1}
          decimals={0}
          testId="flush-layers"
          onChange={(value, repeats) => {
            change(setFlush({ layers: value }), joinsWhen(repeats));
          }}
        />
      ) : (
        <NumberField
          label={own ? 'Level' : 'Own layers'}
          unit={`layers, ${words(own ? element.level : element.layers)}`}
          value={own ? element.level : element.layers}
          least={1}
          greatest={MAX_LAYERS}
          step={1}
          decimals={0}
          testId="element-layers"
          onChange={(value, repeats) => {
            change(
              patchElement(element.id, own ? { level: value } : { layers: value }),
              joinsWhen(repeats),
            );
          }}
        />
      )}
      <Button onClick={onChoose} data-testid="element-filament">
        Filament: {filament?.name ?? element.filamentId}
      </Button>
    </>
  );
}
