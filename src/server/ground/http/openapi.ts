import type { TSchema } from '@sinclair/typebox';
import { endpoints } from '../../../contract';
import { ProblemOut } from '../../../contract/shared';
import { signedCalls } from '../../../contract/track/signed-calls';

const problem = {
  description: 'A problem, RFC 9457',
  content: { 'application/problem+json': { schema: ProblemOut } },
};
const json = (schema: TSchema) => ({ content: { 'application/json': { schema } } });

function parameters(
  where: 'path' | 'query' | 'header',
  schema: { properties?: Record<string, TSchema>; required?: string[] },
) {
  return Object.entries(schema.properties ?? {}).map(([name, field]) => ({
    name,
    in: where,
    required: where === 'path' || (schema.required ?? []).includes(name),
    schema: field,
  }));
}

const signed = ['x-gravenel-key', 'webhook-id', 'webhook-timestamp', 'webhook-signature'].map((name) => ({
  name,
  in: 'header',
  required: true,
  schema: { type: 'string' },
}));
const report = ({ summary, body, answer }: (typeof signedCalls)[keyof typeof signedCalls]) => ({
  post: {
    summary,
    tags: ['tracking contract'],
    parameters: signed,
    requestBody: { required: true, ...json(body) },
    responses: {
      200: { description: 'Done before', ...json(answer) },
      201: { description: 'Done', ...json(answer) },
      401: problem,
      409: problem,
      413: problem,
      422: problem,
      429: problem,
      503: problem,
    },
  },
});

/** The OpenAPI 3.1 document, made from the contract. */
export function openApi(address: string): object {
  const paths: Record<string, Record<string, object>> = Object.fromEntries(
    Object.values(signedCalls).map((call) => [call.path, report(call)]),
  );
  for (const [name, end] of endpoints) {
    const path = end.path.replace(/:([a-z]+)/g, '{$1}');
    const headers = end.once
      ? [
          {
            name: 'Idempotency-Key',
            in: 'header',
            required: true,
            schema: { type: 'string', minLength: 8, maxLength: 100 },
          },
        ]
      : [];
    paths[path] ??= {};
    paths[path][end.method.toLowerCase()] = {
      operationId: name,
      summary: end.summary,
      description: `For: ${typeof end.access === 'string' ? end.access : end.access.join(', ')}`,
      parameters: [...parameters('path', end.params), ...parameters('query', end.query), ...headers],
      ...(end.method === 'POST' || end.method === 'PUT'
        ? { requestBody: { required: true, ...json(end.body) } }
        : {}),
      responses: {
        200: { description: 'Done', ...(end.media ? { content: { [end.media]: {} } } : json(end.reply)) },
        default: problem,
      },
    };
  }
  return { openapi: '3.1.0', info: { title: 'Gravenel', version: '1' }, servers: [{ url: address }], paths };
}
