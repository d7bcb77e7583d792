import { readRackCsv } from '#core/formats/rack/rack-csv.ts';
import type { Filament } from '#core/stack/filament.ts';
import rackCsv from './rack.csv?raw';

let shipped: readonly Filament[] | undefined;

/** The filaments of the demo world: what a rack begins with, and what its demo projects are made of. */
export function demoFilaments(): readonly Filament[] {
  if (shipped) return shipped;
  const demo = readRackCsv(rackCsv);
  if (!demo.ok) throw new Error(`demo rack: ${demo.fault.code} ${demo.fault.where ?? ''}`);
  return (shipped = demo.value);
}
