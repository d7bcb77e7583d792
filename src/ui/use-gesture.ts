import { useEffect, useRef, type PointerEvent as ReactPointerEvent } from 'react';

/** What a drag does. `Subject` tells which of several things is dragged. */
export interface GestureParts<Subject> {
  /** The drag begins; false where there is nothing to drag here. */
  readonly onBegin: (
    event: ReactPointerEvent<HTMLElement>,
    subject: Subject,
  ) => boolean | undefined;
  readonly onMove?: (event: ReactPointerEvent<HTMLElement>, subject: Subject) => void;
  /**
   * What was done so far stays. Called exactly once after each begin, unless `onCancel` is.
   * @param released false where the drag ended otherwise than by letting go
   */
  readonly onEnd: (subject: Subject, released: boolean) => void;
  /** What was done is to be taken back (Escape, a touch that became a scroll). Without it, it stays. */
  readonly onCancel?: (subject: Subject) => void;
  /** Another part of the screen holds the pointer already, as a slider does. */
  readonly capture?: boolean;
}

/** The handlers that a dragged element gets. */
export type GestureHandlers = Readonly<
  Record<
    'onPointerDown' | 'onPointerMove' | 'onPointerUp' | 'onPointerCancel' | 'onLostPointerCapture',
    (event: ReactPointerEvent<HTMLElement>) => void
  >
>;

export interface Gesture<Subject> {
  /** Handlers for an element that drags `subject`. */
  readonly on: (subject: Subject) => GestureHandlers;
  /** Ends a running drag with what it did so far. */
  readonly finish: () => void;
  /** Is something being dragged? */
  readonly isActive: () => boolean;
}

/**
 * One drag at a time, with one pointer and its main button. However it ends, it ends: released, cancelled, its capture lost,
 * Escape pressed, or its element gone from the page. Every drag of the app is one of these.
 */
export function useGesture<Subject = void>(parts: GestureParts<Subject>): Gesture<Subject> {
  const latest = useRef(parts);
  latest.current = parts;
  const running = useRef<{ readonly pointerId: number; readonly subject: Subject } | null>(null);
  const kept = useRef<Gesture<Subject> | null>(null);

  kept.current ??= makeGesture(latest, running);
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || !running.current) return;
      const { subject } = running.current;
      running.current = null;
      cancelOf(latest.current)(subject);
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', onKey, true);
    return () => {
      window.removeEventListener('keydown', onKey, true);
      kept.current?.finish();
    };
  }, []);
  return kept.current;
}

function cancelOf<Subject>({ onCancel, onEnd }: GestureParts<Subject>): (subject: Subject) => void {
  return (
    onCancel ??
    ((subject) => {
      onEnd(subject, false);
    })
  );
}

function makeGesture<Subject>(
  latest: { readonly current: GestureParts<Subject> },
  running: { current: { readonly pointerId: number; readonly subject: Subject } | null },
): Gesture<Subject> {
  const end = (released: boolean): void => {
    if (!running.current) return;
    const { subject } = running.current;
    running.current = null;
    latest.current.onEnd(subject, released);
  };
  const own = (event: ReactPointerEvent<HTMLElement>): boolean =>
    running.current?.pointerId === event.pointerId;
  const finish = (): void => {
    end(false);
  };
  return {
    finish,
    isActive: () => running.current !== null,
    on: (subject) => ({
      onPointerDown: (event) => {
        if (event.button !== 0 || !event.isPrimary || running.current) return;
        if (latest.current.onBegin(event, subject) === false) return;
        if (latest.current.capture !== false)
          event.currentTarget.setPointerCapture(event.pointerId);
        running.current = { pointerId: event.pointerId, subject };
      },
      onPointerMove: (event) => {
        if (!own(event)) return;
        // The button was let go where nobody saw it.
        if ((event.buttons & 1) === 0) finish();
        else latest.current.onMove?.(event, subject);
      },
      onPointerUp: (event) => {
        if (own(event) && event.button === 0) end(true);
      },
      onPointerCancel: (event) => {
        if (!own(event)) return;
        running.current = null;
        cancelOf(latest.current)(subject);
      },
      onLostPointerCapture: (event) => {
        if (own(event)) finish();
      },
    }),
  };
}
