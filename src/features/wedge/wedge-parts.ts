import type { Result } from '#core/base/result.ts';
import type { Printer } from '#core/printer/printer.ts';
import type { Filament } from '#core/stack/filament.ts';
import type { WedgeFault, WedgePlan } from '#core/wedge/wedge-plan.ts';
import type { WedgeSettings } from '../../state/wedge-project.ts';
import type { WorkerClient } from '../../workers/client.ts';
import type { PhotoJobs } from '../../workers/photo/jobs.ts';

/** What the wizard needs of the app around it. */
export interface WedgePageProps {
  readonly filament: Filament;
  readonly filaments: readonly Filament[];
  readonly grounds: { readonly black: Filament; readonly white: Filament };
  readonly settings: WedgeSettings;
  readonly printers: readonly Printer[];
  readonly worker: WorkerClient<PhotoJobs>;
  readonly onSettings: (settings: WedgeSettings) => void;
  readonly onDownload: (
    name: string,
    content: BlobPart | readonly BlobPart[],
    type: string,
  ) => void;
  /** Fetches the simulated photo and the settings of the wedge on it. */
  readonly loadDemo: () => Promise<{
    readonly bytes: Uint8Array<ArrayBuffer>;
    readonly settings: WedgeSettings;
    readonly corners: readonly (readonly [number, number])[];
  }>;
  readonly onSave: (filament: Filament) => void;
  readonly onBack: () => void;
}

/** What each step of the wizard works with. */
export interface WedgePartProps extends WedgePageProps {
  readonly white: Filament;
  readonly black: Filament;
  readonly plan: Result<WedgePlan, WedgeFault>;
}

/** Why a wedge cannot be made, in words. */
export function describeWedgeFault({ code, detail = '' }: WedgeFault): string {
  switch (code) {
    case 'bad-steps':
      return `${detail} steps are not possible: choose 3 to 12.`;
    case 'bad-top':
      return `A tallest step of ${detail} mm is not possible: choose one layer at least and 8 mm at most.`;
    default:
      return `The wedge would have ${detail} layers, more than 250. Choose a lower tallest step or thicker layers.`;
  }
}

/** Today, as readings are dated. */
export function today(): string {
  const now = new Date();
  const two = (n: number): string => String(n).padStart(2, '0');
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
}
