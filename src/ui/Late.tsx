import { Suspense, type ReactNode } from 'react';
import { Failsafe } from './Failsafe.tsx';

interface LateProps {
  readonly children: ReactNode;
  /** What stands there until it is loaded. */
  readonly fallback?: ReactNode;
  /** Another one of these is tried anew. */
  readonly of?: string;
}

/** A part of the screen that is loaded when it is first shown. Where that fails it is said in its place, and all around it stays. */
export function Late({ children, fallback = null, of }: LateProps) {
  return (
    <Failsafe {...(of === undefined ? {} : { of })}>
      <Suspense fallback={fallback}>{children}</Suspense>
    </Failsafe>
  );
}
