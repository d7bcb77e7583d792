import { readRackJson } from '#core/formats/rack/rack-json.ts';
import type { Filament } from '#core/stack/filament.ts';
// The same as `rack.csv`: what reads tables has no part in what is loaded before a picture shows.
import rackJson from './rack.json?raw';

let shipped: readonly Filament[] | undefined;

/** The filaments of the demo world: what a rack begins with, and what its demo projects are made of. */
export function demoFilaments(): readonly Filament[] {
  if (shipped) return shipped;
  const read = readRackJson(rackJson);
  if (!read.ok) throw new Error(`demo rack: ${read.fault.code}`);
  return (shipped = read.value.flatMap((one) => (one.ok ? [one.value] : [])));
}
