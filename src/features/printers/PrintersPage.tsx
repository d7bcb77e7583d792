import { CopyPlus, Download, FileDown, FileUp, Plus, RotateCcw, Trash2 } from 'lucide-react';
import { useRef, useState } from 'react';
import { describeBed, type Printer } from '#core/printer/printer.ts';
import { Button } from '../../ui/Button.tsx';
import { PrinterForm } from './PrinterForm.tsx';
import { Panel } from '../../ui/Panel.tsx';
import { Row, Spacer } from '../../ui/Row.tsx';
import styles from './Printers.module.css';

interface PrintersPageProps {
  readonly printers: readonly Printer[];
  readonly chosenId: string | null;
  /** Generic printers that were deleted. */
  readonly missing: number;
  readonly onChoose: (id: string) => void;
  readonly onSave: (printer: Printer) => void;
  readonly onNew: () => void;
  readonly onCopy: (printer: Printer) => void;
  readonly onDelete: (printer: Printer) => void;
  readonly onBringBack: () => void;
  readonly onPauseTest: (printer: Printer) => void;
  readonly onExport: () => void;
  /** Takes a file in; says why not when it cannot. */
  readonly onImport: (file: File) => Promise<string | null>;
}

/** The maker's printers: a list, and everything about the chosen one. */
export function PrintersPage({
  printers,
  chosenId,
  missing,
  onChoose,
  onSave,
  onNew,
  onCopy,
  onDelete,
  onBringBack,
  onPauseTest,
  onExport,
  onImport,
}: PrintersPageProps) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const chosen = printers.find(({ id }) => id === chosenId) ?? printers[0];
  return (
    <Panel of="place" className={styles.page}>
      <h1 className="visually-hidden">Printers</h1>
      <Row>
        <Button look="main" icon={<Plus size={16} aria-hidden />} onClick={onNew}>
          New printer
        </Button>
        <Spacer />
        {missing > 0 ? (
          <Button icon={<RotateCcw size={16} aria-hidden />} onClick={onBringBack}>
            Bring generic ones back
          </Button>
        ) : null}
        <Button
          icon={<FileUp size={16} aria-hidden />}
          onClick={() => {
            chooser.current?.click();
          }}
        >
          Import
        </Button>
        <input
          ref={chooser}
          type="file"
          accept=".json,application/json"
          hidden
          data-testid="printers-file"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = '';
            if (file) void onImport(file).then(setTrouble);
          }}
        />
        <Button icon={<Download size={16} aria-hidden />} onClick={onExport}>
          Export
        </Button>
      </Row>
      {trouble ? (
        <p className={styles.alert} role="alert">
          {trouble}
        </p>
      ) : null}
      <div className={styles.split}>
        <ul className={styles.list} aria-label="Your printers">
          {printers.map((printer) => (
            <li key={printer.id}>
              <button
                type="button"
                className={styles.card}
                aria-pressed={printer.id === chosen?.id}
                data-testid={`printer-card-${printer.id}`}
                onClick={() => {
                  onChoose(printer.id);
                }}
              >
                <strong>{printer.name}</strong>
                <span className="figures">
                  {describeBed(printer.bed)}, nozzle {printer.nozzleMm}
                </span>
                <span>
                  {printer.feeder ? 'feeder' : 'by hand'}, pauses by{' '}
                  <span className="figures">
                    {printer.pause.command === 'custom' ? 'own lines' : printer.pause.command}
                  </span>
                </span>
              </button>
            </li>
          ))}
          {printers.length === 0 ? (
            <li className={styles.none}>
              No printers. Make a new one, or bring the generic ones back.
            </li>
          ) : null}
        </ul>
        {chosen ? (
          <section className={styles.detail} aria-label={chosen.name}>
            <header className={styles.head}>
              <h2>{chosen.name}</h2>
              <Button
                icon={<CopyPlus size={16} aria-hidden />}
                onClick={() => {
                  onCopy(chosen);
                }}
              >
                Duplicate
              </Button>
              <Button
                icon={<Trash2 size={16} aria-hidden />}
                onClick={() => {
                  onDelete(chosen);
                }}
              >
                Delete
              </Button>
            </header>
            <PrinterForm key={chosen.id} printer={chosen} onSubmit={onSave} />
            <aside className={styles.test}>
              <h3>Try the pause first</h3>
              <p>
                A printer may ignore a pause or run through it. Print this tile of 20 x 20 mm and
                four layers: it must stop when the second layer is finished, and wait. It begins and
                ends with the texts above. The test strip on the shelf goes further: four bands in
                about 20 minutes.
              </p>
              <Button
                icon={<FileDown size={16} aria-hidden />}
                onClick={() => {
                  onPauseTest(chosen);
                }}
              >
                Download the test tile
              </Button>
            </aside>
          </section>
        ) : null}
      </div>
    </Panel>
  );
}
