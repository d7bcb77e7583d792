import { expect } from 'chai';
import { Cancelled } from '#core/base/checkpoint.ts';
import { wholeness } from '#core/gcode/audit.ts';
import { changesOf, planWeave } from '#core/gcode/weave.ts';
import { bytesSource, piecesOf } from '#core/gcode/source.ts';
import { readGcode } from '#core/gcode/read-gcode.ts';
import { blobOf, blobSource } from '../../src/platform/browser/blob-source.ts';
import { layerNotes } from '../../src/features/gcode/desk-words.ts';
import { GcodeDesk } from '../../src/state/gcode-desk.ts';
import { WorkerClient, type WorkerPort } from '../../src/workers/client.ts';
import { gcodeHandlers } from '../../src/workers/gcode/handlers.ts';
import type { GcodeJobs } from '../../src/workers/gcode/jobs.ts';
import type { FromWorker, ToWorker } from '../../src/workers/protocol.ts';
import { serveJob } from '../../src/workers/serve.ts';
import { planOf, reliefForSlices, slice } from '../helpers/gcode.ts';

const HEIGHTS = reliefForSlices();
const PLAIN = slice(HEIGHTS, 10);

/** The worker's own code, in this thread; `hold` keeps what it is sent until it is let go. */
function workerHere(): { client: WorkerClient<GcodeJobs>; hold: (on: boolean) => void } {
  const listeners: ((event: MessageEvent<FromWorker<GcodeJobs>>) => void)[] = [];
  const handlers = gcodeHandlers();
  let held: ToWorker<GcodeJobs>[] | null = null;
  const take = (message: ToWorker<GcodeJobs>): void => {
    void serveJob(handlers, message, (data) => {
      for (const listen of listeners) listen({ data } as MessageEvent<FromWorker<GcodeJobs>>);
    });
  };
  const port = {
    postMessage: (message: ToWorker<GcodeJobs>) => {
      if (held) held.push(message);
      else take(message);
    },
    addEventListener: (type: string, listen: (event: never) => void) => {
      if (type === 'message') listeners.push(listen as (typeof listeners)[number]);
    },
    terminate: () => undefined,
  } as WorkerPort<GcodeJobs>;
  return {
    client: new WorkerClient<GcodeJobs>(() => port, { keeps: ['open'] }),
    hold: (on) => {
      const waiting = held ?? [];
      held = on ? [] : null;
      waiting.forEach(take);
    },
  };
}

const fileOf = (name: string, ...parts: BlobPart[]): File => new File(parts, name);

