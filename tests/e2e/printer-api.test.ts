import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { request, type IncomingMessage, type Server } from 'node:http';
import { connect } from 'node:net';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import type { HeightMap } from '#core/base/raster.ts';
import { USUAL_PRINTER } from '#core/printer/printer.ts';
import { statusSchema, type PrinterStatus } from '../../src/platform/printer-api.ts';
import { startServer } from '../../src/server/serve.ts';
import { slice } from '../helpers/gcode.ts';

const RELIEF: HeightMap = { width: 12, height: 8, data: new Uint8Array(96).fill(4) };
const GCODE = slice(RELIEF, 4, { before: { 3: ['M600'] } });

interface Answer {
  readonly status: number;
  readonly body: Record<string, unknown>;
}

/** A plain HTTP client: it shares nothing with the one of the app. */
async function ask(
  address: string,
  method: string,
  path: string,
  body?: string | object,
): Promise<Answer> {
  const sent = typeof body === 'object' ? JSON.stringify(body) : body;
  const answer = await fetch(`${address}/api/printer${path}`, {
    method,
    ...(sent === undefined ? {} : { body: sent }),
    headers: {
      'Content-Type': typeof body === 'object' ? 'application/json' : 'application/octet-stream',
    },
  });
  const text = await answer.text();
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch {
    read = { text };
  }
  return { status: answer.status, body: read as Record<string, unknown> };
}

/** Reads server-sent events from the bare stream until one fits. */
async function heard(
  address: string,
  id: string,
  fits: (status: PrinterStatus) => boolean,
): Promise<PrinterStatus[]> {
  const all: PrinterStatus[] = [];
  const asked = request(`${address}/api/printer/${id}/events`);
  asked.end();
  const [answer] = (await once(asked, 'response')) as [IncomingMessage];
  expect(answer.headers['content-type']).to.match(/^text\/event-stream/);
  answer.setEncoding('utf8');
  let text = '';
  for await (const chunk of answer as AsyncIterable<string>) {
    text += chunk;
    const parts = text.split('\n\n');
    text = parts.pop() ?? '';
    for (const part of parts) {
      if (!/^event: ?status$/m.test(part)) continue;
      all.push(statusSchema.parse(JSON.parse(/^data: ?(.*)$/m.exec(part)?.[1] ?? '')));
    }
    if (all.some(fits)) break;
  }
  asked.destroy();
  return all;
}

