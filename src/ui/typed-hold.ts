import { createContext, useCallback, useContext, useEffect, useRef } from 'react';

/** Takes what leaving a half-typed field would do, so that it can be saved meanwhile; null when the field is left. */
export type TypedHold = (act: (() => void) | null) => void;

/** Where fields tell what is half typed. Outside an open project nobody listens. */
export const TypedHoldContext = createContext<TypedHold>(() => undefined);

/** The listener for one half-typed field: what the field has told goes with the field, and nothing else does. */
export function useTypedHold(): TypedHold {
  const tell = useContext(TypedHoldContext);
  const told = useRef(false);
  const hold = useCallback<TypedHold>(
    (act) => {
      if (act === null && !told.current) return;
      told.current = act !== null;
      tell(act);
    },
    [tell],
  );
  useEffect(
    () => () => {
      hold(null);
    },
    [hold],
  );
  return hold;
}
