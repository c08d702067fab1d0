import type { Response } from 'express';
import { Problem } from '../../ground/http/problem';
import type { Site } from '../../ground/http/site';
import { plainName } from '../../registers/catalogue/files';
import { extensionOf, fileByHash } from './files';

const year = 31_536_000_000;

/** What a browser is told of a file that anybody put here: what it is, that it is only looked at, and that it may stand on any site. */
const headersOf = (type: string) => ({
  'content-type': type,
  'x-content-type-options': 'nosniff',
  'content-security-policy': "default-src 'none'; sandbox",
  'cross-origin-resource-policy': 'cross-origin',
  'access-control-allow-origin': '*',
});

const sent = (res: Response, path: string): Promise<void> =>
  new Promise((done, failed) => {
    res.sendFile(path, { maxAge: year, immutable: true, dotfiles: 'allow' }, (fault?: Error) => {
      // whoever went away in the middle needs no answer
      if (!fault || res.headersSent) done();
      else failed(fault);
    });
  });

/** Files of creatives, to anybody and for any site: what is under an address never changes, and videos answer for a part. */
export function materialRoute({ server, app }: Site): void {
  server.get('/material/:name', async (req, res) => {
    const [, digest = '', extension = ''] = /^([0-9a-f]{64})\.([a-z0-9]{2,4})$/.exec(req.params.name) ?? [];
    const file = digest ? fileByHash(app, digest) : undefined;
    if (!file || extension !== extensionOf(file.type))
      throw new Problem('not-found', 'There is no such file');
    res.set(headersOf(file.type));
    const { download } = req.query;
    // named twice, or as a list, it is none
    const wanted = typeof download === 'string' ? download : '';
    if (download !== undefined) res.attachment(plainName(wanted || req.params.name));
    await sent(res, app.uploads.pathOf(digest));
  });
}
