import { mock } from 'node:test';
import { bytesIn } from '#core/base/byte-pieces.ts';
import { expect } from 'chai';
import { decode as decodePng } from 'fast-png';
import { Cancelled } from '#core/base/checkpoint.ts';
import { succeed, fail } from '#core/base/result.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { EXPORT_FORMATS } from '#core/formats/mesh/export-files.ts';
import { PLAIN_TONE } from '#core/heights/tone.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { planSamples } from '#core/relief/sampling.ts';
import type { Decode } from '../../src/workers/decode.ts';
import { exportHandlers } from '../../src/workers/export/handlers.ts';
import { artworkHandlers } from '../../src/workers/artwork/handlers.ts';
import { WorkerClient, type WorkerPort } from '../../src/workers/client.ts';
import { STAGE_AREA_PX } from '../../src/workers/artwork/jobs.ts';
import type { FromWorker, JobTable, ToWorker } from '../../src/workers/protocol.ts';
import { serveJob, type Handlers } from '../../src/workers/serve.ts';
import { FILAMENTS, stackOf } from '../helpers/stacks.ts';

/** A worker in this very thread: what is posted to it is served one after the other. */
class LocalPort<Table extends JobTable> implements WorkerPort<Table> {
  private listener: (event: MessageEvent<FromWorker<Table>>) => void = () => undefined;
  private queue: Promise<void> = Promise.resolve();
  readonly answers: FromWorker<Table>[] = [];
  terminated = false;

  constructor(private readonly handlers: Handlers<Table>) {}

  postMessage(message: ToWorker<Table>): void {
    this.queue = this.queue.then(() =>
      serveJob(this.handlers, message, (answer) => {
        this.answers.push(answer);
        this.listener({ data: answer } as MessageEvent<FromWorker<Table>>);
      }),
    );
  }

  addEventListener(type: string, listener: (event: never) => void): void {
    if (type === 'message') this.listener = listener as typeof this.listener;
  }

  terminate(): void {
    this.terminated = true;
  }

  async idle(): Promise<void> {
    await this.queue;
  }
}

/** A picture of `width` x `height` whose brightness grows from left to right, with its last column cut away. */
function slope(width: number, height: number): RgbaRaster {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < width * height; i += 1) {
    const x = i % width;
    data.fill(Math.round((255 * x) / (width - 1)), i * 4, i * 4 + 3);
    data[i * 4 + 3] = x === width - 1 ? 0 : 255;
  }
  return { width, height, data };
}

function start(picture = slope(40, 20)) {
  const decode: Decode = (bytes) =>
    Promise.resolve(
      bytes.length === 0 ? fail('empty') : succeed({ kind: 'png' as const, raster: picture }),
    );
  const port = new LocalPort(artworkHandlers(decode));
  const exportPort = new LocalPort(exportHandlers(decode));
  return {
    port,
    exportPort,
    client: new WorkerClient(() => port),
    exporter: new WorkerClient(() => exportPort, {
      opening: { name: 'open', input: { bytes: Uint8Array.of(7) } },
    }),
  };
}

const request = {
  columns: 40,
  rows: 20,
  sampleMm: 0.5,
  rule: { kind: 'tone' as const, tone: PLAIN_TONE, calm: 0, smallestMm: 0 },
  layers: 12,
  leastLayers: 3,
};
const exported = {
  request: { ...request, ...planSamples(8, 4, 0.2) },
  stack: stackOf(4, 4, 4),
  filaments: FILAMENTS,
  title: 't',
  stamp: 'AAAA-AAAA',
  formats: ['stl'] as const,
  zip: null,
  crop: false,
};

async function outcome(promise: Promise<unknown>): Promise<string> {
  return promise.then(
    () => 'done',
    (error: unknown) => (error instanceof Cancelled ? 'cancelled' : (error as Error).message),
  );
}

