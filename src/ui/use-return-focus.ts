import { useRef } from 'react';

/** What was last returned to: one dialog may open another, which has no place of its own to come from. */
let lastOpener: HTMLElement | null = null;

/** The element that stays when a dialog closes: the opener itself, or of an entry of a menu the menu's button. */
function openerOf(active: Element | null): HTMLElement | null {
  const menu = active?.closest('[role="menu"]');
  const button = menu && document.getElementById(menu.getAttribute('aria-labelledby') ?? '');
  const opener = button ?? active;
  return opener instanceof HTMLElement && opener !== document.body ? opener : null;
}

/**
 * Brings the focus back to where it was when something opened that is not opened by a button of its own. Where something
 * else has taken the focus meanwhile, a command that moved it or the next dialog, it stays there.
 * @param open whether it is open now
 * @returns what a dialog is to do when it has closed
 */
export function useReturnFocus(open: boolean): {
  readonly onCloseAutoFocus: (event: Event) => void;
} {
  const opener = useRef<HTMLElement | null>(null);
  const wasOpen = useRef(false);
  // While it is rendered for the first time the focus is still where it was: a field in it may take it right after.
  if (open && !wasOpen.current) {
    opener.current = openerOf(document.activeElement) ?? lastOpener;
    lastOpener = opener.current;
  }
  wasOpen.current = open;
  return {
    onCloseAutoFocus: (event) => {
      event.preventDefault();
      const { activeElement } = document;
      const closing = event.currentTarget instanceof Node ? event.currentTarget : null;
      if (activeElement && activeElement !== document.body && !closing?.contains(activeElement))
        return;
      const { current } = opener;
      if (current?.isConnected) current.focus();
      else document.querySelector<HTMLElement>('main')?.focus({ preventScroll: true });
    },
  };
}
