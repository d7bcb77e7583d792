import { PenLine } from 'lucide-react';
import { finerPxOf, printAdviceOf } from '../../state/document-facts.ts';
import { useDocument } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row } from '../../ui/Row.tsx';

/**
 * How sharp the picture will print, and what would be honest.
 * @param onRedraw draws the picture, which is a drawing, with so many pixels on its longer side
 */
export function Advice({ onRedraw }: { readonly onRedraw: (longerPx: number) => void }) {
  const artwork = useDocument((state) => state.document.artwork);
  const piece = useDocument((state) => state.document.piece);
  const { wantedPx, partPx, honestMm, crisp } = printAdviceOf({ artwork, piece });
  const finerPx = finerPxOf({ artwork, piece });
  const begin = `${piece.sampleMm} mm at ${piece.widthMm} mm wants ${wantedPx} px a line; this part has ${partPx}.`;
  if (crisp) return <Note data-testid="advice">{begin} It prints crisp.</Note>;
  return (
    <>
      <Note tone="attention" role="note" data-testid="advice">
        {begin} It prints soft
        {finerPx === undefined
          ? `; samples of ${honestMm} mm would be honest.`
          : ', but it is a drawing: it can be drawn finer.'}
      </Note>
      {finerPx === undefined ? null : (
        <Row>
          <Button
            icon={<PenLine size={16} aria-hidden />}
            title="Edits, selections and undo stay as they are"
            onClick={() => {
              onRedraw(finerPx);
            }}
          >
            Draw it finer: {finerPx} px
          </Button>
        </Row>
      )}
    </>
  );
}
