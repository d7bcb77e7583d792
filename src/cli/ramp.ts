import { parseArgs } from 'node:util';
import { formatHex } from '#core/colour/srgb.ts';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { bandLetter } from '#core/stack/stack.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { required } from '../platform/bad-input.ts';
import { readStackAndRack } from './input.ts';

/** `ramp --rack R.csv --stack S.json`: what one sees at every possible height. */
export async function runRamp(args: string[]): Promise<object> {
  const { values } = parseArgs({
    args,
    options: { rack: { type: 'string' }, stack: { type: 'string' } },
  });
  const { stack, filaments } = await readStackAndRack(
    required(values.rack, 'rack'),
    required(values.stack, 'stack'),
  );
  return {
    layers: rampOfStack(stack, filaments).map((step, layerIndex) => ({
      layer: layerIndex + 1,
      topMm: layerTopMm(stack.grid, layerIndex + 1),
      band: bandLetter(step.bandIndex),
      filament: stack.bands[step.bandIndex]?.filamentId ?? '',
      colour: formatHex(step.colour),
      lamp: formatHex(step.lamp),
      cover: Number(step.cover.toFixed(6)),
    })),
  };
}
