import { Type } from '@sinclair/typebox';
import { endpoint, managing } from '../endpoint';
import { closed, nullable, words } from '../shared';

/** Bytes of a file that can be uploaded: of a video; of a banner fewer. */
export const largestVideo = 25 * 1024 * 1024;
export const largestBanner = 10 * 1024 * 1024;

/** A file is named by the SHA-256 digest of its content. */
export const hash = (title: string) =>
  Type.String({ title, pattern: '^[0-9a-f]{64}$', minLength: 64, maxLength: 64 });

export const FileOut = closed({
  hash: Type.String(),
  url: Type.String({ description: 'where anybody reads it; what is there never changes' }),
  type: Type.String(),
  format: Type.String({ description: 'as people say it: PNG, JPEG, MP4' }),
  bytes: Type.Integer(),
  width: nullable(Type.Integer()),
  height: nullable(Type.Integer()),
  moving: Type.Boolean(),
  seconds: nullable(Type.Integer()),
  /** bytes that it would have as WebP, where it is large */
  asWebp: nullable(Type.Integer()),
});
export type FileOut = (typeof FileOut)['static'];

export const uploadMaterial = endpoint('PUT', '/api/v1/material', {
  summary: 'Upload a file for creatives: what it is, is found by its content; the same content is kept once',
  access: managing,
  query: closed({ name: words('File name', 200, { least: 1, example: 'box-blue.png' }) }),
  upload: largestVideo,
  reply: FileOut,
});
export const lightenMaterial = endpoint('POST', '/api/v1/material/:hash/webp', {
  summary: 'Make a copy of a picture as WebP, which is lighter',
  access: managing,
  params: closed({ hash: hash('File') }),
  reply: FileOut,
});
