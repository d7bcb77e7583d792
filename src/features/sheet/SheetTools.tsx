import {
  CalendarClock,
  Download,
  FileCheck2,
  FileJson,
  Layers,
  Printer,
  Smartphone,
  Table2,
  Text,
} from 'lucide-react';
import { swapCalendar } from '#core/formats/sheet/swap-calendar.ts';
import { swapSheetCsv } from '#core/formats/sheet/swap-sheet-csv.ts';
import { swapSheetText } from '#core/formats/sheet/swap-sheet-text.ts';
import { swapsJson } from '#core/formats/sheet/swaps-json.ts';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { downloadFile } from '../../platform/browser/files.ts';
import { useDocument } from '../../state/project-context.ts';
import { setStart } from '../../state/edits/print-edits.ts';
import { Button } from '../../ui/Button.tsx';
import { Menu } from '../../ui/Menu.tsx';
import styles from './SheetPage.module.css';
import { clockAt, localMoment, stemOf } from './sheet-words.ts';
import { toast } from '../../ui/toast.ts';

/** What can be done with the sheet: take it along, print it, stand it beside the printer. */
export function SheetTools({
  sheet,
  onWatch,
  onDesk,
  onGcode,
}: {
  readonly sheet: SwapSheet;
  readonly onWatch: () => void;
  readonly onDesk: () => void;
  readonly onGcode: () => void;
}) {
  const startsAt = useDocument((state) => state.document.print.startsAt);
  const change = useDocument((state) => state.change);
  const stem = stemOf(sheet);
  const calendar = (): void => {
    let start = startsAt;
    if (start === null) {
      const now = localMoment(new Date());
      start = now;
      change(setStart(now));
      toast('The calendar counts from now. Say when the print starts, and download it again.');
    }
    const written = swapCalendar(sheet, new Date(start).getTime());
    if (written.ok) downloadFile(`${stem}-swaps.ics`, written.value, 'text/calendar');
    else toast.error(`The calendar could not be written (${written.fault.detail ?? ''}).`);
  };
  return (
    <div className={styles.tools}>
      <Button icon={<Smartphone size={16} aria-hidden />} onClick={onWatch}>
        At the printer
      </Button>
      <Button
        icon={<Layers size={16} aria-hidden />}
        title="Slice the relief here: the swaps are in the file"
        onClick={onGcode}
      >
        G-code
      </Button>
      <Button
        icon={<FileCheck2 size={16} aria-hidden />}
        title="Check a sliced file against this sheet, and put the swaps in"
        onClick={onDesk}
      >
        Sliced file
      </Button>
      <Menu
        label="Download the sheet"
        framed
        trigger={
          <>
            <Download size={16} aria-hidden /> Download
          </>
        }
        items={() => [
          {
            text: 'Text',
            icon: <Text size={16} aria-hidden />,
            onSelect: () => {
              downloadFile(
                `${stem}-swap-sheet.txt`,
                swapSheetText(
                  sheet,
                  startsAt === null ? undefined : (seconds) => clockAt(startsAt, seconds),
                ),
                'text/plain',
              );
            },
          },
          {
            text: 'CSV, a line a swap',
            icon: <Table2 size={16} aria-hidden />,
            onSelect: () => {
              downloadFile(`${stem}-swaps.csv`, swapSheetCsv(sheet), 'text/csv');
            },
          },
          {
            text: 'JSON for programs',
            icon: <FileJson size={16} aria-hidden />,
            onSelect: () => {
              downloadFile(`${stem}-swaps.json`, swapsJson(sheet), 'application/json');
            },
          },
          {
            text: 'Calendar with alarms',
            icon: <CalendarClock size={16} aria-hidden />,
            onSelect: calendar,
          },
        ]}
      />
      <Button
        look="main"
        icon={<Printer size={16} aria-hidden />}
        onClick={() => {
          window.print();
        }}
      >
        Print or PDF
      </Button>
    </div>
  );
}