describe('artwork worker', () => {
  it('opens a picture, and tells what is cut away', async () => {
    const { client } = start();
    const result = await client.run('open', { bytes: Uint8Array.of(7) });
    if (!result.ok) throw new Error(result.fault.code);
    expect(result.value).to.include({ kind: 'png', width: 40, height: 20 });
    expect(result.value.transparentShare).to.be.closeTo(1 / 40, 1e-9);
    expect(result.value.histogram.reduce((a, b) => a + b)).to.equal(39 * 20);
  });

  it('shows large pictures at stage size', async () => {
    const { client } = start(slope(2000, 1500));
    const result = await client.run('open', { bytes: Uint8Array.of(7) });
    if (!result.ok) throw new Error(result.fault.code);
    const { stage } = result.value;
    expect(stage.width * stage.height).to.be.within(STAGE_AREA_PX * 0.98, STAGE_AREA_PX * 1.01);
    expect(stage.width / stage.height).to.be.closeTo(4 / 3, 0.01);
  });

  it('hands a fault of the picture back as a result', async () => {
    const { client } = start();
    expect(await client.run('open', { bytes: new Uint8Array() })).to.deep.equal(fail('empty'));
  });

  it('computes heights, their counts, and the colour error that belongs to them', async () => {
    const { client } = start();
    await client.run('open', { bytes: Uint8Array.of(7) });
    const { heights, counts } = await client.run('heights', request);
    expect([heights.data[0], heights.data[38], heights.data[39]]).to.deep.equal([3, 12, 0]);
    expect(counts[0]).to.equal(20);
    const { difference } = await client.run('difference', {
      request,
      stack: stackOf(4, 4, 4),
      filaments: FILAMENTS,
    });
    expect(difference?.mean).to.be.within(3, 40);
  });

  it('tells how large a file will be, of every format', async () => {
    const { client, exporter } = start();
    await client.run('open', { bytes: Uint8Array.of(7) });
    const { formats: _, zip: __, ...wanted } = exported;
    for (const format of EXPORT_FORMATS) {
      const size = await client.run('size', { ...wanted, shown: wanted.request, format });
      const { files } = await exporter.run('files', { ...exported, formats: [format] });
      expect(size.triangles, format).to.equal(files[0]?.triangles);
      if (size.exact) expect(size.bytes, format).to.equal(bytesIn(files[0]?.pieces ?? []));
      expect(size.bytes).to.be.greaterThan(50);
    }
  });

  it('an export at another resolution leaves what the stage shows alone', async () => {
    const { client, exporter } = start();
    await client.run('open', { bytes: Uint8Array.of(7) });
    await client.run('heights', request);
    const asked = { request, stack: stackOf(4, 4, 4), filaments: FILAMENTS };
    const before = await client.run('difference', asked);
    const { files } = await exporter.run('files', {
      ...exported,
      request: { ...request, ...planSamples(8, 4, 0.1) },
    });
    const [stl] = files;
    expect(bytesIn(stl?.pieces ?? [])).to.equal(84 + 50 * (stl?.triangles ?? 0));
    const { counts } = await client.run('counts', { ...request, columns: 80, rows: 40 });
    expect(counts.reduce((a, b) => a + b)).to.equal(3200);
    expect(await client.run('difference', asked)).to.deep.equal(before);
  });

  it('jobs name the relief that they are about, in whichever order they come', async () => {
    const { client } = start();
    const stack = stackOf(4, 4, 4);
    const grid = { firstLayerMm: 0.2, layerMm: 0.1 };
    const solid = { ...stack, grid };
    await client.run('open', { bytes: Uint8Array.of(7) });
    const shape = await client.run('solid', { request, stack: solid, mostSamples: 800 });
    // Another relief in between takes nothing away.
    await client.run('counts', { ...request, layers: 5 });
    const { heights } = await client.run('heights', request);
    const { print } = await client.run('print', {
      request: { ...request, columns: 20, rows: 10 },
      stack,
      filaments: FILAMENTS,
    });
    expect([print.width, print.height]).to.deep.equal([20, 10]);
    expect([...print.data.slice(0, 3)]).to.deep.equal(rampOfStack(stack, FILAMENTS)[2]?.colour);
    const tops = new Set(Array.from(shape.positions).filter((_, i) => i % 3 === 2));
    const wanted = new Set([0, ...heights.data].map((n) => (n === 0 ? 0 : 0.2 + (n - 1) * 0.1)));
    expect([...tops].sort().map((z) => z.toFixed(3))).to.deep.equal(
      [...wanted].sort().map((z) => z.toFixed(3)),
    );
    const smooth = await client.run('solid', {
      request,
      stack: solid,
      mostSamples: 800,
      smoothMm: 0.03,
    });
    const sides = (solid: typeof shape): number[] =>
      Array.from(solid.positions).filter((x, i) => i % 3 === 0 && x % 0.5 !== 0);
    expect(sides(shape), 'outlines along the samples').to.have.length(0);
    expect(sides(smooth), 'and across their corners').not.to.have.length(0);
    const thin = await client.run('solid', { request, stack: solid, mostSamples: 200 });
    expect(thin.widthMm).to.be.closeTo(20, 1e-6);
    expect(thin.triangles.length).to.be.lessThan(shape.triangles.length);
  });

  it('makes a thumbnail of the print, transparent where it is cut away', async () => {
    const { client } = start();
    const of = { request, stack: stackOf(4, 4, 4), filaments: FILAMENTS, sidePx: 20 };
    await client.run('open', { bytes: Uint8Array.of(7) });
    const { png } = await client.run('thumbnail', of);
    const { width, height, data } = decodePng(png);
    expect([width, height]).to.deep.equal([20, 10]);
    const print = rampOfStack(of.stack, FILAMENTS);
    expect([...data.slice(0, 4)]).to.deep.equal([...(print[2]?.colour ?? []), 255]);
  });

  it('retires when its last job is done', async () => {
    const { client, port } = start();
    await client.run('open', { bytes: Uint8Array.of(7) });
    const last = outcome(client.run('heights', request));
    await client.retire();
    expect(await last).to.equal('done');
    expect(port.terminated).to.equal(true);
    const idle = start();
    await idle.client.retire();
    expect(await outcome(idle.client.run('heights', request))).to.equal('cancelled');
  });

  it('reports progress that only grows', async () => {
    const { exporter } = start();
    const told: number[] = [];
    await exporter.run('files', exported, { onProgress: (fraction) => told.push(fraction) });
    expect(told.length).to.be.greaterThan(2);
    expect(told).to.deep.equal([...told].sort((a, b) => a - b));
    expect(told.at(-1)).to.be.at.most(1);
  });

  it('cancel overtakes the queue: what waits is never begun, what runs stops at its next checkpoint', async () => {
    const { exporter, exportPort } = start();
    const running = new AbortController();
    const waiting = new AbortController();
    const first = outcome(
      exporter.run('files', exported, {
        signal: running.signal,
        onProgress: () => {
          running.abort();
        },
      }),
    );
    const second = outcome(exporter.run('counts', request, { signal: waiting.signal }));
    waiting.abort();
    expect(await Promise.all([first, second])).to.deep.equal(['cancelled', 'cancelled']);
    await exportPort.idle();
    // The one that waited never came to the worker.
    expect(exportPort.answers.filter(({ kind }) => kind === 'cancelled')).to.have.length(1);
    expect(exportPort.answers.filter(({ kind }) => kind === 'done')).to.have.length(1);
    const aborted = AbortSignal.abort();
    expect(await outcome(exporter.run('counts', request, { signal: aborted }))).to.equal(
      'cancelled',
    );
  });

  it('fails a job, not the worker, when something is wrong; closing cancels what waits', async () => {
    const { client, port } = start();
    expect(await outcome(client.run('heights', request))).to.equal('no artwork is open');
    await client.run('open', { bytes: Uint8Array.of(7) });
    expect(await outcome(client.run('heights', request))).to.equal('done');
    const late = outcome(client.run('heights', request));
    client.close();
    expect(await late).to.equal('cancelled');
    expect(port.terminated).to.equal(true);
  });

  it('a job that was cancelled and never ends goes with its worker, and the next one is done by another', async () => {
    mock.timers.enable({ apis: ['setTimeout'] });
    try {
      interface Table extends JobTable {
        readonly add: { readonly input: number; readonly output: number };
      }
      const ports: { posted: ToWorker<Table>[]; ended: boolean }[] = [];
      const client = new WorkerClient<Table>(() => {
        const own = { posted: [] as ToWorker<Table>[], ended: false };
        const isStuck = ports.length === 0;
        ports.push(own);
        let listen: (event: MessageEvent<FromWorker<Table>>) => void = () => undefined;
        return {
          postMessage: (message) => {
            own.posted.push(message);
            if (isStuck) return;
            void Promise.resolve().then(() => {
              listen({
                data: { kind: 'done', id: message.id, output: (message.input as number) + 1 },
              } as MessageEvent<FromWorker<Table>>);
            });
          },
          addEventListener: (type: string, listener: (event: never) => void) => {
            if (type === 'message') listen = listener as typeof listen;
          },
          terminate: () => {
            own.ended = true;
          },
        };
      });
      const abort = new AbortController();
      const stuck = outcome(client.run('add', 1, { signal: abort.signal }));
      const next = client.run('add', 2);
      abort.abort();
      expect(await stuck).to.equal('cancelled');
      mock.timers.tick(4900);
      expect(
        ports.map(({ ended }) => ended),
        'it may still come to its end',
      ).to.deep.equal([false]);
      mock.timers.tick(200);
      expect(await next).to.equal(3);
      expect(ports.map(({ ended }) => ended)).to.deep.equal([true, false]);
      client.close();
    } finally {
      mock.timers.reset();
    }
  });
});
