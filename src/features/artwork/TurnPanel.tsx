import { RotateCcw, RotateCw } from 'lucide-react';
import type { ArtworkEdit } from '#core/edit/artwork-edit.ts';
import { TRUST } from '#core/edit/straighten.ts';
import { Button } from '../../ui/Button.tsx';
import { Dial } from '../../ui/Dial.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row } from '../../ui/Row.tsx';
import { useAnswer } from './use-artwork.ts';
import { useSettings } from './use-settings.ts';

/** An angle as -180..180. */
function within(degrees: number): number {
  return degrees - 360 * Math.round(degrees / 360);
}

/** Quarter turns, any angle, and the angle that sets the picture straight where that is sure. */
export function TurnPanel({ edit }: { readonly edit: ArtworkEdit<'turn'> }) {
  const { set, drag } = useSettings(edit.id);
  const slant = useAnswer({ of: 'slant' }, edit.id)?.slant;
  const sure = slant && slant.trust >= TRUST && Math.abs(slant.degrees) >= 0.1 ? slant : null;
  return (
    <>
      <Row>
        <Button
          icon={<RotateCcw size={15} aria-hidden />}
          onClick={() => {
            set({ degrees: within(edit.degrees - 90) });
          }}
        >
          Left
        </Button>
        <Button
          icon={<RotateCw size={15} aria-hidden />}
          onClick={() => {
            set({ degrees: within(edit.degrees + 90) });
          }}
        >
          Right
        </Button>
        {sure ? (
          <Button
            data-testid="straighten"
            onClick={() => {
              set({ degrees: within(sure.degrees) });
            }}
          >
            Straighten by {sure.degrees}°
          </Button>
        ) : null}
      </Row>
      <Dial
        label="Angle"
        testId="turn-angle"
        value={edit.degrees}
        unit="°"
        least={-180}
        greatest={180}
        step={0.1}
        {...drag}
        onChange={(degrees, repeats) => {
          set({ degrees }, repeats);
        }}
      />
      {slant && !sure ? (
        <Note>
          {Math.abs(slant.degrees) < 0.1 && slant.trust >= TRUST
            ? 'Its straight edges are upright.'
            : 'No straight edges tell how it hangs; turn it by eye.'}
        </Note>
      ) : null}
    </>
  );
}
