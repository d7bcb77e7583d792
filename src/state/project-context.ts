import { createContext, useContext, useDeferredValue } from 'react';
import { useStore } from 'zustand';
import type { Printer } from '#core/printer/printer.ts';
import { tallest } from '#core/schedule/estimate.ts';
import { layerTopMm } from '#core/stack/layer-grid.ts';
import { totalLayers } from '#core/stack/stack.ts';
import type { Filament } from '#core/stack/filament.ts';
import type { ArtworkWorker, ExportWorker } from '../workers/start-worker.ts';
import { extentMm, pieceSizeOf, samplesOf } from './document-facts.ts';
import type { DocumentActions, DocumentState, DocumentStore } from './document-store.ts';
import type { LivePrint, LiveState } from './live-print.ts';
import type { OwnSlicer } from './own-slicer.ts';
import type { NamedVersion, VersionStore } from './versions.ts';
import type { ViewState, ViewStore } from './view-store.ts';

/** Everything that belongs to one open project. */
export interface OpenProject {
  readonly id: string;
  /** Names this opening of the project; stays when the project goes on as a copy under another id. */
  readonly opening: string;
  readonly documents: DocumentStore;
  readonly live: LivePrint;
  readonly views: ViewStore;
  readonly versions: VersionStore;
  readonly worker: ArtworkWorker;
  /** For what takes long on the finished relief. */
  readonly exporter: ExportWorker;
  /** G-code of our own, made by it. */
  readonly slicer: OwnSlicer;
  readonly rack: readonly Filament[];
  readonly printers: readonly Printer[];
  /** The artwork's file, byte for byte. */
  readonly artworkBytes: Uint8Array<ArrayBuffer>;
  /** The library has another state of it, or none: it is to be saved although nothing changes. */
  readonly unsaved: boolean;
  /** Saves of the same project, as it was opened before, that must end before it is saved. */
  readonly after?: readonly Promise<unknown>[];
  /** What goes on after its bench was left and must end before it is closed: the last save, the last thumbnail. */
  readonly endings: Promise<unknown>[];
}

/** The project that the workbench shows. */
export const ProjectContext = createContext<OpenProject | null>(null);

/** The open project; only within the workbench. */
export function useProject(): OpenProject {
  const project = useContext(ProjectContext);
  if (!project) throw new Error('no project is open here');
  return project;
}

/** A part of the document, or one of the actions on it. */
export function useDocument<Part>(pick: (state: DocumentState & DocumentActions) => Part): Part {
  return useStore(useProject().documents, pick);
}

/** A part of what follows from the document. */
export function useLive<Part>(pick: (state: LiveState) => Part): Part {
  return useStore(useProject().live.store, pick);
}

/** A part of the view. */
export function useView<Part>(pick: (state: ViewState) => Part): Part {
  return useStore(useProject().views, pick);
}

/** Size of what is printed, mm: as the relief has it, and by the document while that is being worked out. */
export function usePieceSize(): { readonly widthMm: number; readonly heightMm: number } {
  const whole = useDeferredValue(useDocument((state) => state.document));
  const lens = useLive((state) => state.lens);
  const document = lens(whole);
  const extent = useLive((state) => state.extent);
  const shown = useLive((state) => state.shown);
  const { columns, rows, sampleMm } = samplesOf(document);
  // On a coarser grid the relief's own size is not seen.
  const real =
    shown.columns === columns && shown.rows === rows && shown.sampleMm === sampleMm && extent;
  return real && extent.columns > 0 ? extentMm(extent, sampleMm) : pieceSizeOf(document);
}

/**
 * The top of what is printed: a picture may never use the highest layers of its stack, and then sheet and files end below them. All
 * of the stack for tags, and before the first heights are there.
 */
export function usePrintedTop(): { readonly layers: number; readonly mm: number } {
  const document = useDeferredValue(useDocument((state) => state.document));
  const counts = useDeferredValue(useLive((state) => state.counts));
  const { grid, bands } = document.stack;
  const all = totalLayers(bands);
  const printed = document.tag || !counts ? all : tallest({ grid, bands }, counts).layers;
  const layers = printed > 0 ? Math.min(all, printed) : all;
  return { layers, mm: layerTopMm(grid, layers) };
}

/** The states that the maker named. */
export function useVersions(): readonly NamedVersion[] {
  return useStore(useProject().versions, ({ versions }) => versions);
}
