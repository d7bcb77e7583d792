import { changePictureEdit } from '../../state/edits/picture-edits.ts';
import { joinsWhen, SAME_FIELD } from '../../state/document-store.ts';
import { useDocument } from '../../state/project-context.ts';

/** How the settings of one edit are changed: by a drag, by a key that repeats, by a press. */
export function useSettings(id: string) {
  const { change, beginGesture, endGesture, cancelGesture } = useDocument((state) => state);
  return {
    set: (settings: object, repeats = false): void => {
      change(changePictureEdit(id, settings), joinsWhen(repeats));
    },
    /** A colour that is being looked for. */
    seek: (settings: object): void => {
      change(changePictureEdit(id, settings), SAME_FIELD);
    },
    drag: { onBegin: beginGesture, onEnd: endGesture, onCancel: cancelGesture },
  };
}
