import { useEffect, useRef, useState } from 'react';
import { readPrinterJson, writePrinterJson } from '#core/formats/rack/printer-json.ts';
import { USUAL_PRINTER, type Printer } from '#core/printer/printer.ts';
import { PrintersPage } from '../features/printers/PrintersPage.tsx';
import { downloadFile, fileStem } from '../platform/browser/files.ts';
import { describeOwnGcodeFault, describePrinterJsonFault } from '../platform/slicing-words.ts';
import type { Library } from '../state/library.ts';
import { addPrinters, missingShipped } from '../state/printers.ts';
import { toast } from '../ui/toast.ts';

/** Largest file of printers that is read. */
const MOST_BYTES = 2e6;

const CHANNEL = 'strata-printers';

/** The maker's printers, kept at every change. */
export function PrintersPlace({ library }: { readonly library: Library }) {
  const [printers, setPrinters] = useState<readonly Printer[] | null>(null);
  const [chosenId, setChosenId] = useState<string | null>(null);
  const channel = useRef<BroadcastChannel | null>(null);
  useEffect(() => {
    window.document.title = 'Printers - Zesty Strata';
    void library.getPrinters().then(setPrinters);
    // Another tab changed them: none goes on with older ones and writes them over the newer.
    const tabs = new BroadcastChannel(CHANNEL);
    tabs.onmessage = () => {
      void library.getPrinters().then(setPrinters);
    };
    channel.current = tabs;
    return () => {
      channel.current = null;
      tabs.close();
    };
  }, [library]);
  // What is undone later must not undo what was done since.
  const latest = useRef(printers);
  latest.current = printers;
  if (!printers) return null;

  const keep = (next: readonly Printer[]): void => {
    setPrinters(next);
    void library.putPrinters(next).then(() => channel.current?.postMessage('changed'));
  };
  const add = (added: readonly Printer[]): void => {
    const next = addPrinters(printers, added);
    keep(next);
    setChosenId(next[printers.length]?.id ?? chosenId);
  };
  const pauseTest = async (printer: Printer): Promise<void> => {
    // What slices is loaded when it is asked for.
    const { makePauseTest } = await import('#core/slicing/pause-test.ts');
    const made = await makePauseTest(printer);
    if (made.ok)
      downloadFile(
        `pause-test-${fileStem(printer.pause.command)}.gcode`,
        new Blob(made.value.pieces),
        'text/plain',
      );
    else
      toast.error(
        `There is no test tile for ${printer.name}. ${describeOwnGcodeFault(made.fault)}`,
      );
  };
  return (
    <PrintersPage
      printers={printers}
      chosenId={chosenId}
      missing={missingShipped(printers).length}
      onChoose={setChosenId}
      onSave={(saved) => {
        keep(printers.map((printer) => (printer.id === saved.id ? saved : printer)));
        toast(`${saved.name} saved`);
      }}
      onNew={() => {
        add([{ ...USUAL_PRINTER, id: 'printer', name: 'New printer' }]);
      }}
      onCopy={(printer) => {
        add([{ ...printer, name: `${printer.name.slice(0, 75)} copy` }]);
      }}
      onDelete={(gone) => {
        keep(printers.filter((printer) => printer.id !== gone.id));
        toast(`${gone.name} deleted`, {
          duration: 8000,
          action: {
            label: 'Undo',
            onClick: () => {
              const now = [...(latest.current ?? [])];
              now.splice(printers.indexOf(gone), 0, gone);
              keep(now);
            },
          },
        });
      }}
      onBringBack={() => {
        add(missingShipped(printers));
      }}
      onPauseTest={(printer) => {
        void pauseTest(printer);
      }}
      onExport={() => {
        downloadFile('printers.json', writePrinterJson(printers), 'application/json');
      }}
      onImport={async (file) => {
        if (file.size > MOST_BYTES)
          return `${file.name}: larger than 2 MB. That is no file of printers.`;
        const read = readPrinterJson(await file.text());
        if (!read.ok) return `${file.name}: ${describePrinterJsonFault(read.fault)}`;
        add(read.value);
        return null;
      }}
    />
  );
}
