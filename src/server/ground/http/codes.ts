import QRCode from 'qrcode';
import { perAddress } from './limits';
import type { Site } from './site';

/** QR codes that one address may have drawn in ten minutes. */
const drawnCodes = 600;

/** The addresses of our own public pages as QR codes. */
export function codeRoutes({ server, app }: Site): void {
  server.get('/api/v1/qr.svg', perAddress(drawnCodes), async (req, res) => {
    const path =
      typeof req.query.path === 'string' && req.query.path.startsWith('/')
        ? req.query.path.slice(0, 200)
        : '/join';
    res.type('svg').send(
      await QRCode.toString(app.address + path, {
        type: 'svg',
        margin: 1,
        color: { dark: '#1C2430', light: '#FFFFFF' },
      }),
    );
  });
}
