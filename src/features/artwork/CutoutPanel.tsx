import { Brush, Eraser, Minus, Plus, Scan, Undo2, Wind } from 'lucide-react';
import { useEffect, useRef } from 'react';
import type { ArtworkEdit } from '#core/edit/artwork-edit.ts';
import { changePictureEdit, clearCutoutLines } from '../../state/edits/picture-edits.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import type { KeptEdit } from '../../state/project-document.ts';
import { setDesk, type PictureTool } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from '../../ui/Choice.tsx';
import { CheckField } from '../../ui/Fields.tsx';
import { Note } from '../../ui/Note.tsx';
import { Row } from '../../ui/Row.tsx';
import { Dial } from '../../ui/Dial.tsx';
import styles from './ArtworkPanel.module.css';
import { useAnswer, useDesk } from './use-artwork.ts';
import { useSettings } from './use-settings.ts';

type Cutout = Extract<KeptEdit, { kind: 'cutout' }>;

const STROKES: readonly {
  readonly tool: PictureTool;
  readonly text: string;
  readonly title: string;
  readonly icon: typeof Plus;
}[] = [
  { tool: 'subject', text: 'Where it is', title: 'Draw a box around the subject', icon: Scan },
  { tool: 'keep', text: 'Keep', title: 'Stroke over what belongs to it', icon: Plus },
  { tool: 'drop', text: 'Drop', title: 'Stroke over what does not', icon: Minus },
  { tool: 'hair', text: 'Hair', title: 'Stroke over hair and fur', icon: Wind },
];

const ON_RESULT: typeof STROKES = [
  { tool: 'add', text: 'Paint back', title: 'Paint on the result: this is kept', icon: Brush },
  { tool: 'take', text: 'Rub out', title: 'Paint on the result: this goes', icon: Eraser },
];

const EDGES: readonly { value: ArtworkEdit<'cutout'>['edge']; text: string }[] = [
  { value: 'soft', text: 'Soft' },
  { value: 'crisp', text: 'Crisp' },
  { value: 'hair', text: 'Hair' },
];

/** The subject by itself: proposed where the background is plain, else by a box and strokes. */
export function CutoutPanel({ edit }: { readonly edit: Cutout }) {
  const { views } = useProject();
  const { change, complete } = useDocument((state) => state);
  const { tool, brush, ground } = useDesk();
  const { set } = useSettings(edit.id);
  const plain = useAnswer({ of: 'plain' }, edit.id)?.plain;
  const box = useAnswer({ of: 'box' }, edit.id)?.box;
  const proposed = useRef(false);
  const lines = edit.keep.length + edit.drop.length + edit.hair.length + edit.touch.length;
  // What the picture offers is taken over once, for a cut-out that nothing was said of yet.
  const fresh = edit.box === null && edit.way === 'cut' && edit.mask === null && lines === 0;
  useEffect(() => {
    if (!fresh || proposed.current || plain === undefined || !box) return;
    proposed.current = true;
    const settings = plain ? { way: 'plain' as const, box } : { box };
    complete(changePictureEdit(edit.id, settings));
  }, [fresh, plain, box, complete, edit.id]);
  const pick = (next: PictureTool): void => {
    setDesk(views, { tool: tool === next ? null : next });
  };
  const tools = (list: typeof STROKES) =>
    list.map(({ tool: own, text, title, icon: Icon }) => (
      <Button
        key={own}
        icon={<Icon size={15} aria-hidden />}
        title={title}
        aria-pressed={tool === own}
        data-testid={`tool-${own}`}
        onClick={() => {
          pick(own);
        }}
      >
        {text}
      </Button>
    ));
  return (
    <>
      {edit.mask === null ? (
        <Choice
          label="What is cut away"
          value={edit.way}
          options={[
            { value: 'plain', text: 'A plain background' },
            { value: 'cut', text: 'All but the subject' },
          ]}
          onChange={(way) => {
            set({ way });
          }}
        />
      ) : null}
      {plain === false && edit.way === 'plain' && edit.mask === null ? (
        <Note tone="attention">The border is not of one colour: this will not find much.</Note>
      ) : null}
      <Row>{tools(edit.way === 'cut' ? STROKES : STROKES.slice(1))}</Row>
      <Dial
        label="Brush"
        value={Math.round(1000 * brush) / 10}
        unit="%"
        least={0.2}
        greatest={15}
        step={0.2}
        decimals={1}
        onChange={(value) => {
          setDesk(views, { brush: value / 100 });
        }}
      />
      <Row>
        <span className={styles.rowLabel}>Edge</span>
        <Choice
          label="Edge"
          value={edit.edge}
          options={EDGES}
          onChange={(edge) => {
            set({ edge });
          }}
        />
      </Row>
      <CheckField
        label="small islands and holes stay"
        checked={edit.smallParts}
        onChange={(smallParts) => {
          set({ smallParts });
        }}
      />
      <CheckField
        label="clean colours along the edge"
        checked={edit.cleanColours}
        onChange={(cleanColours) => {
          set({ cleanColours });
        }}
      />
      <Row>
        <span className={styles.rowLabel}>On the result</span>
        {tools(ON_RESULT)}
      </Row>
      <Row>
        <span className={styles.rowLabel}>Cut away</span>
        <Choice
          label="What is seen where it was cut away"
          value={ground}
          options={[
            { value: 'dropped', text: 'Faint' },
            { value: 'squares', text: 'Squares' },
            { value: 'plain', text: 'Plain' },
          ]}
          onChange={(next) => {
            setDesk(views, { ground: next });
          }}
        />
      </Row>
      <Row>
        <Button
          icon={<Undo2 size={15} aria-hidden />}
          disabled={lines === 0}
          onClick={() => {
            change(clearCutoutLines(edit.id));
          }}
        >
          Begin anew
        </Button>
        <Note data-testid="cutout-strokes" data-proposed={edit.box !== null}>
          {lines === 0 ? 'No strokes yet' : `${lines} ${lines === 1 ? 'stroke' : 'strokes'}`}
        </Note>
      </Row>
    </>
  );
}
