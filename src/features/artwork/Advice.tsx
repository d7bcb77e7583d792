import { printAdvice } from '#core/edit/advice.ts';
import { useDocument, useLive } from '../../state/project-context.ts';
import { Note } from '../../ui/Note.tsx';
import { useFrame } from './use-artwork.ts';

/** How sharp the picture will print, and what would be honest. */
export function Advice() {
  const { width } = useFrame();
  const widthMm = useDocument((state) => state.document.piece.widthMm);
  const trim = useDocument((state) => state.document.piece.trim);
  const sampleMm = useDocument((state) => state.document.piece.sampleMm);
  const box = useLive((state) => state.edited.box);
  const advice = printAdvice(trim ? width * box.width : width, widthMm, sampleMm);
  const { wantedPx, partPx, honestMm } = advice;
  const begin = `${sampleMm} mm at ${widthMm} mm wants ${wantedPx} px a line; this part has ${partPx}.`;
  if (advice.crisp) return <Note data-testid="advice">{begin} It prints crisp.</Note>;
  return (
    <Note tone="attention" role="note" data-testid="advice">
      {begin} It prints soft; samples of {honestMm} mm would be honest.
    </Note>
  );
}
