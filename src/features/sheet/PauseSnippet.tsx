import { Copy, FileDown } from 'lucide-react';
import { useState } from 'react';
import { pauseSnippet } from '#core/formats/sheet/pause-snippet.ts';
import { PAUSE_COMMANDS, PAUSE_WORDS, type PauseCommand } from '#core/printer/pause.ts';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { downloadFile, fileStem } from '../../platform/browser/files.ts';
import { Button } from '../../ui/Button.tsx';
import { SelectField } from '../../ui/Fields.tsx';
import { stemOf } from './sheet-words.ts';
import { Note } from '../../ui/Note.tsx';
import styles from './SheetPage.module.css';
import { toast } from '../../ui/toast.ts';

/** The lines to paste for each swap, for the printer's way to pause or any other. */
export function PauseSnippet({ sheet }: { readonly sheet: SwapSheet }) {
  const { pause } = sheet.printer;
  const [command, setCommand] = useState<PauseCommand | null>(null);
  const chosen = command ?? pause.command;
  const text = pauseSnippet(sheet, { command: chosen, text: pause.text });
  // One's own lines are the printer's: another printer has none to offer.
  const commands = PAUSE_COMMANDS.filter((one) => one !== 'custom' || pause.command === 'custom');
  return (
    <>
      <h2>Lines to paste</h2>
      <SelectField
        label="Pauses by"
        value={chosen}
        testId="snippet-command"
        options={commands.map((value) => ({
          value,
          text: value === 'custom' ? 'lines of your own' : value,
        }))}
        onChange={setCommand}
      />
      <Note>
        {PAUSE_WORDS[chosen].does} {PAUSE_WORDS[chosen].caution}
      </Note>
      <pre
        className={styles.snippet}
        data-testid="snippet"
        tabIndex={0}
        aria-label="Lines to paste"
      >
        {text}
      </pre>
      <div className={styles.pair}>
        <Button
          icon={<Copy size={15} aria-hidden />}
          onClick={() => {
            navigator.clipboard.writeText(text).then(
              () => toast('Lines copied'),
              () => toast.error('The browser does not let the lines be copied: mark them above.'),
            );
          }}
        >
          Copy
        </Button>
        <Button
          icon={<FileDown size={15} aria-hidden />}
          onClick={() => {
            downloadFile(`${stemOf(sheet)}-pauses-${fileStem(chosen)}.txt`, text, 'text/plain');
          }}
        >
          Download lines
        </Button>
      </div>
    </>
  );
}
