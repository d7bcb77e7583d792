import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignStartHorizontal,
  AlignStartVertical,
  ArrowLeftRight,
  ArrowUpDown,
  Copy,
  FlipHorizontal2,
  Group,
  Magnet,
  Trash2,
  Ungroup,
  type LucideIcon,
} from 'lucide-react';
import { isPlaced, type ElementKind } from '#core/tags/tag.ts';
import {
  addElement,
  duplicateElements,
  groupElements,
  patchElement,
  placeElements,
  removeElements,
} from '../../state/edits/tag-edits.ts';
import { useDocument, useProject, useView } from '../../state/project-context.ts';
import { PLATE, selectElements } from '../../state/view-store.ts';
import { Button } from '../../ui/Button.tsx';
import { Menu, type MenuItem } from '../../ui/Menu.tsx';
import { aligned, spread, type Alignment } from './arrange.ts';
import { LogoFile } from './LogoFile.tsx';
import { newElement } from './new-element.ts';
import styles from './TagPanel.module.css';
import { useSide } from './use-tag.ts';

const KINDS: readonly { readonly kind: ElementKind; readonly text: string }[] = [
  { kind: 'text', text: 'Lettering' },
  { kind: 'shape', text: 'Shape' },
  { kind: 'hole', text: 'Hole' },
  { kind: 'loop', text: 'Loop' },
  { kind: 'rim', text: 'Rim' },
];

const ALIGN: readonly (readonly [Alignment, string, LucideIcon])[] = [
  ['left', 'Left edges', AlignStartVertical],
  ['middle', 'Middles, side by side', AlignCenterVertical],
  ['right', 'Right edges', AlignEndVertical],
  ['top', 'Upper edges', AlignStartHorizontal],
  ['centre', 'Middles, one over the other', AlignCenterHorizontal],
  ['bottom', 'Lower edges', AlignEndHorizontal],
];

/** What is put on a tag, and what is done with the elements in hand: at the foot of the picture. */
export function TagFoot() {
  const { views, documents, rack } = useProject();
  const { side, tag, planned } = useSide();
  const change = useDocument((state) => state.change);
  const { selected, snap } = useView((state) => state.tagDesk);
  const hand = selected.filter((id) => id !== PLATE);
  const own = tag.elements.filter(({ id }) => hand.includes(id));
  const none = hand.length === 0;
  const item = (text: string, Icon: LucideIcon, onSelect: () => void): MenuItem => ({
    text,
    icon: <Icon size={15} aria-hidden />,
    onSelect,
  });
  const add = (kind: ElementKind): void => {
    const element = newElement(kind, documents.getState().document, rack, side);
    if (!element) return;
    const filament =
      'filamentId' in element ? rack.find(({ id }) => id === element.filamentId) : undefined;
    change(addElement(element, filament));
    selectElements(views, [element.id]);
  };
  return (
    <div className={styles.foot} role="toolbar" aria-label="Elements">
      {KINDS.map(({ kind, text }) => (
        <Button
          key={kind}
          look="quiet"
          data-testid={`add-${kind}`}
          onClick={() => {
            add(kind);
          }}
        >
          {text}
        </Button>
      ))}
      <LogoFile />
      <span className={styles.rule} />
      <Menu
        label="Align"
        framed
        trigger="Align"
        items={() =>
          ALIGN.map(([to, text, Icon]) =>
            item(text, Icon, () => {
              change(placeElements(aligned(tag, planned, hand, to), side));
            }),
          )
        }
      />
      <Menu
        label="More for what is in hand"
        framed
        trigger="More"
        items={() => [
          ...(hand.length > 2
            ? [
                item('Same room side by side', ArrowLeftRight, () => {
                  change(placeElements(spread(tag, planned, hand, 'across'), side));
                }),
                item('Same room one over the other', ArrowUpDown, () => {
                  change(placeElements(spread(tag, planned, hand, 'down'), side));
                }),
              ]
            : []),
          ...(none
            ? []
            : [
                item('Duplicate', Copy, () => {
                  change(duplicateElements(hand, 2));
                }),
                item('Mirror', FlipHorizontal2, () => {
                  for (const element of own)
                    if (isPlaced(element))
                      change(patchElement(element.id, { mirrored: !element.mirrored }), {
                        withinMs: 200,
                      });
                }),
                item('Remove', Trash2, () => {
                  change(removeElements(hand));
                  selectElements(views, []);
                }),
              ]),
          ...(hand.length > 1
            ? [
                item('Make one group', Group, () => {
                  change(groupElements(hand, crypto.randomUUID()));
                }),
              ]
            : []),
          ...(own.some(({ group }) => group !== null)
            ? [
                item('Take the group apart', Ungroup, () => {
                  change(groupElements(hand, null));
                }),
              ]
            : []),
          item(snap ? 'Let elements lie freely' : 'Keep to middles and edges', Magnet, () => {
            views.setState(({ tagDesk }) => ({ tagDesk: { ...tagDesk, snap: !tagDesk.snap } }));
          }),
        ]}
      />
    </div>
  );
}
