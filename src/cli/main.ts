import { BadInput } from '../platform/bad-input.ts';
import { Answer } from './answer.ts';

/** Each verb is loaded when it is called: starting takes no longer than what is used. */
const VERBS: Readonly<Record<string, (args: string[]) => Promise<object>>> = {
  edit: async (args) => (await import('./edit.ts')).runEdit(args),
  ramp: async (args) => (await import('./ramp.ts')).runRamp(args),
  relief: async (args) => (await import('./relief.ts')).runRelief(args),
  find: async (args) => (await import('./find.ts')).runFind(args),
  zones: async (args) => (await import('./zones.ts')).runZones(args),
  wedge: async (args) => (await import('./wedge.ts')).runWedge(args),
  gcode: async (args) => (await import('./gcode.ts')).runGcode(args),
  rehearse: async (args) => (await import('./rehearse.ts')).runRehearse(args),
  tag: async (args) => (await import('./tag.ts')).runTag(args),
  mesh: async (args) => (await import('./mesh.ts')).runMesh(args),
};

const HELP = `Usage: npm run -s strata -- VERB ...
  edit    --image F --edits E.json --out O.png
  ramp    --rack R.csv --stack S.json
  relief  --image F --rack R.csv --stack S.json --out DIR
          [--width-mm 100] [--sample-mm 0.2] [--rule tone|closest|zones|flat] [--least-layers 3]
          [--calm 0] [--nozzle-mm 0.4] [--smooth] [--all-formats] [--base 3x0.24]
          [--gcode [--printer P.json]]
          [--lean 0] [--zones 3|Z.json] [--edits E.json]
          [--border-mm W [--border-layers N]] [--corner-mm R] [--holes X,Y,DIAMETER[;...]]
          [--plate rectangle|rounded|circle|own [--plate-margin-mm 3] [--plate-layers N]]
  relief  PROJECT.strata --out DIR [--all-formats] [--gcode [--printer P.json]]
  find    --image F --rack R.csv --out S.json [--max-swaps 4] [--max-layers 30]
          [--rule closest|tone|zones|flat] [--seconds 1] [--seed 1] [--least-layers 3] [--least-per-band 1]
          [--lean 0] [--zones 3|Z.json] [--care 1] [--must ID ...] [--bottom ID] [--top ID] [--rare 0] [--sturdy] [--all]
          [--importance MASK] [--edits E.json]
  zones   --image F --out LABELS.png [--count 3] [--width-mm 100] [--sample-mm 0.2] [--edits E.json]
  wedge fit READINGS.csv
  tag     T.json --rack R.csv --out DIR [--names N.csv] [--all-formats] [--gcode [--printer P.json]]
  mesh check FILE.stl|FILE.3mf
  gcode inspect FILE [--acceleration MM_S2] [--sheet swaps.json]
  gcode check FILE --sheet swaps.json
  gcode swaps FILE --sheet swaps.json --out F [--pause M600 | --pause-text FILE] [--keep-pauses]
  gcode take-out FILE --out F
  gcode tools-to-pauses FILE --out F [--pause M600 | --pause-text FILE] [--layers N] [--confirm]
          [--drop-priming]
  rehearse FILE --sheet swaps.json [--printer P.json]
          [--fault ignore:STOP|resume:SECONDS|spool:STOP=ID|runout:MM|runout-told:MM|power:SECONDS ...]
`;

/** Wrong use of options is told by `parseArgs` with codes of this form. */
function isUsageError(error: unknown): error is Error {
  return (
    error instanceof Error &&
    String((error as NodeJS.ErrnoException).code).startsWith('ERR_PARSE_ARGS')
  );
}

/** The lines of the usage that a verb has; all of it where it has none. */
function usageOf(verb: string): string {
  const [first = '', ...lines] = HELP.trimEnd().split('\n');
  let own = false;
  const found = lines.filter((line) => {
    // What a verb takes goes on in lines that stand further in.
    if (!line.startsWith('    ')) own = line.trimStart().split(' ')[0] === verb;
    return own;
  });
  return found.length === 0 ? HELP : `${first}\n${found.join('\n')}\n`;
}

const ASKS_FOR_HELP: readonly string[] = ['--help', '-h'];

async function main([verb = '', ...args]: string[]): Promise<number> {
  if (ASKS_FOR_HELP.includes(verb) || args.some((arg) => ASKS_FOR_HELP.includes(arg))) {
    process.stdout.write(usageOf(verb));
    return 0;
  }
  const run = Object.hasOwn(VERBS, verb) ? VERBS[verb] : undefined;
  if (!run) {
    process.stderr.write(
      `${verb === '' ? 'A verb is missing' : `The verb "${verb}" is not known`}.\n${HELP}`,
    );
    return 2;
  }
  try {
    const answer = await run(args);
    const { printed, status } = answer instanceof Answer ? answer : new Answer(answer, 0);
    process.stdout.write(`${JSON.stringify(printed)}\n`);
    return status;
  } catch (error) {
    if (!(error instanceof BadInput) && !isUsageError(error)) throw error;
    process.stderr.write(`${error.message}\n`);
    return 2;
  }
}

process.exitCode = await main(process.argv.slice(2));
