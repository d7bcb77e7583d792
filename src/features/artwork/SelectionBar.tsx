import {
  Brush,
  Check,
  Ellipsis,
  Lasso,
  Pencil,
  Plus,
  SquareDashed,
  Trash2,
  Undo2,
  WandSparkles,
} from 'lucide-react';
import { useState } from 'react';
import {
  addSelection,
  addSelectionStep,
  changeSelection,
  removeSelection,
} from '../../state/edits/picture-edits.ts';
import { joinsWhen } from '../../state/document-store.ts';
import { useDocument, useProject } from '../../state/project-context.ts';
import { setDesk, type PictureTool } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { SelectField, TextField } from '../../ui/Fields.tsx';
import { useTypedHold } from '../../ui/typed-hold.ts';
import { Menu, type MenuItem } from '../../ui/Menu.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { RangeSlider } from '../../ui/RangeSlider.tsx';
import styles from './SelectionBar.module.css';
import { useDesk } from './use-artwork.ts';

const TOOLS: readonly {
  readonly tool: PictureTool;
  readonly text: string;
  readonly icon: typeof Brush;
}[] = [
  { tool: 'similar', text: 'Similar', icon: WandSparkles },
  { tool: 'box', text: 'Box', icon: SquareDashed },
  { tool: 'lasso', text: 'Lasso', icon: Lasso },
  { tool: 'brush', text: 'Brush', icon: Brush },
];

const NONE = '';

/** A name for a selection that nobody has yet. */
export function freshName(names: readonly string[]): string {
  let n = 1;
  while (names.includes(`Selection ${n}`)) n += 1;
  return `Selection ${n}`;
}

