import { readFileSync } from 'node:fs';
import type { Server } from 'node:http';
import { expect } from 'chai';
import { startServer } from '../../src/server/serve.ts';

const root = new URL('../../demo/', import.meta.url);
const image = readFileSync(new URL('art/dome-badge.png', root)).toString('base64');
const rack = readFileSync(new URL('rack.csv', root), 'utf8');

describe('POST /api/find', function () {
  this.timeout(120_000);
  let server: Server;
  let address = '';
  before(async () => {
    ({ server, address } = await startServer({ port: 0 }));
  });
  after(() => {
    server.closeAllConnections();
    server.close();
  });

  const ask = async (body: unknown, signal?: AbortSignal) => {
    const response = await fetch(`${address}/api/find`, {
      method: 'POST',
      body: typeof body === 'string' ? body : JSON.stringify(body),
      headers: { 'Content-Type': 'application/json' },
      ...(signal ? { signal } : {}),
    });
    return {
      status: response.status,
      answer: (await response.json()) as Record<string, unknown>,
    };
  };

  it('finds the same stack each time, keeps to what was asked, and tells it as stack JSON', async () => {
    const wanted = { image, rack, 'max-swaps': 2, 'max-layers': 14, seconds: 0.3, bottom: 'soot' };
    const { status, answer } = await ask(wanted);
    expect(status).to.equal(200);
    const { bands } = answer.stack as { bands: { filament: string; layers: number }[] };
    expect(bands[0]?.filament).to.equal('soot');
    expect(bands.length).to.be.at.most(3);
    expect(bands.reduce((sum, { layers }) => sum + layers, 0)).to.be.at.most(14);
    expect((answer.curve as unknown[]).length).to.equal(3);
    expect((await ask(wanted)).answer).to.deep.equal(answer);
  });

  it('says what is wrong with what it is given', async () => {
    const message = async (body: unknown): Promise<string> => {
      const { status, answer } = await ask(body);
      expect(status).to.equal(400);
      return String(answer.message);
    };
    expect(await message('no json')).to.contain('not JSON');
    expect(await message({ rack })).to.contain('image');
    expect(await message({ image, rack, seconds: 99 })).to.contain('seconds');
    expect(await message({ image, rack, surprise: 1 })).to.contain('surprise');
    expect(await message({ image: 'AAAA', rack })).to.contain('image:');
    expect(await message({ image, rack: 'nothing' })).to.contain('rack:');
    expect(await message({ image, rack, must: ['nowhere'], seconds: 0.1 })).to.contain('nowhere');
  });

  it('refuses bodies that are too large', async () => {
    const response = await fetch(`${address}/api/find`, {
      method: 'POST',
      body: 'x'.repeat(40_000_001),
    });
    expect(response.status).to.equal(413);
  });

  const state = async () =>
    (await (await fetch(`${address}/api/find`)).json()) as { running: number; waiting: number };

  it('others wait while one runs, and get their answer', async () => {
    const quick = { image, rack, 'max-swaps': 1, 'max-layers': 8, seconds: 0.1 };
    const leave = new AbortController();
    const long = ask({ image, rack, seconds: 30 }, leave.signal).catch(() => null);
    await until(async () => (await state()).running > 0);
    const others = [ask(quick), ask(quick)];
    // As many as there are processors to spare run; with two there is one, and the others wait for it.
    await until(async () => {
      const { running, waiting } = await state();
      return running + waiting > 1;
    });
    leave.abort();
    expect((await Promise.all(others)).map(({ status }) => status)).to.deep.equal([200, 200]);
    await long;
    await until(async () => (await state()).running === 0);
  });

  it('ends the search when the client goes away', async () => {
    const leave = new AbortController();
    const gone = ask({ image, rack, seconds: 30 }, leave.signal).catch((error: unknown) =>
      error instanceof Error ? error.name : '',
    );
    await until(async () => (await state()).running === 1);
    leave.abort();
    expect(await gone).to.equal('AbortError');
    await until(async () => (await state()).running === 0);
  });
});

/** Waits for something; fails after a while. */
async function until(holds: () => Promise<boolean>): Promise<void> {
  const end = Date.now() + 90_000;
  while (!(await holds())) {
    if (Date.now() > end) expect.fail('waited in vain');
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
