import { layerTopMm } from '#core/stack/layer-grid.ts';
import { bandLetter, totalLayers } from '#core/stack/stack.ts';
import { useDocument, useLive, useView } from '../../state/project-context.ts';
import { useRampSeen } from '../../state/room-light.ts';
import { readSpot } from './spot-reading.ts';
import styles from './Stage.module.css';

export function Swatch({ colour }: { readonly colour: string }) {
  return <span className={styles.swatch} style={{ background: colour }} aria-hidden />;
}

/** What lies under the pointer: artwork, print, their difference, layer, height and band. */
export function Readout() {
  const pointer = useView((state) => state.pointer);
  const live = useLive((state) => state);
  const isTag = useDocument((state) => state.document.tag !== null);
  const grid = useDocument((state) => state.document.stack.grid);
  const layers = useDocument((state) => totalLayers(state.document.stack.bands));
  const ramp = useRampSeen();
  const reading = pointer ? readSpot(pointer, { ...live, ramp }) : null;
  if (reading === null)
    return (
      <p className={styles.readout}>Point at the picture to read it; click to pin what you see</p>
    );
  if (reading === undefined)
    return <p className={`${styles.readout} figures`}>cut away here: nothing is printed</p>;
  const { artwork, print, difference, layerNumber, bandIndex } = reading;
  return (
    <p className={`${styles.readout} figures`} data-testid="readout">
      {isTag ? null : (
        <span>
          <Swatch colour={artwork} /> artwork {artwork}
        </span>
      )}
      <span>
        <Swatch colour={print} /> print {print}
      </span>
      {isTag ? null : <span>difference {difference.toFixed(1)}</span>}
      <span>
        {layerNumber > layers
          ? `face on the bed, ${bandLetter(bandIndex)}`
          : `layer ${layerNumber}, ${layerTopMm(grid, layerNumber).toFixed(2)} mm, band ${bandLetter(bandIndex)}`}
      </span>
    </p>
  );
}
