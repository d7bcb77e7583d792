import { expect } from 'chai';
import type { ReliefRequest } from '#core/plan/relief-plan.ts';
import { PLAIN_TONE } from '#core/heights/tone.ts';
import { Cancelled } from '#core/base/checkpoint.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { routeOf } from '../../src/app/route.ts';
import { createDocumentStore } from '../../src/state/document-store.ts';
import { moveEdge, scaleLayers } from '../../src/state/edits/band-edits.ts';
import { setCalm } from '../../src/state/edits/height-edits.ts';
import { Exporter } from '../../src/state/exporter.ts';
import { followDocument } from '../../src/state/live-print.ts';
import { WorkerClient, WorkerDied, type WorkerPort } from '../../src/workers/client.ts';
import type { ArtworkJobs, FromWorker, ToWorker } from '../../src/workers/protocol.ts';
import { testDocument } from '../helpers/documents.ts';

/** A worker that answers when it is told to. */
class StubPort implements WorkerPort {
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

describe('a worker that dies', () => {
  it('is told to everybody who waits or comes later; nobody waits for ever', async () => {
    const port = new StubPort();
    const client = new WorkerClient(port);
    const waiting = nameOf(client.run('fineParts', { request: RELIEF, lineMm: 1 }));
    const retiring = client.retire();
    port.die('out of memory');
    expect(await waiting).to.equal('WorkerDied: out of memory');
    await retiring;
    expect(await nameOf(client.run('fineParts', { request: RELIEF, lineMm: 1 }))).to.equal(
      'WorkerDied: out of memory',
    );
    await client.retire();
    expect(port.terminated).to.equal(true);
    const unloaded = new StubPort();
    const second = new WorkerClient(unloaded);
    unloaded.die('');
    let error: unknown;
    await second.run('fineParts', { request: RELIEF, lineMm: 1 }).catch((reason: unknown) => {
      error = reason;
    });
    expect(error).to.be.instanceOf(WorkerDied);
  });

  it('what cannot be sent fails alone, and does not keep the worker from retiring', async () => {
    const port = new StubPort();
    const client = new WorkerClient(port);
    port.cannotCopy = true;
    expect(await nameOf(client.run('fineParts', { request: RELIEF, lineMm: 1 }))).to.contain(
      'copied',
    );
    await client.retire();
    expect(port.terminated).to.equal(true);
  });

  it('answers are told by their number, in whichever order they come; late ones to nobody', async () => {
    const port = new StubPort();
    const client = new WorkerClient(port);
    const abort = new AbortController();
    const first = client.run('fineParts', { request: RELIEF, lineMm: 1 });
    const second = client.run('fineParts', { request: RELIEF, lineMm: 2 });
    const third = nameOf(client.run('fineParts', { request: RELIEF, lineMm: 3 }, abort));
    abort.abort();
    expect(await third).to.equal(`Cancelled: ${new Cancelled().message}`);
    const [one, two, three] = port.asked;
    port.answer({ id: three?.id, kind: 'done', output: { parts: 3 } });
    port.answer({ id: two?.id, kind: 'done', output: { parts: 2 } });
    port.answer({ id: one?.id, kind: 'done', output: { parts: 1 } });
    expect([await first, await second]).to.deep.equal([{ parts: 1 }, { parts: 2 }]);
  });
});

describe('exports', () => {
  it('begin a worker when they are first needed, one for all, and a new one after it has failed', async () => {
    const ports: StubPort[] = [];
    const exporter = new Exporter(Uint8Array.of(1), () => {
      const port = new StubPort();
      ports.push(port);
      return new WorkerClient(port);
    });
    const counts = { columns: 1 } as never;
    const refused = nameOf(exporter.run('counts', counts));
    await soon();
    ports[0]?.done('open', { ok: false, fault: { code: 'undecodable' } });
    expect(await refused).to.contain('undecodable');
    expect(ports[0]?.terminated).to.equal(true);
    const both = [exporter.run('counts', counts), exporter.run('counts', counts)];
    await soon();
    expect(ports).to.have.length(2);
    ports[1]?.done('open', { ok: true });
    await soon();
    ports[1]?.done('counts', 1);
    ports[1]?.done('counts', 2);
    expect(await Promise.all(both)).to.deep.equal([1, 2]);
    const cut = nameOf(exporter.run('counts', counts));
    await soon();
    exporter.close();
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
    const port = new StubPort();
    const troubles: string[] = [];
    const live = followDocument(documents, {} as never, new WorkerClient(port), (error) =>
      troubles.push(error.message),
    );
    const heights = (value: number): object => ({
      heights: { width: 1, height: 1, data: Uint8Array.of(value) },
      counts: new Uint32Array(251),
      edges: new Uint32Array(251),
      extent: { columns: 1, rows: 1 },
    });
    const asked = (): string[] => port.asked.map(({ name }) => name);
    return { documents, port, live, heights, asked, troubles };
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
