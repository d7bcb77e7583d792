import { printPlanOf } from '#core/formats/sheet/swaps-json.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import type { ExportWorker } from '../workers/start-worker.ts';
import { heightRequest, smoothMmOfDocument, stackOf } from './document-facts.ts';
import type { ProjectDocument } from './project-document.ts';
import { printingOf, sheetOfDocument } from './project-export.ts';

/** All of a document that decides the G-code made of it. */
export function sliceKey(document: ProjectDocument): string {
  return JSON.stringify([
    heightRequest(document),
    stackOf(document),
    document.stack.filaments,
    smoothMmOfDocument(document) ?? null,
    printingOf(document),
    document.name,
  ]);
}

/**
 * What a sliced file of a document should be: its sheet, counted on the finished relief.
 * @throws Cancelled
 */
export async function planOfDocument(
  exporter: ExportWorker,
  document: ProjectDocument,
  signal: AbortSignal,
  onProgress: (done: number) => void = () => undefined,
): Promise<PrintPlan> {
  const counted = await exporter.run('counts', heightRequest(document), { signal, onProgress });
  return printPlanOf(sheetOfDocument(document, counted));
}

/** What G-code of a document is made of, but for its plan. */
export function sliceRequestOf(document: ProjectDocument) {
  return {
    request: heightRequest(document),
    stack: stackOf(document),
    filaments: document.stack.filaments,
    title: document.name,
    smoothMm: smoothMmOfDocument(document),
    ...printingOf(document),
  };
}
