import type { KeyboardEvent } from 'react';
import { HatchPatterns, hatchInk } from '../../ui/Hatch.tsx';
import type { RehearsedFacts } from '../../workers/rehearse/jobs.ts';
import { formatClock, layerOfMoment, type TimedBand } from './rehearse-words.ts';
import styles from './Rehearse.module.css';

/** Bands are drawn in a width of this many units. */
const WIDTH = 1000;
/** Narrower bands, in units, have their letter alone. */
const WIDE_ENOUGH = 70;

interface TimeLineProps {
  readonly facts: RehearsedFacts;
  readonly bands: readonly TimedBand[];
  /** Seconds of printing that are looked at, and how far the printer is. */
  readonly atS: number;
  readonly printerS: number | null;
  readonly onLook: (atS: number) => void;
}

/** The print from left to right: bands as long as they take, stops, and the moment that is looked at. */
export function TimeLine({ facts, bands, atS, printerS, onLook }: TimeLineProps) {
  const { job, layers } = facts;
  const total = Math.max(1e-6, job.totalS);
  const x = (seconds: number): number => (WIDTH * seconds) / total;
  const layer = layerOfMoment(facts, atS);
  const goTo = (index: number): void => {
    onLook(index <= 0 ? 0 : (layers[Math.min(index, layers.length) - 1]?.endS ?? total));
  };
  const key = (event: KeyboardEvent): void => {
    const steps: Readonly<Record<string, () => void>> = {
      // At the end of a layer, that one is whole.
      ArrowRight: () => {
        goTo((layers[layer - 1]?.endS ?? 0) > atS + 1e-6 ? layer : layer + 1);
      },
      ArrowLeft: () => {
        goTo(layer - 1);
      },
      PageUp: () => {
        onLook(bands.find(({ beginS }) => beginS > atS + 1e-6)?.beginS ?? total);
      },
      PageDown: () => {
        onLook(bands.findLast(({ beginS }) => beginS < atS - 1e-6)?.beginS ?? 0);
      },
    };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    step();
  };
  return (
    <div className={styles.line}>
      <div className={styles.track}>
        <svg
          viewBox={`0 0 ${WIDTH} 44`}
          preserveAspectRatio="none"
          className={styles.bands}
          aria-hidden
          focusable={false}
        >
          <HatchPatterns prefix="time" colours={bands.map(({ colour }) => hatchInk(colour))} />
          {bands.map((band, n) => (
            <g key={band.firstLayer}>
              <rect
                x={x(band.beginS)}
                y={16}
                width={Math.max(0, x(band.endS) - x(band.beginS))}
                height={24}
                fill={band.colour}
              />
              <rect
                x={x(band.beginS)}
                y={16}
                width={Math.max(0, x(band.endS) - x(band.beginS))}
                height={24}
                fill={`url(#time-${n})`}
              />
            </g>
          ))}
        </svg>
        {job.stops.map(({ line, atS: stopS, command, layer: before }) => (
          <span
            key={line}
            className={styles.stop}
            style={{ left: `${x(stopS) / (WIDTH / 100)}%` }}
            title={`${command}, line ${line.toLocaleString('en')}, before layer ${before}`}
          />
        ))}
        {printerS === null ? null : (
          <span
            className={styles.printer}
            style={{ left: `${x(printerS) / (WIDTH / 100)}%` }}
            title="The printer is here"
          />
        )}
        <input
          type="range"
          className={styles.scrub}
          aria-label="Moment of the print"
          aria-valuetext={`layer ${layer} of ${layers.length}, ${formatClock(atS)}`}
          min={0}
          max={total}
          step={total / 4000}
          value={atS}
          data-testid="time-line"
          onKeyDown={key}
          onChange={(event) => {
            onLook(Number(event.target.value));
          }}
        />
      </div>
      <div className={styles.names} aria-hidden>
        {bands.map((band) => (
          <span
            key={band.firstLayer}
            style={{
              left: `${x(band.beginS) / (WIDTH / 100)}%`,
              width: `${(x(band.endS) - x(band.beginS)) / (WIDTH / 100)}%`,
            }}
          >
            <strong>{band.letter}</strong>{' '}
            {x(band.endS) - x(band.beginS) > WIDE_ENOUGH
              ? `${band.layers} ${band.layers === 1 ? 'layer' : 'layers'}`
              : ''}
          </span>
        ))}
      </div>
    </div>
  );
}
