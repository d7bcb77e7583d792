import { expect } from 'chai';
import type { ReliefRequest } from '#core/plan/relief-plan.ts';
import { PLAIN_TONE } from '#core/heights/tone.ts';
import { Cancelled } from '#core/base/checkpoint.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { routeOf } from '../../src/app/route.ts';
import { createDocumentStore } from '../../src/state/document-store.ts';
import { moveEdge, scaleLayers } from '../../src/state/edits/band-edits.ts';
import { addPictureEdit } from '../../src/state/edits/picture-edits.ts';
import { setCalm } from '../../src/state/edits/height-edits.ts';
import { followDocument } from '../../src/state/live-print.ts';
import {
  WorkerClient,
  WorkerDied,
  type WorkerHabits,
  type WorkerPort,
} from '../../src/workers/client.ts';
import type { ArtworkJobs } from '../../src/workers/artwork/jobs.ts';
import type { FromWorker, ToWorker } from '../../src/workers/protocol.ts';
import { serveJob } from '../../src/workers/serve.ts';
import { testDocument } from '../helpers/documents.ts';

/** A worker that answers when it is told to. */
class StubPort implements WorkerPort<ArtworkJobs> {
  readonly asked: ToWorker<ArtworkJobs>[] = [];
  terminated = false;
  cannotCopy = false;
  private hear: (event: MessageEvent<FromWorker<ArtworkJobs>>) => void = () => undefined;
  private fail: (event: ErrorEvent) => void = () => undefined;

  postMessage(message: ToWorker<ArtworkJobs>): void {
    if (this.cannotCopy) throw new Error('cannot be copied');
    this.asked.push(message);
  }
  addEventListener(type: string, listener: never): void {
    if (type === 'message') this.hear = listener;
    else this.fail = listener;
  }
  terminate(): void {
    this.terminated = true;
  }
  answer(message: object): void {
    this.hear({ data: message } as never);
  }
  die(message: string): void {
    this.fail({ message } as never);
  }
  /** Answers the oldest question that has this name and was not answered yet. */
  done(name: string, output: unknown): void {
    const at = this.asked.findIndex((one) => one.name === name);
    const [question] = this.asked.splice(at, 1);
    if (!question) throw new Error(`nobody asked for ${name}`);
    this.answer({ id: question.id, kind: 'done', output });
  }
}

const nameOf = async (promise: Promise<unknown>): Promise<string> =>
  promise.then(
    () => 'done',
    (error: unknown) => (error instanceof Error ? `${error.name}: ${error.message}` : '?'),
  );
const RELIEF: ReliefRequest = {
  columns: 4,
  rows: 3,
  sampleMm: 1,
  rule: { kind: 'tone', tone: PLAIN_TONE, calm: 0, smallestMm: 0 },
  layers: 5,
  leastLayers: 1,
};
const soon = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));

/** A client whose workers answer when they are told to. */
function stubbed(habits: WorkerHabits<ArtworkJobs> = {}) {
  const ports: StubPort[] = [];
  const client = new WorkerClient<ArtworkJobs>(() => {
    const port = new StubPort();
    ports.push(port);
    return port;
  }, habits);
  const parts = (lineMm: number, options?: object): Promise<unknown> =>
    client.run('fineParts', { request: RELIEF, lineMm }, options);
  const names = (i: number): string[] => ports[i]?.asked.map(({ name }) => name) ?? [];
  return { ports, client, parts, names };
}

