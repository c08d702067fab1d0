import { useState } from 'react';
import type { AnyEndpoint, BodyOf, ParamsOf, QueryOf, ReplyOf } from '../../contract/endpoint';
import { call } from './api';
import { newKeeper } from './keeper';

export interface Sent<E> {
  params?: ParamsOf<E>;
  query?: QueryOf<E>;
  body?: BodyOf<E>;
  file?: Blob;
}

/** Sends to an endpoint from one opened form or dialog, each act under a key of its own that is kept until an answer came. @throws Refused */
export function useSend<E extends AnyEndpoint>(end: E): (given: Sent<E>) => Promise<ReplyOf<E>> {
  const [keeper] = useState(newKeeper);
  return (given) =>
    keeper.send(given.params, [given.query, given.body], (key) => call(end, { ...given, key }));
}
