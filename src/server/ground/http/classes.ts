import { IncomingMessage, ServerResponse } from 'node:http';
import express, { type Express } from 'express';

/**
 * Express gives every request and response its own prototypes, which is slow for each. Here the classes that the HTTP
 * server makes its requests and responses of carry Express's properties themselves, so that this becomes a no-op.
 */
export function classesFor(server: Express): {
  IncomingMessage: typeof IncomingMessage;
  ServerResponse: typeof ServerResponse;
} {
  class GravenelRequest extends IncomingMessage {}
  class GravenelResponse extends ServerResponse {}
  Object.defineProperties(GravenelRequest.prototype, {
    ...Object.getOwnPropertyDescriptors(express.request),
    app: { value: server, configurable: true, writable: true },
  });
  Object.defineProperties(GravenelResponse.prototype, {
    ...Object.getOwnPropertyDescriptors(express.response),
    app: { value: server, configurable: true, writable: true },
  });
  Object.assign(server, { request: GravenelRequest.prototype, response: GravenelResponse.prototype });
  return { IncomingMessage: GravenelRequest, ServerResponse: GravenelResponse as typeof ServerResponse };
}
