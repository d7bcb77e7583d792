import { Brush, Eraser, Minus, Plus, SquareDashed } from 'lucide-react';
import type { Mark } from '#core/artwork/importance.ts';
import { useDocument, useProject, useView } from '../../state/project-context.ts';
import { clearImportance, markSelection } from '../../state/edits/artwork-edits.ts';
import { BrushSize } from '../../ui/BrushSize.tsx';
import { Button } from '../../ui/Button.tsx';
import { Menu } from '../../ui/Menu.tsx';
import { FIRST_RADIUS } from '../../state/view-store.ts';
import styles from './Find.module.css';

const BRUSHES: readonly { readonly mark: Mark; readonly text: string }[] = [
  { mark: 'more', text: 'Matters more' },
  { mark: 'less', text: 'Matters less' },
  { mark: 'plain', text: 'Take marks away' },
];

/** What is said of all of a selection. */
const SAID: readonly { readonly mark: Mark; readonly text: string }[] = [
  { mark: 'more', text: 'matters more' },
  { mark: 'less', text: 'matters less' },
  { mark: 'plain', text: 'counts as usual' },
];

const ICONS = { more: Plus, less: Minus, plain: Eraser };

/** Takes the importance brush in hand, sets its size, clears what was painted. */
export function ImportanceTools() {
  const { views } = useProject();
  const brush = useView((state) => state.brush);
  const marks = useDocument((state) => state.document.artwork.masks.importance);
  const selections = useDocument((state) => state.document.artwork.selections);
  const change = useDocument((state) => state.change);
  return (
    <div className={styles.row} role="group" aria-label="Importance">
      <span className={styles.caption}>
        <Brush size={14} aria-hidden /> Paint
      </span>
      {BRUSHES.map(({ mark, text }) => {
        const Icon = ICONS[mark];
        const inHand = brush !== null && 'mark' in brush.says && brush.says.mark === mark;
        return (
          <Button
            key={mark}
            icon={<Icon size={15} aria-hidden />}
            aria-pressed={inHand}
            aria-label={text}
            title={`${text}: paint on the picture, or move the brush with the arrow keys and press Space`}
            onClick={() => {
              views.setState({
                brush: inHand ? null : { says: { mark }, radius: brush?.radius ?? FIRST_RADIUS },
              });
            }}
          />
        );
      })}
      {selections.length > 0 ? (
        <Menu
          label="Importance of a selection"
          framed
          trigger={
            <>
              <SquareDashed size={15} aria-hidden /> Selection
            </>
          }
          items={() =>
            selections.flatMap(({ id, name }) =>
              SAID.map(({ mark, text }) => {
                const Icon = ICONS[mark];
                return {
                  text: `${name} ${text}`,
                  icon: <Icon size={15} aria-hidden />,
                  onSelect: () => {
                    change(markSelection(id, mark));
                    // What was said is shown while a brush is in hand.
                    views.setState({ brush: brush ?? { says: { mark }, radius: FIRST_RADIUS } });
                  },
                };
              }),
            )
          }
        />
      ) : null}
      {brush ? (
        <BrushSize
          radius={brush.radius}
          onChange={(radius) => {
            views.setState({ brush: { ...brush, radius } });
          }}
        />
      ) : null}
      {marks.length > 0 ? (
        <Button
          look="quiet"
          onClick={() => {
            change(clearImportance());
          }}
        >
          Clear
        </Button>
      ) : (
        <small>Counts from the next look.</small>
      )}
    </div>
  );
}