describe('the simulated printers behind /api/printer', function () {
  this.timeout(180_000);
  let server: Server;
  let address = '';
  before(async () => {
    ({ server, address } = await startServer({ port: 0 }));
  });
  after(() => {
    server.closeAllConnections();
    server.close();
  });

  const putUp = async (more: object = {}, file: string | null = GCODE): Promise<string> => {
    const { status, body } = await ask(address, 'POST', '', {
      printer: USUAL_PRINTER,
      speed: 600,
      spool: 'soot',
      ...more,
    });
    expect(status, JSON.stringify(body)).to.equal(201);
    const id = String(body.id);
    if (file !== null) {
      const sent = await ask(address, 'PUT', `/${id}/file`, file);
      expect(sent.status, JSON.stringify(sent.body)).to.equal(200);
      expect(sent.body.file).to.deep.include({ layers: 4, stops: 1, bytes: file.length });
    }
    return id;
  };
  const command = (id: string, body: object): Promise<Answer> =>
    ask(address, 'POST', `/${id}/commands`, body);
  const ofState = (state: string) => (status: PrinterStatus) => status.state === state;

  it('take a file, heat, print, wait at the stop, load, resume and are done, told by server-sent events', async () => {
    const id = await putUp();
    const waiting = heard(address, id, ofState('waiting'));
    const started = await command(id, { command: 'start' });
    expect(started.status).to.equal(200);
    expect(started.body.state).to.equal('heating');
    const told = await waiting;
    const at = told.at(-1);
    expect(at?.waiting).to.include({ why: 'stop', stop: 0, layer: 3, command: 'M600' });
    expect(GCODE.split('\n')[(at?.waiting?.line ?? 0) - 1]).to.match(/^M600/);
    const done = heard(address, id, ofState('done'));
    expect((await command(id, { command: 'load', spool: 'rust' })).status).to.equal(200);
    expect((await command(id, { command: 'resume' })).status).to.equal(200);
    const last = (await done).at(-1);
    expect(last?.printS).to.be.closeTo(last?.totalS ?? 0, 1e-3);
    expect(last?.laid.map(({ spool }) => spool)).to.deep.equal(['soot', 'rust']);
    expect(last?.events.map(({ kind }) => kind)).to.deep.equal([
      'started',
      'heated',
      'stopped-at',
      'loaded',
      'resumed',
      'done',
    ]);
    // As the plainest client says it, and who listens is told by the end of the stream.
    const listening = heard(address, id, () => false);
    await new Promise((resolve) => setTimeout(resolve, 100));
    const gone = await fetch(`${address}/api/printer/${id}`, { method: 'DELETE' });
    expect(gone.status).to.equal(200);
    expect((await listening).length).to.be.at.least(1);
    expect((await ask(address, 'GET', `/${id}`)).status).to.equal(404);
  });

  it('have the faults that are switched on, and speeds that change on the way', async () => {
    const through = await putUp({ faults: { ignores: 1 } });
    await command(through, { command: 'start' });
    const ran = (await heard(address, through, ofState('done'))).at(-1);
    expect(ran?.laid.map(({ spool }) => spool)).to.deep.equal(['soot']);
    expect(ran?.events.map(({ kind }) => kind)).to.include('ran-through');

    const dry = await putUp({ faults: { runsOutAfterMm: 1, ignores: 1 } });
    await command(dry, { command: 'start' });
    const empty = (await heard(address, dry, ofState('done'))).at(-1);
    expect(empty?.laid.map(({ spool }) => spool)).to.deep.equal(['soot', null]);

    const dark = await putUp({ faults: { powerAtS: 2 } });
    await command(dark, { command: 'start' });
    const lost = (await heard(address, dark, ofState('faulted'))).at(-1);
    expect(lost?.printS).to.equal(2);

    const slow = await putUp({ speed: 1 });
    await command(slow, { command: 'start' });
    const { body } = await ask(address, 'GET', `/${slow}`);
    expect(body.clockS).to.be.below(30);
    expect(
      (await ask(address, 'PATCH', `/${slow}`, { speed: 600, faults: { resumesAfterS: 5 } }))
        .status,
    ).to.equal(200);
    const itself = (await heard(address, slow, ofState('done'))).at(-1);
    expect(itself?.events.map(({ kind }) => kind)).to.include('resumed-itself');
  });

  it('refuse what cannot be, in words, and stay as they are', async () => {
    // In real time: it still heats when it is asked for what cannot be while it does.
    const id = await putUp({ speed: 1 }, null);
    const refused = async (
      answer: Promise<Answer>,
      status: number,
      words: RegExp,
    ): Promise<void> => {
      const told = await answer;
      expect(told.status).to.equal(status);
      expect(JSON.stringify(told.body)).to.match(words);
    };
    await refused(command(id, { command: 'start' }), 409, /no file/);
    await refused(command(id, { command: 'jump' }), 400, /command/);
    await refused(command(id, { command: 'load' }), 400, /spool/);
    await refused(ask(address, 'POST', `/${id}/commands`, 'no json'), 400, /not JSON/);
    await refused(
      ask(address, 'POST', '', { printer: { ...USUAL_PRINTER, lineMm: 9 } }),
      400,
      /lineMm/,
    );
    await refused(ask(address, 'POST', '', { printer: USUAL_PRINTER, speed: 3601 }), 400, /speed/);
    await refused(ask(address, 'PATCH', `/${id}`, { faults: { explodes: true } }), 400, /explodes/);
    await refused(ask(address, 'PUT', `/${id}/file`, ''), 400, /empty/i);
    await refused(ask(address, 'PUT', `/${id}/file`, 'nothing to print here\n'), 400, /./);
    await refused(ask(address, 'PUT', `/${id}/file`, 'PK\u0003\u0004rest'), 400, /./);
    await refused(ask(address, 'PUT', `/${id}/file`, '\u0000\u0001'.repeat(5000)), 400, /./);
    await refused(ask(address, 'PUT', '/nowhere/file', GCODE), 404, /no such printer/);
    await refused(ask(address, 'GET', '/nowhere/events'), 404, /no such printer/);
    expect((await ask(address, 'PUT', `/${id}/file`, GCODE)).status).to.equal(200);
    await command(id, { command: 'start' });
    await refused(ask(address, 'PUT', `/${id}/file`, GCODE), 409, /under way/);
    await refused(command(id, { command: 'start' }), 409, /under way/);
    await refused(command(id, { command: 'resume' }), 409, /wait/);
    expect((await command(id, { command: 'stop' })).body.state).to.equal('done');
  });

  it('run fifty side by side, each by its own clock', async () => {
    const ids = await Promise.all(
      Array.from({ length: 50 }, (_, n) => putUp({ spool: `spool-${n}`, faults: { ignores: 1 } })),
    );
    await Promise.all(ids.map((id) => command(id, { command: 'start' })));
    const ends = await Promise.all(ids.map((id) => heard(address, id, ofState('done'))));
    ends.forEach((all, n) => {
      expect(all.at(-1)?.laid).to.deep.equal([{ fromS: 0, spool: `spool-${n}` }]);
    });
    const { body } = await ask(address, 'GET', '');
    expect((body.printers as unknown[]).length).to.be.at.least(50);
    await Promise.all(ids.map((id) => ask(address, 'DELETE', `/${id}`)));
  });

  it('survive clients that close half, leave in the midst, or never say all', async () => {
    const id = await putUp();
    const port = Number(new URL(address).port);
    // One that says all, closes its side, and still wants its answer.
    const half = connect({ port, allowHalfOpen: true });
    half.end(`GET /api/printer/${id} HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n`);
    let said = '';
    for await (const chunk of half as AsyncIterable<Buffer>) said += chunk.toString();
    expect(said).to.contain('"state":"idle"');
    // Some that listen and go away, and some that leave in the midst of a file.
    for (let n = 0; n < 10; n += 1) {
      const gone = connect({ port });
      gone.write(
        n % 2 === 0
          ? `GET /api/printer/${id}/events HTTP/1.1\r\nHost: localhost\r\n\r\n`
          : `PUT /api/printer/${id}/file HTTP/1.1\r\nHost: localhost\r\nContent-Length: 5000\r\n\r\nG1 X1`,
      );
      await new Promise((resolve) => setTimeout(resolve, 30));
      gone.destroy();
    }
    await command(id, { command: 'start' });
    expect((await heard(address, id, ofState('waiting'))).at(-1)?.printS).to.be.above(0);
  });

  it('describe themselves: every answer fits the schema that is told, and nothing else stands there', async () => {
    const { status, body } = await ask(address, 'GET', '/openapi.json');
    expect(status).to.equal(200);
    expect(body.openapi).to.equal('3.1.0');
    const paths = body.paths as Record<string, Record<string, { responses?: object }>>;
    expect(Object.keys(paths).sort()).to.deep.equal([
      '/api/printer',
      '/api/printer/openapi.json',
      '/api/printer/{id}',
      '/api/printer/{id}/commands',
      '/api/printer/{id}/events',
      '/api/printer/{id}/file',
    ]);
    // Every reference leads somewhere.
    const { schemas } = body.components as { schemas: Record<string, { properties?: object }> };
    for (const [, name] of JSON.stringify(paths).matchAll(/#\/components\/schemas\/(\w+)/g))
      expect(Object.keys(schemas)).to.include(name);
    const id = await putUp();
    const { body: told } = await ask(address, 'GET', `/${id}`);
    expect(Object.keys(schemas.Status?.properties ?? {}).sort()).to.deep.equal(
      Object.keys(told).sort(),
    );
  });

  it('are gone when the server is killed in a run, and a new server runs the file again', async () => {
    const begin = async (): Promise<{ child: ChildProcess; at: string }> => {
      const child = spawn(
        process.execPath,
        [fileURLToPath(new URL('../../dist/server/serve.mjs', import.meta.url))],
        {
          env: { ...process.env, PORT: '0' },
          stdio: ['ignore', 'pipe', 'inherit'],
        },
      );
      const [line] = (await once(child.stdout as NodeJS.ReadableStream, 'data')) as [Buffer];
      return { child, at: /http:\S+/.exec(line.toString())?.[0] ?? '' };
    };
    const first = await begin();
    const made = await ask(first.at, 'POST', '', {
      printer: USUAL_PRINTER,
      speed: 600,
      spool: 'soot',
    });
    const id = String(made.body.id);
    await ask(first.at, 'PUT', `/${id}/file`, GCODE);
    await ask(first.at, 'POST', `/${id}/commands`, { command: 'start' });
    const stream = heard(first.at, id, () => false).then(
      () => 'ended',
      () => 'broken',
    );
    await new Promise((resolve) => setTimeout(resolve, 200));
    first.child.kill('SIGKILL');
    expect(await stream).to.be.oneOf(['ended', 'broken']);
    const second = await begin();
    try {
      expect((await ask(second.at, 'GET', `/${id}`)).status).to.equal(404);
      const again = await ask(second.at, 'POST', '', {
        printer: USUAL_PRINTER,
        speed: 600,
        spool: 'soot',
      });
      await ask(second.at, 'PUT', `/${String(again.body.id)}/file`, GCODE);
      await ask(second.at, 'POST', `/${String(again.body.id)}/commands`, { command: 'start' });
      const told = await heard(second.at, String(again.body.id), ofState('waiting'));
      expect(told.at(-1)?.waiting?.layer).to.equal(3);
    } finally {
      second.child.kill('SIGKILL');
    }
  });
});
