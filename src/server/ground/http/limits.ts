import type { RequestHandler } from 'express';
import { rateLimit } from 'express-rate-limit';
import { Problem } from './problem';

const tenMinutes = 600_000;

/**
 * Counts the calls of one network address before any work is done for them, each kind of call apart.
 * @param most calls in ten minutes
 */
export function perAddress(most: number): RequestHandler {
  return rateLimit({
    windowMs: tenMinutes,
    limit: most,
    standardHeaders: 'draft-7',
    legacyHeaders: false,
    validate: false,
    handler: (_req, _res, next) =>
      next(
        new Problem('too-many', 'Too many of these from this address; try again in ten minutes', {
          retryAfter: tenMinutes / 1000,
        }),
      ),
  });
}
