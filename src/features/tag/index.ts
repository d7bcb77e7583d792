/** The Tag stop, loaded when it is first entered. */
export { TagFoot } from './TagFoot.tsx';
export { TagOverlay } from './TagOverlay.tsx';
export { TagPanel } from './TagPanel.tsx';
