import { useEffect, useState } from 'react';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { LayerLines, TextLine } from '#core/gcode/layer-lines.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import type { GcodeDesk } from '../../state/gcode-desk.ts';

/** The ways of some layers, as soon as they are read; those before stay until then. */
export function useLayerLines(
  desk: GcodeDesk,
  report: GcodeReport,
  first: number,
  last: number,
): LayerLines | null {
  const [lines, setLines] = useState<{
    readonly of: GcodeReport;
    readonly lines: LayerLines;
  } | null>(null);
  useEffect(() => {
    const abort = new AbortController();
    desk.worker
      .run('lines', { first, last }, { signal: abort.signal })
      .then((found) => {
        setLines({ of: report, lines: found });
      })
      .catch(tell(desk));
    return () => {
      abort.abort();
    };
  }, [desk, report, first, last]);
  return lines?.of === report ? lines.lines : null;
}

/** Lines of text around one. */
export function useTextAround(
  desk: GcodeDesk,
  report: GcodeReport,
  line: number,
  around: number,
): readonly TextLine[] {
  const [text, setText] = useState<readonly TextLine[]>([]);
  useEffect(() => {
    const abort = new AbortController();
    desk.worker
      .run('text', { line, before: around, after: around }, { signal: abort.signal })
      .then(setText)
      .catch(tell(desk));
    return () => {
      abort.abort();
    };
  }, [desk, report, line, around]);
  return text;
}

/** What cannot be read any more is said once. */
function tell(desk: GcodeDesk) {
  return (error: unknown): void => {
    if (!(error instanceof Cancelled))
      desk.setTrouble(
        `The file could not be read again (${error instanceof Error ? error.message : String(error)}). Was it moved or changed? Choose it again.`,
      );
  };
}
