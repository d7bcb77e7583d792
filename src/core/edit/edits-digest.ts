import { utf8ToBytes } from '@noble/hashes/utils.js';
import { digestBytes } from '../base/stamp.ts';
import { canonicalJson, type Json } from '../base/canonical-json.ts';
import type { Recipe, Selection } from './artwork-edit.ts';

/**
 * SHA-256 of all that a recipe does to a picture: edits that are on, in their order, with what they are limited to. Names and
 * ids do not count.
 * @returns undefined where nothing is done
 */
export function editsDigest({ edits, selections }: Recipe): string | undefined {
  const on = edits.filter((edit) => edit.on);
  if (on.length === 0) return undefined;
  const json = on.map(({ id: _id, on: _on, mask, ...rest }) => {
    const own = selections.find(({ id }) => id === mask);
    return { ...rest, mask: own ? selectionJson(own, selections, 0) : null };
  });
  return digestBytes(utf8ToBytes(canonicalJson(json as unknown as Json)));
}

/** SHA-256 of what a selection takes in, with those that it names; its own name and id do not count. */
export function selectionDigest(selection: Selection, others: readonly Selection[]): string {
  return digestBytes(utf8ToBytes(canonicalJson(selectionJson(selection, others, 0))));
}

/** Selections that name each other go no deeper than this. */
const DEEPEST = 8;

function selectionJson(
  { steps, grow, feather, invert }: Selection,
  others: readonly Selection[],
  depth: number,
): Json {
  return {
    steps: steps.map((step): Json => {
      if (step.from === 'picture')
        return { way: step.way, from: 'picture', picture: step.picture.name };
      if (step.from !== 'mask') return step as unknown as Json;
      const other = others.find(({ id }) => id === step.mask);
      return {
        way: step.way,
        from: 'mask',
        of: other && depth < DEEPEST ? selectionJson(other, others, depth + 1) : null,
      };
    }),
    grow,
    feather,
    invert,
  };
}
