import { createHmac } from 'node:crypto';

interface Message {
  key: string;
  secret: string;
  id: string;
  timestamp: string;
  body: string;
}

/** The headers of a signed report, as any shop makes them from docs/connecting-a-shop.md. */
export function signHeaders({ key, secret, id, timestamp, body }: Message): Record<string, string> {
  const raw = Buffer.from(secret.replace(/^whsec_/, ''), 'base64');
  const signature = createHmac('sha256', raw).update(`${id}.${timestamp}.${body}`).digest('base64');
  return {
    'x-gravenel-key': key || 'none',
    'webhook-id': id,
    'webhook-timestamp': timestamp,
    'webhook-signature': `v1,${signature}`,
  };
}
