// The limit of a redirect: node:http that stores nothing.
import { createServer } from 'node:http';

createServer((_req, res) => {
  res
    .writeHead(302, {
      location: 'http://127.0.0.1/p/WHEEL-1?gvn=vis_00000000000000000000',
      'content-length': '0',
    })
    .end();
}).listen(Number(process.env.PORT), '127.0.0.1', () => process.send?.('ready'));
