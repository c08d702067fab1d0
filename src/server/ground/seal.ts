import { createCipheriv, createDecipheriv, createHash, createHmac, randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';

/** Encrypts secrets that must be readable again (signing secrets) under a key that is not in the data file. */
export interface Seal {
  /** keyed digest: tells whether two texts are the same without letting one be guessed from it */
  digest: (text: string) => string;
  close: (plain: string) => string;
  open: (sealed: string) => string;
}

/** AES-256-GCM: iv, tag and text, base64, joined by dots. */
export function sealWith(key: Buffer): Seal {
  return {
    digest: (text) => createHmac('sha256', key).update(text).digest('hex'),
    close(plain) {
      const iv = randomBytes(12);
      const cipher = createCipheriv('aes-256-gcm', key, iv);
      const text = Buffer.concat([cipher.update(plain, 'utf8'), cipher.final()]);
      return [iv, cipher.getAuthTag(), text].map((b) => b.toString('base64')).join('.');
    },
    open(sealed) {
      const [iv, tag, text] = sealed.split('.').map((p) => Buffer.from(p, 'base64'));
      if (!iv || !tag || !text) throw new Error('A sealed secret has three parts');
      const decipher = createDecipheriv('aes-256-gcm', key, iv);
      decipher.setAuthTag(tag);
      return Buffer.concat([decipher.update(text), decipher.final()]).toString('utf8');
    },
  };
}

const hexKey = /^[0-9a-f]{64}$/i;

/**
 * The key from the environment (GRAVENEL_SEAL, 64 hex digits), or from a file that is made on first use, readable by its owner only.
 * @throws Error with a sentence where it is no whole key: a short or empty one would seal with next to nothing
 */
export function readSealKey(file: string, fromEnvironment: string | undefined): Buffer {
  if (fromEnvironment !== undefined) {
    if (!hexKey.test(fromEnvironment)) throw new Error('GRAVENEL_SEAL must be 64 hex digits');
    return Buffer.from(fromEnvironment, 'hex');
  }
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600, flag: 'wx' });
  const text = readFileSync(file, 'utf8').trim();
  if (!hexKey.test(text))
    throw new Error(
      `The key in ${file} is ${text === '' ? 'empty' : 'not whole'}: it must be 64 hex digits. Bring it back from a backup (npm run restore -- FILE); without one, remove the file and make the signing keys anew.`,
    );
  return Buffer.from(text, 'hex');
}

/** SHA-256 as hex: how tokens and contents are kept. */
export function hash(text: string | Buffer): string {
  return createHash('sha256').update(text).digest('hex');
}
