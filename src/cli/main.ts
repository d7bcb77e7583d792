import { BadInput } from '../platform/bad-input.ts';
import { runFind } from './find.ts';
import { runRamp } from './ramp.ts';
import { runMesh } from './mesh.ts';
import { runRelief } from './relief.ts';
import { runWedge } from './wedge.ts';

const VERBS: Readonly<Record<string, (args: string[]) => Promise<object>>> = {
  ramp: runRamp,
  relief: runRelief,
  find: runFind,
  wedge: runWedge,
  mesh: runMesh,
};

const HELP = `Usage: npm run -s strata -- VERB ...
  ramp    --rack R.csv --stack S.json
  relief  --image F --rack R.csv --stack S.json --out DIR
          [--width-mm 100] [--detail-mm 0.2] [--rule tone|closest|flat] [--least-layers 3]
          [--calm 0] [--nozzle-mm 0.4] [--smooth] [--all-formats]
  find    --image F --rack R.csv --out S.json [--max-swaps 4] [--max-layers 30]
          [--rule closest|tone] [--seconds 1] [--seed 1] [--least-layers 3] [--least-per-band 1]
          [--must ID ...] [--bottom ID] [--top ID] [--rare 0] [--sturdy] [--all]
  wedge fit READINGS.csv
  mesh check FILE.stl|FILE.3mf
`;

/** Wrong use of options is told by `parseArgs` with codes of this form. */
function isUsageError(error: unknown): error is Error {
  return (
    error instanceof Error &&
    String((error as NodeJS.ErrnoException).code).startsWith('ERR_PARSE_ARGS')
  );
}

async function main([verb = '', ...args]: string[]): Promise<number> {
  const run = Object.hasOwn(VERBS, verb) ? VERBS[verb] : undefined;
  if (!run) {
    process.stderr.write(
      `${verb === '' ? 'A verb is missing' : `The verb "${verb}" is not known`}.\n${HELP}`,
    );
    return 2;
  }
  try {
    process.stdout.write(`${JSON.stringify(await run(args))}\n`);
    return 0;
  } catch (error) {
    if (!(error instanceof BadInput) && !isUsageError(error)) throw error;
    process.stderr.write(`${error.message}\n`);
    return 2;
  }
}

process.exitCode = await main(process.argv.slice(2));
