import { useMemo } from 'react';
import { formatHex } from '#core/colour/srgb.ts';
import type { Filament } from '#core/stack/filament.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { BLACK_FROM_MM, BLACK_TO_MM, type WedgePlan } from '#core/wedge/wedge-plan.ts';
import { strokesOf, WEDGE_ROLES, wedgeStack } from '#core/wedge/wedge-relief.ts';
import { swatchesOver } from '#core/stack/swatch-card.ts';

interface WedgeDrawingProps {
  readonly plan: WedgePlan;
  readonly tested: Filament;
  readonly white: Filament;
  readonly black: Filament;
  /** Step to mark, from 1; 0 for none. */
  readonly marked?: number;
  readonly onStep?: (step: number) => void;
}

/** A wedge from above, in the colours that it will show. */
export function WedgeDrawing({
  plan,
  tested,
  white,
  black,
  marked = 0,
  onStep,
}: WedgeDrawingProps) {
  const colours = useMemo(() => {
    const ramp = rampOfStack(wedgeStack(plan, WEDGE_ROLES), { white, tested, black });
    const most = plan.stepLayers.at(-1) ?? 0;
    const at = (layer: number): string => formatHex(ramp[layer - 1]?.colour ?? [0, 0, 0]);
    const blackTop = plan.whiteLayers + most + plan.blackLayers;
    // Without a ground the steps are shown before a light.
    const lit = swatchesOver(tested, { filament: white, thicknessMm: 0 }, plan.grid.layerMm, most);
    return {
      bare: plan.grounded ? at(plan.whiteLayers) : formatHex(lit.at(-1)?.lamp ?? [0, 0, 0]),
      black: at(blackTop),
      number: plan.grounded ? at(plan.whiteLayers + Math.min(4, most)) : '#00000088',
      step: (ground: 'white' | 'black', step: number): string => {
        const layers = plan.stepLayers[step - 1] ?? 0;
        if (!plan.grounded) return formatHex(lit[layers - 1]?.lamp ?? [0, 0, 0]);
        return at((ground === 'white' ? plan.whiteLayers : blackTop) + layers);
      },
    };
  }, [plan, tested, white, black]);
  const steps = plan.patches.filter(({ step }) => step > 0);
  return (
    <svg
      viewBox={`-1 -1 ${plan.widthMm + 2} ${plan.heightMm + 2}`}
      style={{ width: '100%', maxHeight: 340, display: 'block' }}
      role="img"
      aria-label={`Step wedge from above: ${plan.stepsMm.length} steps of ${plan.stepsMm.join(', ')} mm`}
      data-testid="wedge-drawing"
    >
      <rect width={plan.widthMm} height={plan.heightMm} fill={colours.bare} />
      {plan.grounded ? (
        <rect
          y={BLACK_FROM_MM}
          width={plan.widthMm}
          height={BLACK_TO_MM - BLACK_FROM_MM}
          fill={colours.black}
        />
      ) : null}
      {steps.map(({ ground, step, rect }) => (
        <rect
          key={`${ground}${step}`}
          {...rect}
          fill={colours.step(ground, step)}
          data-step={step}
          data-ground={ground}
          onClick={() => onStep?.(step)}
        />
      ))}
      {plan.stepLayers.flatMap((_, i) =>
        strokesOf(i + 1).map((stroke, j) => (
          <rect key={`${i}-${j}`} {...stroke} fill={colours.number} shapeRendering="crispEdges" />
        )),
      )}
      {steps
        .filter(({ step }) => step === marked)
        .map(({ ground, rect }) => (
          <rect
            key={ground}
            {...rect}
            fill="none"
            stroke="#e9b800"
            strokeWidth={0.9}
            pointerEvents="none"
          />
        ))}
    </svg>
  );
}
