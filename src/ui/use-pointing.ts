import { useRef } from 'react';

/** Handlers for an element that can be pointed at. */
interface Pointing {
  readonly onMouseMove: () => void;
  readonly onMouseLeave: () => void;
  readonly onFocus: () => void;
  readonly onBlur: () => void;
}

/**
 * Tells when an element is pointed at or focused (true) and when no longer (false). Only a pointer that moves points: a
 * list that opens or is drawn anew beneath a pointer at rest shows nothing that nobody asked for.
 */
export function usePointing(tell: (pointed: boolean) => void): Pointing {
  const over = useRef(false);
  return {
    onMouseMove: () => {
      if (over.current) return;
      over.current = true;
      tell(true);
    },
    onMouseLeave: () => {
      over.current = false;
      tell(false);
    },
    onFocus: () => {
      tell(true);
    },
    onBlur: () => {
      tell(false);
    },
  };
}
