// The limit of a file: node:http that reads it from the disk at each request and looks at nothing.
import { createReadStream, statSync } from 'node:fs';
import { createServer } from 'node:http';

const file = process.env.FILE!;

createServer((_req, res) => {
  res.writeHead(200, { 'content-type': 'image/png', 'content-length': statSync(file).size });
  createReadStream(file).pipe(res);
}).listen(Number(process.env.PORT), '127.0.0.1', () => process.send?.('ready'));
