import { createServer, type Server } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isInside, reach } from './reach';

describe('addresses that are not the internet', () => {
  it.each([
    '127.0.0.1',
    '127.9.9.9',
    '10.1.2.3',
    '172.16.0.1',
    '172.31.255.255',
    '192.168.1.1',
    '169.254.169.254',
    '0.0.0.0',
    '100.64.0.1',
    '224.0.0.1',
    '255.255.255.255',
    '::1',
    '::',
    'fe80::1',
    'fc00::1',
    'fd12::1',
    '::ffff:127.0.0.1',
    '::ffff:10.0.0.1',
    '::ffff:7f00:1',
    '::127.0.0.1',
    '64:ff9b::7f00:1',
    '2002:7f00:1::',
    'ff02::1',
  ])('%s is inside', (address) => {
    expect(isInside(address)).toBe(true);
  });
  it.each([
    '1.1.1.1',
    '8.8.8.8',
    '172.15.0.1',
    '172.32.0.1',
    '192.169.0.1',
    '2606:4700::1111',
    '2a00:1450::1',
    '::ffff:8.8.8.8',
  ])('%s is outside', (address) => {
    expect(isInside(address)).toBe(false);
  });
});

describe('asking a page', () => {
  let server: Server;
  let standin: string;
  const served: string[] = [];
  beforeAll(async () => {
    server = createServer((req, res) => {
      served.push(req.url!);
      const hop = /^\/hop\/(\d+)$/.exec(req.url!)?.[1];
      if (hop) return res.writeHead(302, { location: Number(hop) ? `/hop/${Number(hop) - 1}` : '/ok' }).end();
      if (req.url === '/out') return res.writeHead(302, { location: 'http://192.168.0.1/' }).end();
      if (req.url === '/file') return res.writeHead(302, { location: 'file:///etc/passwd' }).end();
      if (req.url === '/never') return undefined;
      if (req.url === '/endless') {
        const timer = setInterval(() => res.write('x'.repeat(65_536)), 1);
        res.on('close', () => clearInterval(timer));
        return undefined;
      }
      return res.writeHead(req.url === '/ok' ? 200 : 404).end('page');
    });
    await new Promise<void>((resolve) => {
      server.listen(0, '127.0.0.1', resolve);
    });
    standin = `http://127.0.0.1:${(server.address() as { port: number }).port}`;
  });
  afterAll(() => {
    server.closeAllConnections();
    server.close();
  });
  const played = (host: string) =>
    host === 'shop.example' || new URL(standin).host === host ? standin : undefined;
  it('follows three redirects, and looks at each', async () => {
    expect(await reach('https://shop.example/ok', played)).toEqual({ status: 200, fault: null });
    expect(await reach('https://shop.example/hop/2', played)).toEqual({ status: 200, fault: null });
    expect((await reach('https://shop.example/hop/3', played)).fault).toBe('redirects more than 3 times');
    expect((await reach('https://shop.example/out', played)).fault).toContain('private network');
    expect((await reach('https://shop.example/file', played)).fault).toBe(
      'leads to file:, which is no web page',
    );
    expect((await reach('https://shop.example/gone', played)).fault).toBe('answers 404');
  });
  it('lets go of a page without an end, and of one that never answers', async () => {
    expect(await reach('https://shop.example/endless', played)).toEqual({ status: 200, fault: null });
    expect((await reach('https://shop.example/never', played)).fault).toBe(
      'does not answer within 4 seconds',
    );
  });
  it('connects to the address that was looked at: a name that leads elsewhere the second time does not', async () => {
    let looks = 0;
    const rebinding = () => {
      looks += 1;
      return Promise.resolve([{ address: looks === 1 ? '127.0.0.1' : '93.184.216.34', family: 4 }]);
    };
    expect(
      (await reach(`${standin.replace('127.0.0.1', 'rebind.example')}/ok`, () => undefined, rebinding)).fault,
    ).toContain('private network');
    expect(looks).toBe(1);
  });
});
