import { PAUSE_COMMANDS, PAUSE_WORDS, PLACEHOLDERS, type Pause } from '#core/printer/pause.ts';
import { SelectField } from '../../ui/Fields.tsx';
import { Note } from '../../ui/Note.tsx';
import styles from './GcodeDesk.module.css';

/** How the printer is made to stop: a command, or the maker's own lines. */
export function PauseChoice({
  pause,
  onChange,
}: {
  readonly pause: Pause;
  readonly onChange: (pause: Pause) => void;
}) {
  return (
    <>
      <SelectField
        compact
        label="Pauses by"
        value={pause.command}
        testId="desk-pause"
        options={PAUSE_COMMANDS.map((value) => ({
          value,
          text: value === 'custom' ? 'own lines' : value,
        }))}
        onChange={(command) => {
          onChange({ ...pause, command });
        }}
      />
      {pause.command === 'custom' ? (
        <>
          <textarea
            className={styles.own}
            aria-label="Lines of your own"
            data-testid="desk-pause-text"
            rows={4}
            spellCheck={false}
            value={pause.text}
            onChange={(event) => {
              onChange({ ...pause, text: event.target.value });
            }}
          />
          <Note>In place of {Object.keys(PLACEHOLDERS).join(', ')} stand the swap’s values.</Note>
        </>
      ) : (
        <Note>{PAUSE_WORDS[pause.command].caution}</Note>
      )}
    </>
  );
}