describe('the desk', () => {
  const readText = (text: string) => readGcode(bytesSource(new TextEncoder().encode(text)));

  it('lines that end with CR alone are lines, with the same layers and places', async () => {
    const plain = PLAIN.replaceAll('\r\n', '\n');
    const [usual, lone] = [await readText(plain), await readText(plain.replaceAll('\n', '\r'))];
    if (!usual.ok || !lone.ok) throw new Error('unread');
    expect(lone.value.lines).to.equal(usual.value.lines);
    expect(lone.value.layers.map(({ place }) => place.offset)).to.deep.equal(
      usual.value.layers.map(({ place }) => place.offset),
    );
    expect(lone.value.layers.map(({ filamentMm }) => filamentMm)).to.deep.equal(
      usual.value.layers.map(({ filamentMm }) => filamentMm),
    );
    expect(lone.value.badCount).to.equal(usual.value.badCount);
  });

  it('blank lines are no empty file, and what comes after many of them is read', async () => {
    const blank = await readText('\n'.repeat(20_000));
    expect(!blank.ok && blank.fault).to.include({ code: 'blank', detail: '20000' });
    const empty = await readText('');
    expect(!empty.ok && empty.fault.code).to.equal('empty');
    const late = await readText(`${'\n'.repeat(20_000)}${PLAIN}`);
    expect(late.ok && late.value.layers).to.have.length(10);
  });

  it('a file of more tool changes than any print has is refused; thousands are told in few words', async () => {
    const lines = PLAIN.split('\n');
    const middle = lines.length >> 1;
    const changed = (count: number): string =>
      [
        ...lines.slice(0, middle),
        ...Array.from({ length: count }, (_, n) => `T${(n + 1) % 2}`),
        ...lines.slice(middle),
      ].join('\n');
    const refused = await readText(changed(200_000));
    expect(!refused.ok && refused.fault.code).to.equal('too-many-events');
    const many = await readText(changed(40_000));
    if (!many.ok) throw new Error(many.fault.code);
    const notes = [...layerNotes(many.value, []).values()].flat();
    expect(notes.length).to.be.below(30);
    expect(notes.map(({ text }) => text).join()).to.match(/and 39,99\d more/);
  });

  it('a file that is cut off is told without any plan', async () => {
    const whole = await readText(PLAIN);
    const cut = await readText(PLAIN.slice(0, Math.floor(0.6 * PLAIN.length)));
    if (!whole.ok || !cut.ok) throw new Error('unread');
    expect(wholeness(whole.value)).to.deep.equal([]);
    expect(wholeness(cut.value).map(({ code }) => code)).to.include('cut-off');
  });

  it('keeps what is open when another file cannot be read, and reads on in it', async () => {
    const { client } = workerHere();
    const desk = new GcodeDesk(() => client);
    await desk.open(fileOf('plain.gcode', PLAIN));
    expect(desk.store.getState().read?.report.layers).to.have.length(10);
    await desk.open(fileOf('picture.gcode', Uint8Array.of(0x50, 0x4b, 3, 4)));
    const { file, trouble, reading } = desk.store.getState();
    expect([file?.name, reading]).to.deep.equal(['plain.gcode', null]);
    expect(trouble).to.contain('picture.gcode: This is a packed file');
    const lines = await client.run('lines', { first: 3, last: 3 });
    expect(lines.laid.some((kind) => kind === 1)).to.equal(true);
    const text = await client.run('text', { line: 4, before: 1, after: 0 });
    expect(text.map(({ text: own }) => own)).to.deep.equal(PLAIN.split('\n').slice(2, 4));
  });

  it('gives up reading when it is told to, and another file takes its place', async () => {
    const { client, hold } = workerHere();
    const desk = new GcodeDesk(() => client);
    hold(true);
    const reading = desk.open(fileOf('large.gcode', PLAIN));
    expect(desk.store.getState().reading).to.equal(0);
    desk.cancel();
    await reading;
    expect(desk.store.getState()).to.include({ file: null, reading: null, trouble: null });
    const first = desk.open(fileOf('first.gcode', PLAIN));
    const second = desk.open(fileOf('second.gcode', PLAIN));
    hold(false);
    await Promise.all([first, second]);
    expect(desk.store.getState().file?.name).to.equal('second.gcode');
  });

  it('a checkpoint that throws ends reading at once', async () => {
    let asked = 0;
    const reading = readGcode(blobSource(new Blob([PLAIN])), { chunkBytes: 1000 }, () => {
      asked += 1;
      if (asked === 5) throw new Cancelled();
    });
    expect(
      await reading.then(
        () => 'read',
        (error: unknown) => error,
      ),
    ).to.be.instanceOf(Cancelled);
    expect(asked).to.equal(5);
  });

  it('reads a woven file twice: as it is, and as it was', async () => {
    const read = await readGcode(blobSource(new Blob([PLAIN])));
    if (!read.ok) return expect.fail(read.fault.code);
    const plan = planOf(HEIGHTS, 10);
    const weaving = planWeave(read.value, plan, {
      pause: { command: 'M600', text: '' },
      switchOff: true,
    });
    const blob = new Blob([PLAIN]);
    const woven = blobOf(blob, piecesOf(blob.size, changesOf(weaving, false)));
    const { client } = workerHere();
    const desk = new GcodeDesk(() => client);
    await desk.open(fileOf('woven.gcode', woven));
    const open = desk.store.getState().read;
    expect([open?.report.pauses.length, open?.bare.pauses.length, open?.own.blocks]).to.deep.equal([
      2, 0, 2,
    ]);
    expect(open?.bare.lines).to.equal(read.value.lines);
    // Other times need another reading; the file stays.
    const before = open?.report.seconds ?? 0;
    await desk.setAcceleration(200);
    expect(desk.store.getState().read?.report.seconds).to.be.greaterThan(before);
    return undefined;
  });
});
