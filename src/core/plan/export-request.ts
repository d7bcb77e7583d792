import type { FilamentTable } from '../stack/stack-ramp.ts';
import type { Stack } from '../stack/stack.ts';
import type { ReliefRequest } from './relief-plan.ts';

/** What a relief file is made from. */
export interface ExportRequest {
  /** Heights of the finished relief. */
  readonly request: ReliefRequest;
  readonly stack: Stack;
  readonly filaments: FilamentTable;
  readonly title: string;
  readonly stamp: string;
  /** See `ReliefShape`. */
  readonly smoothMm?: number | undefined;
  /** Leave empty margins out. */
  readonly crop: boolean;
}