/** What selects, at the foot of the picture: tools, the selection in hand, and what is done to it. */
export function SelectionBar() {
  const { views } = useProject();
  const change = useDocument((state) => state.change);
  const selections = useDocument((state) => state.document.artwork.selections);
  const desk = useDesk();
  const [renaming, setRenaming] = useState<string | null>(null);
  const hold = useTypedHold();
  const own = selections.find(({ id }) => id === desk.selection);
  const rename = (typed: string): void => {
    if (own) change(changeSelection(own.id, { name: typed.trim() || own.name }));
  };
  const stopRenaming = (): void => {
    hold(null);
    setRenaming(null);
  };
  const begin = (): string => {
    const id = crypto.randomUUID();
    change(addSelection(id, freshName(selections.map(({ name }) => name))));
    setDesk(views, { selection: id });
    return id;
  };
  const items = (): MenuItem[] => [
    {
      text: 'New selection',
      icon: <Plus size={15} aria-hidden />,
      onSelect: begin,
    },
    ...(own
      ? [
          {
            text: 'Take the last step back',
            icon: <Undo2 size={15} aria-hidden />,
            onSelect: () => {
              change(changeSelection(own.id, { steps: own.steps.slice(0, -1) }));
            },
          },
          {
            text: 'Rename',
            icon: <Pencil size={15} aria-hidden />,
            onSelect: () => {
              setRenaming(own.name);
            },
          },
          ...selections
            .filter(({ id }) => id !== own.id)
            .flatMap(({ id, name }) =>
              (
                [
                  ['add', `Add ${name}`],
                  ['take', `Take ${name} away`],
                  ['within', `Only within ${name}`],
                ] as const
              ).map(([way, text]) => ({
                text,
                icon: <Check size={15} aria-hidden />,
                onSelect: () => {
                  change(addSelectionStep(own.id, { from: 'mask', mask: id, way }));
                },
              })),
            ),
          {
            text: 'Remove',
            icon: <Trash2 size={15} aria-hidden />,
            onSelect: () => {
              change(removeSelection(own.id));
              setDesk(views, { selection: null });
            },
          },
        ]
      : []),
  ];
  return (
    <div className={styles.bar} role="toolbar" aria-label="Selection">
      {TOOLS.map(({ tool, text, icon: Icon }) => (
        <Button
          key={tool}
          look="quiet"
          icon={<Icon size={15} aria-hidden />}
          aria-pressed={desk.tool === tool}
          data-testid={`tool-${tool}`}
          onClick={() => {
            setDesk(views, { tool: desk.tool === tool ? null : tool });
          }}
        >
          {text}
        </Button>
      ))}
      {desk.tool === 'similar' ? (
        <>
          <span className={styles.slider}>
            <RangeSlider
              labels={['Tolerance']}
              values={[Math.round(100 * desk.tolerance)]}
              least={0}
              greatest={100}
              step={1}
              onChange={([value = 25]) => {
                setDesk(views, { tolerance: value / 100 });
              }}
            />
          </span>
          <span className="figures">{Math.round(100 * desk.tolerance)}</span>
          <Button
            look="quiet"
            aria-pressed={desk.connected}
            title="Only what touches the place"
            onClick={() => {
              setDesk(views, { connected: !desk.connected });
            }}
          >
            {desk.connected ? 'touching' : 'everywhere'}
          </Button>
        </>
      ) : null}
      {desk.tool === 'brush' ? (
        <span className={styles.slider}>
          <RangeSlider
            labels={['Brush, percent of the width']}
            values={[Math.round(1000 * desk.brush) / 10]}
            least={0.2}
            greatest={15}
            step={0.2}
            onChange={([value = 2]) => {
              setDesk(views, { brush: value / 100 });
            }}
          />
        </span>
      ) : null}
      <Button
        look="quiet"
        aria-pressed={desk.way === 'take'}
        title="The next step adds, or takes away"
        data-testid="selection-way"
        onClick={() => {
          setDesk(views, { way: desk.way === 'add' ? 'take' : 'add' });
        }}
      >
        {desk.way === 'add' ? 'adds' : 'takes'}
      </Button>
      {own ? (
        <>
          <span className={styles.number}>
            <NumberField
              label="grow"
              value={own.grow}
              unit="px"
              least={-500}
              greatest={500}
              step={1}
              decimals={0}
              testId="selection-grow"
              onChange={(grow, repeats) => {
                change(changeSelection(own.id, { grow }), joinsWhen(repeats));
              }}
            />
          </span>
          <span className={styles.number}>
            <NumberField
              label="feather"
              value={own.feather}
              unit="px"
              least={0}
              greatest={500}
              step={1}
              decimals={0}
              testId="selection-feather"
              onChange={(feather, repeats) => {
                change(changeSelection(own.id, { feather }), joinsWhen(repeats));
              }}
            />
          </span>
          <Button
            look="quiet"
            aria-pressed={own.invert}
            onClick={() => {
              change(changeSelection(own.id, { invert: !own.invert }));
            }}
          >
            inverted
          </Button>
        </>
      ) : null}
      <SelectField
        label="Selection in hand"
        compact
        value={own?.id ?? NONE}
        options={[
          { value: NONE, text: selections.length === 0 ? 'nothing selected' : 'none in hand' },
          ...selections.map(({ id, name }) => ({ value: id, text: name })),
        ]}
        testId="selection-in-hand"
        onChange={(value) => {
          setDesk(views, { selection: value === NONE ? null : value });
        }}
      />
      <Menu
        label="More for the selection"
        trigger={<Ellipsis size={16} aria-hidden />}
        items={items}
      />
      {own && renaming !== null ? (
        <Dialog
          title="Rename the selection"
          open
          onOpenChange={(open) => {
            if (!open) stopRenaming();
          }}
        >
          <TextField
            label="Name"
            value={renaming}
            autoFocus
            onChange={(event) => {
              const typed = event.target.value;
              setRenaming(typed);
              hold(() => {
                rename(typed);
              });
            }}
            onKeyDown={(event) => {
              if (event.key !== 'Enter') return;
              rename(renaming);
              stopRenaming();
            }}
          />
        </Dialog>
      ) : null}
    </div>
  );
}
