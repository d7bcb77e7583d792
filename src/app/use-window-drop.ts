import { useEffect, useRef, useState } from 'react';

/**
 * Takes files that are dropped anywhere on the window, beside the places that take them themselves. Without it the browser
 * would leave the app for the file.
 * @returns whether a file is being dragged over the window now
 */
export function useWindowDrop(onFile: (file: File) => void): boolean {
  const [over, setOver] = useState(false);
  const latest = useRef(onFile);
  latest.current = onFile;
  useEffect(() => {
    let leaving: ReturnType<typeof setTimeout> | undefined;
    const hasFiles = (event: DragEvent): boolean =>
      event.dataTransfer?.types.includes('Files') === true;
    const stay = (event: DragEvent): void => {
      if (!hasFiles(event)) return;
      event.preventDefault();
      setOver(true);
      // Leaving the window is told by silence: the events of its parts come and go.
      clearTimeout(leaving);
      leaving = setTimeout(() => {
        setOver(false);
      }, 300);
    };
    const drop = (event: DragEvent): void => {
      clearTimeout(leaving);
      setOver(false);
      if (!hasFiles(event)) return;
      // A place of its own has taken it, as the shelf's does.
      const taken = event.defaultPrevented;
      event.preventDefault();
      const [file] = event.dataTransfer?.files ?? [];
      if (file && !taken) latest.current(file);
    };
    window.addEventListener('dragover', stay);
    window.addEventListener('drop', drop);
    return () => {
      clearTimeout(leaving);
      window.removeEventListener('dragover', stay);
      window.removeEventListener('drop', drop);
    };
  }, []);
  return over;
}
