// The limits that are Express: a redirect that stores nothing, and a POST that parses the body and writes as many rows in one FULL transaction.
import { join } from 'node:path';
import Database from 'better-sqlite3';
import express from 'express';

const db = new Database(join(process.env.DATA!, 'bare.sqlite'));
db.pragma('journal_mode = WAL');
db.pragma('synchronous = FULL');
// the rows of one recorded order: message, order, line, commission, entry, two entry lines, report
const rows = 8;
db.exec(
  'CREATE TABLE bare (id INTEGER PRIMARY KEY, order_id TEXT NOT NULL, at INTEGER NOT NULL, body TEXT NOT NULL) STRICT; CREATE INDEX bare_order ON bare (order_id); CREATE INDEX bare_at ON bare (at, id)',
);
const insert = db.prepare('INSERT INTO bare (order_id, at, body) VALUES (?, ?, ?)');
const write = db.transaction((order: string, body: string) => {
  for (let i = 0; i < rows; i += 1) insert.run(order, Date.now(), body);
});

const server = express();
server.get('/go/:code', (_req, res) =>
  res.redirect(302, 'http://127.0.0.1/p/WHEEL-1?gvn=vis_00000000000000000000'),
);
server.post('/orders', express.json(), (req, res) => {
  const body = req.body as { order: string };
  write.immediate(body.order, JSON.stringify(body));
  res.status(201).json({ outcome: 'recorded', order: body.order });
});
server.listen(Number(process.env.PORT), '127.0.0.1', () => process.send?.('ready'));
