export { ArtworkPanel } from './ArtworkPanel.tsx';
export { PictureOverlay } from './PictureOverlay.tsx';
export { SelectionBar } from './SelectionBar.tsx';
