import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { openApiDocument } from '@/contract/openapi';

/** `npm run openapi` writes docs/openapi.json anew; a test says when that is due. */
writeFileSync(
  path.resolve(import.meta.dirname, '../../docs/openapi.json'),
  `${JSON.stringify(openApiDocument(), null, 2)}\n`,
);
