import { Pipette } from 'lucide-react';
import type { ArtworkEdit } from '#core/edit/artwork-edit.ts';
import { codesOfLch } from '#core/edit/hue.ts';
import { formatHex } from '#core/colour/srgb.ts';
import { useProject } from '../../state/project-context.ts';
import { setDesk } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { Dial } from '../../ui/Dial.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row } from '../../ui/Row.tsx';
import { Swatch } from '../../ui/Swatch.tsx';
import { useDesk } from './use-artwork.ts';
import { useSettings } from './use-settings.ts';

/** The picture seen in a mirror. */
export function MirrorPanel({ edit }: { readonly edit: ArtworkEdit<'mirror'> }) {
  const { set } = useSettings(edit.id);
  return (
    <Choice
      label="Mirrored"
      value={edit.across}
      options={[
        { value: 'width', text: 'Left to right' },
        { value: 'height', text: 'Top to bottom' },
      ]}
      onChange={(across) => {
        set({ across });
      }}
    />
  );
}

/** White balance: two sliders, or a place that should be grey. */
export function WhitePanel({ edit }: { readonly edit: ArtworkEdit<'white'> }) {
  const { views } = useProject();
  const { tool } = useDesk();
  const { set, drag } = useSettings(edit.id);
  return (
    <>
      <Row>
        <Button
          icon={<Pipette size={15} aria-hidden />}
          aria-pressed={tool === 'grey'}
          onClick={() => {
            setDesk(views, { tool: tool === 'grey' ? null : 'grey' });
          }}
        >
          Pick a grey
        </Button>
        <Note>Point at something that is grey in truth.</Note>
      </Row>
      <Dial
        label="Warmth"
        value={Math.round(100 * edit.warmth)}
        least={-100}
        greatest={100}
        step={1}
        {...drag}
        onChange={(value, repeats) => {
          set({ warmth: value / 100 }, repeats);
        }}
      />
      <Dial
        label="Tint"
        value={Math.round(100 * edit.tint)}
        least={-100}
        greatest={100}
        step={1}
        {...drag}
        onChange={(value, repeats) => {
          set({ tint: value / 100 }, repeats);
        }}
      />
    </>
  );
}

/** One hue for all that is selected; its shading stays. */
export function RecolourPanel({ edit }: { readonly edit: ArtworkEdit<'recolour'> }) {
  const { set, drag } = useSettings(edit.id);
  const codes = new Float64Array(3);
  codesOfLch([0.65, edit.chroma, edit.hue], codes);
  const [r = 0, g = 0, b = 0] = codes.map((one) => Math.round(255 * one));
  return (
    <>
      <Row>
        <Swatch colour={formatHex([r, g, b])} widthPx={28} />
        <Note>Light and shade stay as they are; hue and chroma are these.</Note>
      </Row>
      <Dial
        label="Hue"
        value={edit.hue}
        unit="°"
        least={0}
        greatest={360}
        step={1}
        decimals={0}
        {...drag}
        onChange={(hue, repeats) => {
          set({ hue }, repeats);
        }}
      />
      <Dial
        label="Chroma"
        value={edit.chroma}
        least={0}
        greatest={0.37}
        step={0.005}
        decimals={3}
        {...drag}
        onChange={(chroma, repeats) => {
          set({ chroma }, repeats);
        }}
      />
      <Dial
        label="Lightness"
        value={edit.lightness}
        least={-0.5}
        greatest={0.5}
        step={0.01}
        {...drag}
        onChange={(lightness, repeats) => {
          set({ lightness }, repeats);
        }}
      />
    </>
  );
}

/** Noise taken away, or edges made clearer. */
export function FilterPanel({
  edit,
}: {
  readonly edit: ArtworkEdit<'denoise'> | ArtworkEdit<'sharpen'>;
}) {
  const { set, drag } = useSettings(edit.id);
  if (edit.kind === 'denoise')
    return (
      <>
        <Dial
          label="Strength"
          value={edit.strength}
          least={0}
          greatest={1}
          step={0.02}
          {...drag}
          onChange={(strength, repeats) => {
            set({ strength }, repeats);
          }}
        />
        <Note>Grain goes, edges stay: less grain is fewer islands in the relief.</Note>
      </>
    );
  return (
    <>
      <Dial
        label="Amount"
        value={edit.amount}
        least={0}
        greatest={2}
        step={0.05}
        {...drag}
        onChange={(amount, repeats) => {
          set({ amount }, repeats);
        }}
      />
      <Dial
        label="Radius"
        value={edit.radius}
        unit="px"
        least={0.5}
        greatest={20}
        step={0.5}
        {...drag}
        onChange={(radius, repeats) => {
          set({ radius }, repeats);
        }}
      />
    </>
  );
}
