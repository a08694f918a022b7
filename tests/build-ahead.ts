import path from 'node:path';
import { buildIfChanged } from '@/cli/serve/build';

/** Builds the application as the start command does, so that who starts it next finds it built. */
await buildIfChanged(path.resolve(import.meta.dirname, '..'), (text) => process.stdout.write(`${text}\n`));
