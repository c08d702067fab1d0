import sharp from 'sharp';
import type { Client } from '../../../scripts/journey/client';
import type { CreativeOut } from '../../../src/contract/equip/creatives';
import type { FileOut } from '../../../src/contract/equip/material';
import { emptyCreative, type CreativeFields } from '../../../src/core/material/creative';
import type { CreativeKind } from '../../../src/core/material/lists';
import type { Problemed } from '../../helpers/problem';
import type { TestServer } from '../../helpers/server';

/** A picture of one colour. */
export const pictureOf = (width: number, height: number, colour = '#3C5A78'): Promise<Buffer> =>
  sharp({ create: { width, height, channels: 3, background: colour } })
    .png()
    .toBuffer();

/** Uploads a file for creatives. */
export const upload = <T = FileOut & Problemed>(client: Client, name: string, bytes: Buffer) =>
  client.send<T>('PUT', `/api/v1/material?name=${encodeURIComponent(name)}`, new Uint8Array(bytes), {
    'content-type': 'application/octet-stream',
  });

/** Makes a creative of some fields, the others as a form begins with. */
export const make = (client: Client, kind: CreativeKind, fields: Partial<CreativeFields>) =>
  client.post<CreativeOut & Problemed>('/api/v1/creatives', { kind, ...emptyCreative, ...fields });

/** A text link, which needs nothing beside its words. */
export const makeLink = (client: Client, fields: Partial<CreativeFields>) =>
  make(client, 'text-link', { name: 'A line', words: 'The wheel that lives in a cupboard', ...fields });

/** What a form sends to change a creative. */
export const edited = ({ version, ...shown }: CreativeOut, fields: Partial<CreativeFields>) => ({
  ...Object.fromEntries(Object.keys(emptyCreative).map((k) => [k, shown[k as keyof CreativeFields]])),
  ...fields,
  version,
});

/** Moves our clock to a moment. */
export const clockAt = (s: TestServer, at: number) => s.app.clock.advance(at - s.app.clock.now());
