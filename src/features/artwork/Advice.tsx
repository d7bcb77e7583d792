import { printAdviceOf } from '../../state/document-facts.ts';
import { useDocument } from '../../state/project-context.ts';
import { Note } from '../../ui/Note.tsx';

/** How sharp the picture will print, and what would be honest. */
export function Advice() {
  const artwork = useDocument((state) => state.document.artwork);
  const piece = useDocument((state) => state.document.piece);
  const { wantedPx, partPx, honestMm, crisp } = printAdviceOf({ artwork, piece });
  const begin = `${piece.sampleMm} mm at ${piece.widthMm} mm wants ${wantedPx} px a line; this part has ${partPx}.`;
  if (crisp) return <Note data-testid="advice">{begin} It prints crisp.</Note>;
  return (
    <Note tone="attention" role="note" data-testid="advice">
      {begin} It prints soft; samples of {honestMm} mm would be honest.
    </Note>
  );
}
