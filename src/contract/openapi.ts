import { z } from 'zod';
import { createDocument, type ZodOpenApiOperationObject, type ZodOpenApiPathsObject } from 'zod-openapi';
import { FailureSchema } from './answers';
import { OPERATIONS, type Operation } from './operations';

const COMMON_FAILURES: Readonly<Record<number, string>> = {
  400: 'The request is not as it should be; the message names each field.',
  403: 'Not let in: another host, another origin, or another content type.',
  404: 'There is no such thing.',
  500: 'A fault in Yarvo; the request id names it in the log.',
  503: 'The database is away, or too much waits: try again in a moment.',
};

const json = (schema: z.ZodType) => ({ content: { 'application/json': { schema } } });

const FILES = {
  required: true,
  content: {
    'application/octet-stream': { schema: z.string().meta({ format: 'binary' }) },
    'multipart/form-data': { schema: z.object({ file: z.array(z.string().meta({ format: 'binary' })) }) },
  },
};

function asOpenApi(name: string, operation: Operation): ZodOpenApiOperationObject {
  const { summary, params, query, body, status, answer, failures } = operation;
  const failed = { ...COMMON_FAILURES, ...failures };
  const content =
    typeof answer === 'string'
      ? { content: { [answer]: { schema: z.string().meta({ format: 'binary' }) } } }
      : answer && json(answer);
  return {
    operationId: name,
    summary,
    ...((params ?? query) && { requestParams: { ...(params && { path: params }), ...(query && { query }) } }),
    ...(body && { requestBody: body === 'files' ? FILES : { required: true, ...json(body) } }),
    responses: {
      [status]: { description: 'Done.', ...content },
      ...Object.fromEntries(
        Object.entries(failed).map(([code, description]) => [code, { description, ...json(FailureSchema) }]),
      ),
    },
  };
}

/** The contract as an OpenAPI 3.1 document. */
export function openApiDocument(): ReturnType<typeof createDocument> {
  const paths: ZodOpenApiPathsObject = {};
  for (const [name, operation] of Object.entries<Operation>(OPERATIONS))
    paths[operation.path] = { ...paths[operation.path], [operation.method]: asOpenApi(name, operation) };
  return createDocument({
    openapi: '3.1.0',
    info: {
      title: 'Yarvo',
      version: '1',
      description:
        'Changes are recorded under the name in the cookie "yarvo-who". JSON bodies are sent as application/json, 1 MB at most. Beyond loopback a password is asked for (HTTP Basic).',
    },
    paths,
  });
}
