/** The stops of a tag, loaded when one of them is first entered. */
export { SeriesPanel } from './SeriesPanel.tsx';
export { TagFoot } from './TagFoot.tsx';
export { TagOverlay } from './TagOverlay.tsx';
export { TagPanel } from './TagPanel.tsx';
