import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { openApiDocument } from '@/contract/openapi';
import { z } from 'zod';
import { MotionFileSchema } from '@/core/motion/motion-file';
import { EngineProfileShape } from '@/core/profile/profile-shape';
import { WaiverFileSchema } from '@/core/waivers/waiver';

/** `npm run openapi` writes what docs publish of the contract and the file formats; tests say when that is due. */
const write = (name: string, content: unknown): void =>
  writeFileSync(path.resolve(import.meta.dirname, '../../docs', name), `${JSON.stringify(content, null, 2)}\n`);

write('openapi.json', openApiDocument());
write('yarvo-motion-1.schema.json', z.toJSONSchema(MotionFileSchema));
write('yarvo-profile.schema.json', z.toJSONSchema(EngineProfileShape, { io: 'input' }));
write('yarvo-waivers-1.schema.json', z.toJSONSchema(WaiverFileSchema, { io: 'input' }));
