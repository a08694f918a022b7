import { YarvoError } from '@/core/errors/yarvo-error';
import { nestsDeeper } from '@/core/text/json-depth';

/** No glTF nests deeper; what does would exhaust the stack of everything that walks it. */
const MAX_DEPTH = 200;

/** The JSON object of a glTF. @throws {YarvoError} `bad-json` naming the damage. */
export function parseGltfJson(bytes: Uint8Array, place: string): Record<string, unknown> {
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    if (nestsDeeper(text, MAX_DEPTH)) throw new Error(`it nests more than ${MAX_DEPTH} deep`);
    const value: unknown = JSON.parse(text);
    if (typeof value === 'object' && value !== null && !Array.isArray(value)) return value as Record<string, unknown>;
    throw new Error('it is not an object');
  } catch (error) {
    throw new YarvoError({
      code: 'bad-json',
      message: `The JSON cannot be read: ${(error as Error).message}.`,
      place,
      remedy: 'Export the file again; this part of it is damaged.',
    });
  }
}
