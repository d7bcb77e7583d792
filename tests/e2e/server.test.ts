import { readdirSync, readFileSync } from 'node:fs';
import { connect } from 'node:net';
import { request as ask, type Server } from 'node:http';
import { expect } from 'chai';
import { startServer } from '../../src/server/serve.ts';

const rack = readFileSync(new URL('../../demo/rack.csv', import.meta.url), 'utf8');

describe('the server', function () {
  this.timeout(60_000);
  let server: Server;
  let port = 0;
  before(async () => {
    ({ server } = await startServer({ port: 0 }));
    port = (server.address() as { port: number }).port;
  });
  after(() => {
    server.closeAllConnections();
    server.close();
  });

  /** Sends bytes as they are, and gives what came back until the other side closed or `enough` came. */
  const send = (
    text: string,
    { half = false, enough = /\r\n\r\n/ }: { half?: boolean; enough?: RegExp } = {},
  ): Promise<string> =>
    new Promise((resolve, reject) => {
      const socket = connect({ port, host: '127.0.0.1', allowHalfOpen: true }, () => {
        socket.write(text);
        if (half) socket.end();
      });
      let got = '';
      const timer = setTimeout(() => {
        socket.destroy();
        reject(new Error(`no answer to ${JSON.stringify(text.slice(0, 60))}, but ${got}`));
      }, 20_000);
      const done = (): void => {
        clearTimeout(timer);
        socket.destroy();
        resolve(got);
      };
      socket.on('data', (data) => {
        got += data.toString('latin1');
        if (!half && enough.test(got)) done();
      });
      socket.on('end', done);
      socket.on('error', reject);
    });
  const statusOf = async (line: string, more = ''): Promise<number> =>
    Number(
      /^HTTP\/1\.1 (\d+)/.exec(
        await send(`${line} HTTP/1.1\r\nHost: localhost\r\n${more}\r\n`),
      )?.[1],
    );

  it('answers every target, whatever it is', async () => {
    expect(await statusOf('GET /')).to.equal(200);
    expect(await statusOf('GET //')).to.equal(200);
    expect(await statusOf('GET //[')).to.equal(404);
    expect(await statusOf('GET /[')).to.equal(404);
    expect(await statusOf('GET http://')).to.equal(400);
    expect(await statusOf('GET http://localhost/rack')).to.equal(200);
    expect(await statusOf('GET *')).to.equal(400);
    expect(await statusOf('OPTIONS *')).to.equal(204);
    expect(await statusOf('GET /%')).to.equal(400);
    expect(await statusOf('GET /%00')).to.be.oneOf([400, 404]);
    expect(await statusOf('GET /rack/wedge/%E0%A4%A')).to.equal(400);
    expect(await statusOf('GET /../../etc/passwd')).to.equal(404);
    expect(await statusOf('GET /?%')).to.equal(200);
    expect(await statusOf('PUT /', 'Content-Length: 0\r\n')).to.equal(405);
    expect(await statusOf('DELETE /project/x/stack')).to.equal(405);
    expect(await statusOf('HEAD /')).to.equal(200);
    expect(await statusOf('GET /', 'Range: bytes=0-10\r\n')).to.equal(200);
    expect(await statusOf('GET /api/find')).to.equal(200);
    expect(await statusOf('GET /api/other')).to.equal(404);
  });

  it('answers what is listed, and none of the endpoints that the framework brings', async () => {
    const picture = encodeURIComponent('/mark.svg');
    for (const target of [
      `/_image?href=${picture}&w=20000&f=webp`,
      `/_image?href=${encodeURIComponent('data:image/svg+xml,<svg/>')}&w=20000`,
      '//_image',
      '/_image/',
      '/%5fimage',
      '/_actions/x',
      '/_server-islands/x',
      '/other',
      '/.env',
      '/api',
      '/api/findx',
    ])
      expect(await statusOf(`GET ${target}`), target).to.equal(404);
    for (const target of ['////x/%2e%2e', '/%2e%2e/', '/x/..%2f', '/x/%2e', '/project/..%5cx'])
      expect(await statusOf(`GET ${target}`), target).to.equal(404);
    expect(await statusOf('GET /project/x/stack')).to.equal(200);
    expect(await statusOf('GET /mark.svg')).to.equal(200);
  });

  const asked = async (line: string, headers: string): Promise<number> =>
    Number(/^HTTP\/1\.1 (\d+)/.exec(await send(`${line} HTTP/1.1\r\n${headers}\r\n`))?.[1]);

  it('answers by the names of its own machine only', async () => {
    for (const host of [
      'localhost',
      'localhost:4310',
      '127.0.0.1:80',
      '127.9.9.9',
      '[::1]:4310',
      'a.LOCALHOST.',
    ])
      expect(await asked('GET /', `Host: ${host}\r\n`), host).to.equal(200);
    for (const host of [
      'pages.example',
      'pages.example:4310',
      'localhost.pages.example',
      '127.0.0.1.pages.example',
      '10.0.0.1',
      '[::2]',
      'localhost@pages.example',
      '',
    ])
      for (const target of ['/', '/api/find', '/mark.svg'])
        expect(await asked(`GET ${target}`, `Host: ${host}\r\n`), `${host} ${target}`).to.equal(
          421,
        );
    expect(await asked('GET http://pages.example/', 'Host: localhost\r\n')).to.equal(421);
    const { server: open } = await startServer({
      port: 0,
      hosts: ['workshop', 'bench.example:80'],
    });
    try {
      const other = `http://127.0.0.1:${(open.address() as { port: number }).port}/mark.svg`;
      const byName = (host: string): Promise<number> =>
        new Promise((resolve, reject) => {
          ask(other, { headers: { Host: host } }, (response) => {
            response.resume();
            resolve(response.statusCode ?? 0);
          })
            .on('error', reject)
            .end();
        });
      expect(await byName('workshop:4310')).to.equal(200);
      expect(await byName('bench.example')).to.equal(200);
      expect(await byName('pages.example')).to.equal(421);
    } finally {
      open.closeAllConnections();
      open.close();
    }
  });

  it('lets nothing be changed by a page from elsewhere', async () => {
    const own = 'Host: localhost\r\nContent-Type: application/json\r\nContent-Length: 2\r\n';
    const changes = (method: string, more: string): Promise<number> =>
      asked(`${method} /api/printer/none`, `${own}${more}`);
    for (const method of ['POST', 'PUT', 'PATCH', 'DELETE'])
      for (const foreign of [
        'Origin: http://pages.example\r\n',
        'Origin: null\r\n',
        'Origin: http://localhost:81\r\n',
        'Sec-Fetch-Site: cross-site\r\n',
        'Sec-Fetch-Site: same-site\r\nOrigin: http://localhost\r\n',
      ])
        expect(await changes(method, foreign), `${method} ${foreign}`).to.equal(403);
    for (const ours of [
      '',
      'Origin: http://localhost\r\n',
      'Origin: http://localhost\r\nSec-Fetch-Site: same-origin\r\n',
    ])
      expect(
        Number(
          /^HTTP\/1\.1 (\d+)/.exec(
            await send(`DELETE /api/printer/none HTTP/1.1\r\n${own}${ours}\r\n{}`),
          )?.[1],
        ),
        ours,
      ).to.equal(404);
  });

  it('puts the security headers on refusals too', async () => {
    const answer = await send('GET /% HTTP/1.1\r\nHost: localhost\r\n\r\n');
    expect(answer).to.include('Content-Security-Policy').and.to.include('nosniff');
  });

  it('says that a body is too large, told beforehand or not', async () => {
    const told = await send(
      'POST /api/printer/x HTTP/1.1\r\nHost: localhost\r\nContent-Length: 999999999\r\n\r\n',
    );
    expect(told).to.match(/^HTTP\/1\.1 413/);
    const chunk = `${(100_000).toString(16)}\r\n${'a'.repeat(100_000)}\r\n`;
    const untold = await send(
      `POST /api/printer/x HTTP/1.1\r\nHost: localhost\r\nTransfer-Encoding: chunked\r\n\r\n${chunk.repeat(15)}`,
    );
    expect(untold).to.match(/^HTTP\/1\.1 413/);
  });

  it('answers a client that has closed its side', async () => {
    const answer = await send('GET / HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n', {
      half: true,
    });
    expect(answer)
      .to.match(/^HTTP\/1\.1 200/)
      .and.to.include('</html>');
  });

  it('takes a body that comes in drops', async () => {
    const body = '{"image":"","rack":""}';
    const status = await new Promise<number>((resolve, reject) => {
      const request = ask(
        {
          port,
          path: '/api/find',
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
        },
        (response) => {
          response.resume();
          resolve(response.statusCode ?? 0);
        },
      );
      request.on('error', reject);
      let at = 0;
      const drip = setInterval(() => {
        request.write(body.slice(at, at + 4));
        at += 4;
        if (at < body.length) return;
        clearInterval(drip);
        request.end();
      }, 30);
    });
    expect(status).to.equal(400);
  });

  it('lets go of a file whose client leaves in the middle of it', async () => {
    const open = (): number => readdirSync('/proc/self/fd').length;
    const script = /src="(\/_astro\/[^"]+\.js)"|component-url="(\/_astro\/[^"]+)"/.exec(
      await (await fetch(`http://127.0.0.1:${port}/`)).text(),
    );
    const path = script?.[1] ?? script?.[2] ?? '';
    expect(path).to.match(/^\/_astro\//);
    const before = open();
    await Promise.all(
      Array.from(
        { length: 30 },
        () =>
          new Promise<void>((resolve) => {
            const socket = connect(port, '127.0.0.1', () => {
              socket.write(`GET ${path} HTTP/1.1\r\nHost: localhost\r\n\r\n`);
              socket.once('data', () => {
                socket.destroy();
                resolve();
              });
            });
          }),
      ),
    );
    for (let tries = 0; tries < 100 && open() > before + 3; tries += 1)
      await new Promise((resolve) => setTimeout(resolve, 50));
    expect(open()).to.be.at.most(before + 3);
  });

  it('a picture that promises more pixels than it has is refused before room is made for them', async () => {
    const header = Buffer.alloc(54);
    header.write('BM', 0, 'latin1');
    header.writeUInt32LE(54, 2);
    header.writeUInt32LE(54, 10);
    header.writeUInt32LE(40, 14);
    header.writeInt32LE(14_000, 18);
    header.writeInt32LE(14_000, 22);
    header.writeUInt16LE(1, 26);
    header.writeUInt16LE(32, 28);
    const response = await fetch(`http://127.0.0.1:${port}/api/find`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ image: header.toString('base64'), rack }),
    });
    expect(response.status).to.equal(400);
    expect(await response.text()).to.match(/image/);
  });
});
