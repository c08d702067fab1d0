import { isUtf8 } from 'node:buffer';
import express, { type Request, type RequestHandler, type Response } from 'express';

const json = new Map<number, RequestHandler>();
const raw = new Map<number, RequestHandler>();

function kept(
  readers: Map<number, RequestHandler>,
  limit: number,
  make: () => RequestHandler,
): RequestHandler {
  let parse = readers.get(limit);
  if (!parse) readers.set(limit, (parse = make()));
  return parse;
}

const run = (parse: RequestHandler, req: Request, res: Response): Promise<void> =>
  new Promise((done, failed) => {
    void parse(req, res, (fault?: unknown) => {
      if (fault === undefined) done();
      else failed(fault instanceof Error ? fault : new Error(String(fault)));
    });
  });

const [quote, backslash, open, shut, openList, shutList] = [...'"\\{}[]'].map((c) => c.charCodeAt(0));

/** Levels of a body as it is looked at before it is read; what is read is bounded more closely. */
const mostLevels = 64;

/** True where a text in JSON is nested deeper than so many levels: one walk over its bytes, since reading it would take far longer. */
export function isDeep(bytes: Buffer, most = mostLevels): boolean {
  let level = 0;
  let inText = false;
  for (let i = 0; i < bytes.length; i += 1) {
    const c = bytes[i];
    if (inText) {
      if (c === backslash) i += 1;
      else if (c === quote) inText = false;
    } else if (c === quote) inText = true;
    else if (c === open || c === openList) {
      level += 1;
      if (level > most) return true;
    } else if (c === shut || c === shutList) level -= 1;
  }
  return false;
}

/** @throws for bytes that are no UTF-8: read with replacement characters, two different names would become one */
function refuseOtherBytes(bytes: Buffer): void {
  if (!isUtf8(bytes)) throw Object.assign(new Error('not UTF-8'), { type: 'body.not.utf8' });
}

const utf8 = /^(utf-?8|us-ascii)$/i;

/** @throws for a body that says it is in another character set than UTF-8 */
function refuseCharset(req: Request): void {
  const charset = /;\s*charset\s*=\s*"?([^";\s]+)/i.exec(req.get('content-type') ?? '')?.[1];
  if (charset !== undefined && !utf8.test(charset))
    throw Object.assign(new Error('another charset'), { type: 'charset.unsupported' });
}

/** The reader of bodies writes a status of its own on what is thrown here: a plain error, which `problemFrom` knows by its type. */
function refuseDeep(_req: unknown, _res: unknown, bytes: Buffer): void {
  refuseOtherBytes(bytes);
  if (isDeep(bytes)) throw Object.assign(new Error('nested too deep'), { type: 'entity.too.deep' });
}

/** Reads a JSON body into `req.body`, up to so many bytes. Called once it is known who asks and that it may. Packed bodies are refused: what they unpack to is not known. */
export async function readJson(req: Request, res: Response, limit: number): Promise<void> {
  refuseCharset(req);
  return run(
    kept(json, limit, () =>
      express.json({
        limit,
        inflate: false,
        strict: false,
        verify: refuseDeep,
        type: ['application/json', 'application/problem+json'],
      }),
    ),
    req,
    res,
  );
}

/** Reads the bytes of a file into `req.body`, up to so many. */
export function readBytes(req: Request, res: Response, limit: number): Promise<void> {
  return run(
    kept(raw, limit, () => express.raw({ limit, inflate: false, type: 'application/octet-stream' })),
    req,
    res,
  );
}

/** Reads the bytes of a signed report, whatever it says it is. */
export async function readSigned(req: Request, res: Response, limit: number): Promise<void> {
  refuseCharset(req);
  await run(
    kept(raw, -limit, () => express.raw({ limit, inflate: false, type: () => true })),
    req,
    res,
  );
  if (Buffer.isBuffer(req.body)) refuseOtherBytes(req.body);
}
