import { createServer, type Server } from 'node:http';
import express, { type ErrorRequestHandler, type RequestHandler } from 'express';
import { bankPages } from './bank';
import { page } from './html';
import { mailRoomPages } from './mailroom';
import { shopPages } from './shop';
import type { ShopOptions } from './shop/gravenel';
import type { StandinDb } from './store';

const failed: ErrorRequestHandler = (_fault, _req, res, next) => {
  if (res.headersSent) return next(_fault);
  return res.status(500).send(page('Stand-ins', 'Something went wrong here', '<p>Nothing was changed.</p>'));
};

/** Names that this machine has for itself. Any other host in a request is somebody's attempt to reach a page here from a page of theirs. */
const ownNames = new Set(['127.0.0.1', 'localhost', '::1', '[::1]']);

/** Refuses what asks for another host than this machine. */
export const ownHostOnly: RequestHandler = (req, res, next) => {
  if (ownNames.has(req.hostname ?? '')) return next();
  return void res.status(421).type('text/plain').send('This stand-in answers to its own address only.\n');
};

/** The stand-ins' own Express application, on its own port: shop, mail room and bank. */
export function createStandins(db: StandinDb, options: ShopOptions): Server {
  const server = express();
  server.disable('x-powered-by');
  server.set('query parser', 'simple');
  server.use(ownHostOnly);
  server.use(express.urlencoded({ extended: false, limit: '5mb' }));
  mailRoomPages(server, db);
  bankPages(server, db);
  shopPages(server, db, options);
  server.use((_req, res) => {
    res.status(404).send(page('Stand-ins', 'No such page', ''));
  });
  server.use(failed);
  return createServer(server);
}
