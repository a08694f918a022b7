import { EngineProfileShape } from '@/core/profile/profile-shape';
import { WaiverFileSchema } from '@/core/waivers/waiver';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, it } from 'vitest';
import { z } from 'zod';
import { MotionFileSchema } from '@/core/motion/motion-file';
import { openApiDocument } from './openapi';
import { OPERATIONS, type Operation } from './operations';

const ROOT = path.resolve(import.meta.dirname, '../..');
const ROUTES = path.join(ROOT, 'src/app/api');

/** "get /api/jobs/{jobId}" of every handler there is; the document itself is not in the document. */
const handlers = readdirSync(ROUTES, { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('route.ts') && !file.startsWith('openapi.json'))
  .flatMap((file) => {
    const text = readFileSync(path.join(ROUTES, file), 'utf8');
    const address = `/api/${path.dirname(file).replaceAll('[', '{').replaceAll(']', '}')}`;
    return [...text.matchAll(/export const (GET|POST|DELETE)\b/g)].map(
      ([, method]) => `${method.toLowerCase()} ${address}`,
    );
  });

it('every handler is an operation of the contract, and every operation has a handler', () => {
  const operations = Object.values<Operation>(OPERATIONS).map(({ method, path: address }) => `${method} ${address}`);
  expect(operations.sort()).toEqual(handlers.sort());
});

it('docs/openapi.json is the contract as it stands: npm run openapi writes it', () => {
  const written = JSON.parse(readFileSync(path.join(ROOT, 'docs/openapi.json'), 'utf8')) as unknown;
  expect(written).toEqual(JSON.parse(JSON.stringify(openApiDocument())));
});

it('docs/yarvo-motion-1.schema.json is the schema of motion files as it stands: npm run openapi writes it', () => {
  const written = JSON.parse(readFileSync(path.join(ROOT, 'docs/yarvo-motion-1.schema.json'), 'utf8')) as unknown;
  expect(written).toEqual(JSON.parse(JSON.stringify(z.toJSONSchema(MotionFileSchema))));
});

it('parameters in a path are those of its schema', () => {
  for (const [name, { path: address, params }] of Object.entries<Operation>(OPERATIONS)) {
    const named = [...address.matchAll(/\{(\w+)\}/g)].map(([, parameter]) => parameter);
    expect(Object.keys(params?.shape ?? {}).sort(), name).toEqual(named.sort());
  }
});

it.each([
  ['yarvo-profile.schema.json', EngineProfileShape],
  ['yarvo-waivers-1.schema.json', WaiverFileSchema],
])('docs/%s is the schema as it stands: npm run openapi writes it', (name, schema) => {
  const written = JSON.parse(readFileSync(path.join(ROOT, 'docs', name), 'utf8')) as unknown;
  expect(written).toEqual(JSON.parse(JSON.stringify(z.toJSONSchema(schema, { io: 'input' }))));
});
