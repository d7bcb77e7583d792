import type { Result } from '#core/base/result.ts';
import type { FindFault, FindRequest, FoundStack } from '#core/find/request.ts';
import type { FlatColour } from '#core/heights/flat.ts';
import type { RisingPoint } from '#core/find/tone-curve.ts';
import type { Filament } from '#core/stack/filament.ts';

/** A zone by its id, and the colours that go by it. */
export interface ZoneMembers {
  readonly id: string;
  readonly colours: readonly string[];
}

/** A stack that was found, with the tone curve that goes with it where heights follow tone. */
export interface SuggestedStack extends FoundStack {
  readonly tone: readonly RisingPoint[] | null;
  /** What heights leaned by; see `Lean.price`. */
  readonly lean: number;
  /** Flat colours with the heights that are nearest to them, where it was found for these. */
  readonly flat?: readonly FlatColour[] | undefined;
  /** Colours of the zones that it was found for, where these are others than before the search. */
  readonly zoneColours?: readonly ZoneMembers[] | undefined;
}

/** What is looked for, and flat colours that the cells are (in their order) where heights are to follow these. */
export interface SearchRequest extends FindRequest {
  readonly flat?: readonly FlatColour[] | undefined;
  /** Colours that zones were given on the way, from which the cells were gathered; what is suggested says so. */
  readonly zoneColours?: readonly ZoneMembers[] | undefined;
}

/** A filament that would help, with the stack that it would make. */
export interface SuggestedPurchase {
  readonly filamentId: string;
  readonly stack: SuggestedStack;
}

/** The jobs of a worker that looks for stacks. */
// eslint-disable-next-line @typescript-eslint/consistent-type-definitions
export type FindJobs = {
  /** Looks for the best stacks; better ones come as they are found. */
  find: {
    input: SearchRequest;
    output: Result<
      { readonly curve: readonly SuggestedStack[]; readonly others: readonly SuggestedStack[] },
      FindFault
    >;
    interim: SuggestedStack;
  };
  /** What one more filament would bring to the best stack of a search. */
  buy: {
    input: {
      readonly request: SearchRequest;
      readonly extra: readonly Filament[];
      readonly best: FoundStack;
    };
    output: { readonly purchases: readonly SuggestedPurchase[] };
  };
};
