import { ciede2000 } from '#core/colour/ciede2000.ts';
import { labOfBytes } from '#core/colour/lab.ts';
import { formatHex, type Triple } from '#core/colour/srgb.ts';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { bandLetter } from '#core/stack/stack.ts';
import { useDocument, useLive, useView } from '../../state/project-context.ts';
import styles from './Stage.module.css';

function Swatch({ colour }: { readonly colour: string }) {
  return <span className={styles.swatch} style={{ background: colour }} aria-hidden />;
}

/** What lies under the pointer: artwork, print, their difference, layer, height and band. */
export function Readout() {
  const pointer = useView((state) => state.pointer);
  const { opened, heights, ramp } = useLive((state) => state);
  const grid = useDocument((state) => state.document.grid);
  if (!pointer || !heights)
    return <p className={styles.readout}>Point at the picture to read colours and layers</p>;
  const { stage } = opened;
  const pixel =
    (Math.floor(pointer.y * stage.height) * stage.width + Math.floor(pointer.x * stage.width)) * 4;
  const artwork: Triple = [
    stage.data[pixel] ?? 0,
    stage.data[pixel + 1] ?? 0,
    stage.data[pixel + 2] ?? 0,
  ];
  const layerNumber =
    heights.data[
      Math.floor(pointer.y * heights.height) * heights.width + Math.floor(pointer.x * heights.width)
    ] ?? 0;
  const step = ramp[Math.min(layerNumber, ramp.length) - 1];
  if (layerNumber === 0 || !step)
    return <p className={`${styles.readout} figures`}>cut away here: nothing is printed</p>;
  const hexArtwork = formatHex(artwork);
  const hexPrint = formatHex(step.colour);
  return (
    <p className={`${styles.readout} figures`} data-testid="readout">
      <span>
        <Swatch colour={hexArtwork} /> artwork {hexArtwork}
      </span>
      <span>
        <Swatch colour={hexPrint} /> print {hexPrint}
      </span>
      <span>difference {ciede2000(labOfBytes(artwork), step.lab).toFixed(1)}</span>
      <span>
        layer {layerNumber}, {layerTopMm(grid, layerNumber).toFixed(2)} mm, band{' '}
        {bandLetter(step.bandIndex)}
      </span>
    </p>
  );
}
