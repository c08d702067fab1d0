import type { Request, RequestHandler, Response } from 'express';
import express from 'express';

const json = new Map<number, RequestHandler>();
const raw = new Map<number, RequestHandler>();

function kept(of: Map<number, RequestHandler>, limit: number, make: () => RequestHandler): RequestHandler {
  let parse = of.get(limit);
  if (!parse) of.set(limit, (parse = make()));
  return parse;
}

const run = (parse: RequestHandler, req: Request, res: Response): Promise<void> =>
  new Promise((done, failed) => { void parse(req, res, (fault?: unknown) => { if (fault === undefined) done(); else failed(fault instanceof Error ? fault : new Error(String(fault))); }); });

/** Reads a JSON body into `req.body`, up to so many bytes. Called once it is known who asks and that it may. Packed bodies are refused: what they unpack to is not known. */
export function readJson(req: Request, res: Response, limit: number): Promise<void> {
  return run(kept(json, limit, () => express.json({ limit, inflate: false, strict: false, type: ['application/json', 'application/problem+json'] })), req, res);
}

/** Reads the bytes of a file into `req.body`, up to so many. */
export function readBytes(req: Request, res: Response, limit: number): Promise<void> {
  return run(kept(raw, limit, () => express.raw({ limit, inflate: false, type: 'application/octet-stream' })), req, res);
}

/** Reads the bytes of a signed report, whatever it says it is. */
export function readSigned(req: Request, res: Response, limit: number): Promise<void> {
  return run(kept(raw, -limit, () => express.raw({ limit, inflate: false, type: () => true })), req, res);
}