describe('a worker that dies', () => {
  it('fails the job it had, and is replaced by one that holds what it held', async () => {
    const { ports, client, parts, names } = stubbed({ keeps: ['open'] });
    const opened = client.run('open', { bytes: Uint8Array.of(1) });
    ports[0]?.done('open', { ok: true });
    await opened;
    const lost = nameOf(parts(1));
    const next = parts(2);
    ports[0]?.die('out of memory');
    expect(await lost).to.equal('WorkerDied: out of memory');
    expect(ports[0]?.terminated).to.equal(true);
    // What the dead one still says is heard by nobody.
    ports[0]?.answer({ id: 3, kind: 'done', output: 'late' });
    expect(names(1)).to.deep.equal(['open']);
    ports[1]?.done('open', { ok: true });
    ports[1]?.done('fineParts', { share: 2 });
    expect(await next).to.deep.equal({ share: 2 });
    expect(ports).to.have.length(2);
  });

  it('again and again is told to everybody who waits or comes later; nobody waits for ever', async () => {
    const { ports, client, parts } = stubbed();
    for (const i of [0, 1]) {
      const lost = nameOf(parts(1));
      ports[i]?.die('');
      expect(await lost).to.match(/^WorkerDied: its script could not be loaded/);
    }
    let error: unknown;
    const first = parts(1).catch((reason: unknown) => {
      error = reason;
    });
    const second = nameOf(parts(2));
    const retiring = client.retire();
    ports[2]?.die('out of memory');
    await Promise.all([first, retiring]);
    expect(error).to.be.instanceOf(WorkerDied).with.property('final', true);
    expect(await second).to.equal('WorkerDied: out of memory');
    expect(await nameOf(parts(3))).to.equal('WorkerDied: out of memory');
    expect(ports).to.have.length(3);
    await client.retire();
  });

  it('what cannot be sent fails alone, and does not keep the worker from retiring', async () => {
    const { ports, client, parts } = stubbed();
    const fine = parts(1);
    const [port] = ports;
    if (port) port.cannotCopy = true;
    const bad = nameOf(parts(2));
    port?.done('fineParts', { share: 1 });
    expect(await fine).to.deep.equal({ share: 1 });
    expect(await bad).to.contain('copied');
    await client.retire();
    expect(port?.terminated).to.equal(true);
  });

  it('gets one job at a time, the most urgent first; what nobody waits for any more is never begun', async () => {
    const { ports, client, parts, names } = stubbed({ urgent: ['heights'] });
    const abort = new AbortController();
    const running = parts(1);
    const given = nameOf(parts(2, { signal: abort.signal }));
    const later = parts(3);
    const heights = client.run('heights', RELIEF);
    abort.abort();
    expect(await given).to.equal(`Cancelled: ${new Cancelled().message}`);
    expect(names(0)).to.deep.equal(['fineParts']);
    ports[0]?.done('fineParts', { share: 1 });
    expect(names(0), 'before what was asked earlier').to.deep.equal(['heights']);
    // An answer to a question that is over, or was never asked, is told to nobody.
    ports[0]?.answer({ id: 1, kind: 'done', output: { share: 9 } });
    ports[0]?.answer({ id: 77, kind: 'done', output: {} });
    ports[0]?.done('heights', { counts: 1 });
    ports[0]?.done('fineParts', { share: 3 });
    expect([await running, await later, await heights]).to.deep.equal([
      { share: 1 },
      { share: 3 },
      { counts: 1 },
    ]);
  });

  it('a job that is given up while it runs keeps its place until the worker has stopped', async () => {
    const { ports, parts, names } = stubbed();
    const abort = new AbortController();
    const given = nameOf(parts(1, { signal: abort.signal }));
    const next = parts(2);
    abort.abort();
    expect(await given).to.match(/^Cancelled/);
    const cell = ports[0]?.asked[0]?.cancelled;
    expect(cell && Atomics.load(cell, 0)).to.equal(1);
    expect(names(0)).to.have.length(1);
    ports[0]?.answer({ id: ports[0].asked[0]?.id, kind: 'cancelled' });
    expect(names(0)).to.have.length(2);
    ports[0]?.answer({ id: ports[0].asked[1]?.id, kind: 'done', output: { share: 2 } });
    expect(await next).to.deep.equal({ share: 2 });
  });

  it('errors of a job tell where in the worker they came up', async () => {
    const { ports, parts } = stubbed();
    const failing = parts(1).catch((error: unknown) => error);
    const answers: FromWorker<ArtworkJobs>[] = [];
    const [asked] = ports[0]?.asked ?? [];
    if (!asked) throw new Error('nothing was asked');
    const deep = (): never => {
      throw new TypeError('no such sample');
    };
    await serveJob({ fineParts: deep } as never, asked, (answer) => answers.push(answer));
    ports[0]?.answer(answers[0] ?? {});
    const error = await failing;
    expect(error).to.be.instanceOf(Error).with.property('message', 'no such sample');
    expect((error as Error).stack).to.match(/TypeError: no such sample\n +at .*deep/);
  });
});

describe('a worker that is begun when it is needed', () => {
  it('opens its picture first, tells when it cannot, and tries anew with the next job', async () => {
    const { ports, client, parts, names } = stubbed({
      opening: { name: 'open', input: { bytes: Uint8Array.of(1) } },
      idleMs: 0,
    });
    expect(ports).to.have.length(0);
    const refused = nameOf(parts(1));
    expect(names(0)).to.deep.equal(['open']);
    ports[0]?.done('open', { ok: false, fault: { code: 'undecodable' } });
    expect(await refused).to.contain('undecodable');
    expect(ports[0]?.terminated).to.equal(true);
    const both = [parts(1), parts(2)];
    expect(ports).to.have.length(2);
    ports[1]?.done('open', { ok: true });
    ports[1]?.done('fineParts', 1);
    ports[1]?.done('fineParts', 2);
    expect(await Promise.all(both)).to.deep.equal([1, 2]);
    // Without work it goes; the next job begins another one.
    await new Promise((resolve) => setTimeout(resolve, 5));
    expect(ports[1]?.terminated).to.equal(true);
    const cut = nameOf(parts(3));
    expect(names(2)).to.deep.equal(['open']);
    client.close();
    expect(await cut).to.match(/^Cancelled/);
  });
});

