import { useEffect, useRef, useState } from 'react';
import { Cancelled } from '#core/base/checkpoint.ts';
import { readSwapsJson } from '#core/formats/sheet/read-swaps-json.ts';
import { printPlanOf } from '#core/formats/sheet/swaps-json.ts';
import { GcodeDeskPage } from '../features/gcode/GcodeDeskPage.tsx';
import { describeSwapsFault } from '../platform/gcode-words.ts';
import { heightRequest } from '../state/document-facts.ts';
import type { DeskPlan } from '../state/gcode-desk.ts';
import { isUnreadable, type Library } from '../state/library.ts';
import { sheetOfDocument } from '../state/project-export.ts';
import { planningFilaments } from '../state/rack-store.ts';
import { documentOfBatch } from '../state/batches.ts';
import { theDesk } from './the-desk.ts';
import { goTo, gcodePath } from './route.ts';
import { loadArtwork, Refusal } from './session/open-project.ts';
import { readyFor } from './session/ready-for.ts';

/** Largest file of swaps that is read. */
const MOST_PLAN_BYTES = 5e6;

interface GcodePlaceProps {
  readonly library: Library;
  /** The project whose plan is compared with. */
  readonly projectId: string | null;
  /** Which of its pieces; see `gcodePath`. */
  readonly batch: number;
  readonly dropped: File | null;
  readonly onDroppedRead: () => void;
}

/** The G-code desk, with the projects of the shelf to compare a file with. */
export function GcodePlace({ library, projectId, batch, dropped, onDroppedRead }: GcodePlaceProps) {
  const [projects, setProjects] = useState<readonly { id: string; name: string }[]>([]);
  const [planning, setPlanning] = useState(false);
  useEffect(() => {
    window.document.title = 'G-code desk - Zesty Strata';
    void library.listProjects().then((entries) => {
      setProjects(
        entries.flatMap((entry) =>
          isUnreadable(entry) ? [] : [{ id: entry.id, name: entry.document.name }],
        ),
      );
    });
  }, [library]);
  useEffect(() => {
    if (projectId === null) return undefined;
    const abort = new AbortController();
    setPlanning(true);
    planOfProject(library, projectId, batch, abort.signal)
      .then((plan) => {
        theDesk().setPlan(plan);
      })
      .catch((error: unknown) => {
        if (error instanceof Cancelled) return;
        theDesk().setTrouble(
          `The sheet of this project could not be made: ${error instanceof Error ? error.message : String(error)}`,
        );
      })
      .finally(() => {
        if (!abort.signal.aborted) setPlanning(false);
      });
    return () => {
      abort.abort();
      setPlanning(false);
    };
  }, [library, projectId, batch]);

  const take = useRef(takeFile);
  useEffect(() => {
    if (!dropped) return;
    onDroppedRead();
    void take.current(dropped);
  }, [dropped, onDroppedRead]);
  return (
    <GcodeDeskPage
      desk={theDesk()}
      projects={projects}
      planning={planning}
      onProject={(id) => {
        if (id === null) theDesk().setPlan(null);
        goTo(gcodePath(id), true);
      }}
      onFile={(file) => void takeFile(file)}
    />
  );
}

/** A list of swaps is what a file is compared with; all else is a sliced file. */
async function takeFile(file: File): Promise<void> {
  if (!/\.json$/i.test(file.name)) {
    await theDesk().open(file);
    return;
  }
  if (file.size > MOST_PLAN_BYTES) {
    theDesk().setTrouble(`${file.name}: larger than 5 MB. That is no list of swaps.`);
    return;
  }
  const read = readSwapsJson(await file.text());
  if (!read.ok) {
    theDesk().setTrouble(`${file.name}: ${describeSwapsFault(read.fault)}`);
    return;
  }
  theDesk().setTrouble(null);
  theDesk().setPlan({ title: file.name, projectId: null, plan: read.value });
  goTo(gcodePath(null), true);
}

/** Works the sheet of a project of the shelf out, as its own stop does. */
async function planOfProject(
  library: Library,
  id: string,
  batch: number,
  signal: AbortSignal,
): Promise<DeskPlan> {
  const entry = await library.getProject(id);
  if (!entry || isUnreadable(entry))
    throw new Refusal('it is not on the shelf. Was it deleted in another tab?');
  await library.readData(entry);
  await readyFor(entry.document);
  const document = documentOfBatch(entry.document, batch);
  const bytes = await library.getBytes(document.artwork.file.digest);
  if (!bytes) throw new Refusal('its picture is not there any more.');
  const [rack, loaded] = await Promise.all([library.getRack(), loadArtwork(bytes, { signal })]);
  try {
    const counted = await loaded.worker.run('counts', heightRequest(document), { signal });
    const sheet = sheetOfDocument(document, counted, planningFilaments(rack));
    const { grid } = document.stack;
    const own = grid.layerMm === entry.document.stack.grid.layerMm ? '' : `, ${grid.layerMm} mm`;
    return { title: `${document.name}${own}`, projectId: id, plan: printPlanOf(sheet) };
  } finally {
    loaded.worker.close();
  }
}
