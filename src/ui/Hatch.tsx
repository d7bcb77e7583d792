import type { ReactNode } from 'react';

/** The hatches of geological maps, so that neighbours differ by more than their colour. */
const HATCHES: readonly ReactNode[] = [
  // dots
  <g key="dots" stroke="none" fill="currentColor">
    <circle cx="2" cy="2" r="1" />
    <circle cx="6" cy="6" r="1" />
  </g>,
  // dashes
  <path key="dashes" d="M0 2h5M4 6h5M0 6h1" />,
  // bricks
  <path key="bricks" d="M0 0.500h8M0 4.500h8M2 0.500v4M6 4.500v4" />,
  // chevrons
  <path key="chevrons" d="M0 5l4-3 4 3M0 9l4-3 4 3M0 1l4-3 4 3" />,
  // crosses
  <path key="crosses" d="M2 0.500v3M0.500 2h3M6 4.500v3M4.500 6h3" />,
  // slants
  <path key="slants" d="M-2 6l8-8M0 8l8-8M4 12l8-8" />,
  // rings
  <circle key="rings" cx="4" cy="4" r="2.200" />,
  // steps
  <path key="steps" d="M0 6h4V2h4" />,
];

/** Pattern definitions with ids `PREFIX-0`, `PREFIX-1` ...; put them into an `<svg>` once. */
export function HatchPatterns({
  prefix,
  colours,
}: {
  readonly prefix: string;
  readonly colours: readonly string[];
}) {
  return (
    <defs>
      {colours.map((colour, i) => (
        <pattern
          key={i}
          id={`${prefix}-${i}`}
          width={8}
          height={8}
          patternUnits="userSpaceOnUse"
          color={colour}
          stroke={colour}
          fill="none"
          strokeWidth={1}
        >
          {HATCHES[i % HATCHES.length]}
        </pattern>
      ))}
    </defs>
  );
}

/** A swatch in a filament's colour with the hatch of its band. */
export function HatchSwatch({
  id,
  index,
  colour,
  ink,
  size = 22,
}: {
  readonly id: string;
  readonly index: number;
  readonly colour: string;
  readonly ink: string;
  readonly size?: number;
}) {
  return (
    <svg width={size} height={size} aria-hidden focusable={false}>
      <defs>
        <pattern
          id={id}
          width={8}
          height={8}
          patternUnits="userSpaceOnUse"
          color={ink}
          stroke={ink}
          fill="none"
        >
          {HATCHES[index % HATCHES.length]}
        </pattern>
      </defs>
      <rect width={size} height={size} fill={colour} />
      <rect width={size} height={size} fill={`url(#${id})`} />
    </svg>
  );
}

/** Ink for a hatch on a colour (`#rrggbb`): what stands out, see-through enough to leave the colour seen. */
export function hatchInk(colour: string): string {
  const value = Number.parseInt(colour.slice(1), 16);
  const light = 0.3 * (value >> 16) + 0.59 * ((value >> 8) & 255) + 0.11 * (value & 255);
  return light > 120 ? 'rgb(0 0 0 / 55%)' : 'rgb(255 255 255 / 60%)';
}