describe('the live print', () => {
  const open = () => {
    const document = testDocument([
      ['soot', 6],
      ['rust', 6],
    ]);
    const documents = createDocumentStore(document);
    const troubles: string[] = [];
    const { ports, client } = stubbed({ urgent: ['heights'] });
    const live = followDocument(documents, {} as never, client, (error) =>
      troubles.push(error.message),
    );
    const [port = new StubPort()] = ports;
    const heights = (value: number): object => ({
      heights: { width: 1, height: 1, data: Uint8Array.of(value) },
      counts: new Uint32Array(251),
      edges: new Uint32Array(251),
      extent: { columns: 1, rows: 1 },
    });
    const asked = (): string[] => port.asked.map(({ name }) => name);
    return { documents, port, ports, live, heights, asked, troubles };
  };

  it('an edge inside the stack changes the colours at once and asks for no heights', async () => {
    const { documents, port, live, heights, asked } = open();
    port.done('heights', heights(4));
    await soon();
    documents.getState().change(moveEdge(0, 7));
    const {
      stack: { bands, grid, filaments },
    } = documents.getState().document;
    expect(live.store.getState().ramp).to.deep.equal(rampOfStack({ bands, grid }, filaments));
    expect(asked()).to.not.include('heights');
    live.stop();
  });

  it('asks one thing at a time, of the newest wish alone, and says when it is at rest', async () => {
    const { documents, port, live, heights, asked } = open();
    expect(live.store.getState().pending).to.equal(true);
    documents.getState().change(scaleLayers(13));
    documents.getState().change(scaleLayers(14));
    documents.getState().change(scaleLayers(15));
    expect(asked(), 'the first one is under way').to.deep.equal(['heights']);
    port.done('heights', heights(1));
    await soon();
    expect(port.asked.map(({ input }) => (input as { layers: number }).layers)).to.deep.equal([15]);
    port.done('heights', heights(2));
    await soon();
    expect(live.store.getState().heights?.data[0]).to.equal(2);
    await new Promise((resolve) => setTimeout(resolve, 260));
    expect(live.store.getState().pending).to.equal(true);
    port.done('difference', { difference: null });
    await soon();
    port.done('fineParts', { parts: null });
    await soon();
    expect(live.store.getState().pending).to.equal(false);
    documents.getState().change(setCalm(0.5));
    expect(live.store.getState().pending).to.equal(true);
    live.stop();
  });

  it('edits that take a while tell how far they are, and are given up when they are taken back', async () => {
    const { documents, port, live, heights } = open();
    port.done('heights', heights(1));
    await soon();
    documents.getState().change(addPictureEdit('g', 'grey'));
    const edits = port.asked.find(({ name }) => name === 'edited');
    await new Promise((resolve) => setTimeout(resolve, 260));
    port.answer({ id: edits?.id, kind: 'progress', fraction: 0.4 });
    expect(live.store.getState().editing).to.equal(0.4);
    expect(edits?.cancelled?.[0]).to.equal(0);
    documents.getState().undo();
    expect(edits?.cancelled?.[0]).to.not.equal(0);
    port.answer({ id: edits?.id, kind: 'cancelled' });
    await soon();
    expect(live.store.getState().editing).to.equal(null);
    live.stop();
  });

  it('what fails is told, and the next wish is asked for', async () => {
    const { documents, port, live, asked, troubles } = open();
    const [question] = port.asked.splice(0, 1);
    port.answer({ id: question?.id, kind: 'failed', message: 'no room' });
    await soon();
    expect(troubles).to.deep.equal(['no room']);
    documents.getState().change(scaleLayers(20));
    await soon();
    expect(asked()).to.include('heights');
    live.stop();
  });
});

describe('the live print and its worker', () => {
  it('are there again when the worker dies: the picture is opened anew, the heights asked for again', async () => {
    const { ports, client } = stubbed({
      opening: { name: 'open', input: { bytes: Uint8Array.of(1) } },
    });
    const told: Error[] = [];
    const documents = createDocumentStore(testDocument([['soot', 6]]));
    const live = followDocument(documents, {} as never, client, (error) => told.push(error));
    ports[0]?.done('open', { ok: true });
    expect(ports[0]?.asked.map(({ name }) => name)).to.deep.equal(['heights']);
    ports[0]?.die('out of memory');
    await soon();
    expect(told.map(String)).to.deep.equal(['WorkerDied: out of memory']);
    ports[1]?.done('open', { ok: true });
    ports[1]?.done('heights', {
      heights: { width: 1, height: 1, data: Uint8Array.of(3) },
      counts: new Uint32Array(251),
      edges: new Uint32Array(251),
      extent: { columns: 1, rows: 1 },
    });
    await soon();
    expect(live.store.getState().heights?.data[0]).to.equal(3);
    live.stop();
  });
});

describe('addresses', () => {
  it('with a bad escape name nothing, and break nothing', () => {
    expect(routeOf('/rack/wedge/%E0%A4%A')).to.deep.equal({ place: 'rack', wedgeOf: '%E0%A4%A' });
    expect(routeOf('/rack/wedge/light%20blue')).to.deep.equal({
      place: 'rack',
      wedgeOf: 'light blue',
    });
    expect(routeOf('/%')).to.deep.equal({ place: 'shelf' });
  });
});
