import { useEffect } from 'react';

/** Something with a history. */
interface Historic {
  getState(): { readonly undo: () => void; readonly redo: () => void };
}

/** Undo and redo from the keyboard, except while typing. */
export function useHistoryKeys(store: Historic): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      if (event.target instanceof HTMLInputElement && event.target.type !== 'checkbox') return;
      const key = event.key.toLowerCase();
      const { undo, redo } = store.getState();
      if (key === 'z' && !event.shiftKey) undo();
      else if (key === 'y' || (key === 'z' && event.shiftKey)) redo();
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [store]);
}
