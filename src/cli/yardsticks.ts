import { readFile } from 'node:fs/promises';
import type { z } from 'zod';
import { DefinitionSchema, type Definition } from '@/core/definition/definition';
import { QUAY, SHIPPED_DEFINITIONS } from '@/core/definition/quay';
import { YarvoError } from '@/core/errors/yarvo-error';
import { EngineProfileSchema, type EngineProfile } from '@/core/profile/profile';
import { faultsOf, jsonOf } from '@/core/schema/read-json';
import { SHIPPED_PROFILES, TIDEWATER } from '@/core/profile/shipped';

/** What a file is matched onto and checked against. */
export interface Yardsticks {
  readonly definition: Definition;
  readonly profile: EngineProfile;
}

/**
 * Definition and engine profile by the ids of shipped ones, or from JSON files.
 * @throws {YarvoError} `not-shipped`, `bad-json`
 */
export async function loadYardsticks(definition = QUAY.id, profile = TIDEWATER.id): Promise<Yardsticks> {
  return {
    definition: await load(definition, SHIPPED_DEFINITIONS, DefinitionSchema, 'definition'),
    profile: await load(profile, SHIPPED_PROFILES, EngineProfileSchema, 'profile'),
  };
}

async function load<Value extends { id: string }>(
  named: string,
  shipped: readonly Value[],
  schema: z.ZodType<Value>,
  what: string,
): Promise<Value> {
  if (!named.endsWith('.json')) {
    const found = shipped.find(({ id }) => id === named);
    if (found) return found;
    throw new YarvoError({
      code: 'not-shipped',
      message: `No ${what} "${named}" ships with Yarvo.`,
      place: `--${what}`,
      remedy: `Name one of ${shipped.map(({ id }) => id).join(', ')}, or a JSON file.`,
    });
  }
  const text = await readFile(named, 'utf8').catch((error: Error) => error.message);
  const parsed = schema.safeParse(jsonOf(text));
  if (parsed.success) return parsed.data;
  throw new YarvoError({
    code: 'bad-json',
    message: `This is no ${what}: ${faultsOf(parsed.error)}.`,
    place: named,
    remedy: "Export it again from the studio's library, or correct what is named.",
  });
}
