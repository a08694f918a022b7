import type { Definition } from '@/core/definition/definition';
import { QUAY, SHIPPED_DEFINITIONS } from '@/core/definition/quay';
import { SHIPPED_DIALECT, type DialectData } from '@/core/dialect/dialect-data';
import type { EngineProfile } from '@/core/profile/profile';
import { SHIPPED_PROFILES, TIDEWATER } from '@/core/profile/shipped';
import { keep, newest } from './library';

/** What is used where nobody names another. */
export const STUDIO = { definition: QUAY.id, profile: TIDEWATER.id, dialect: SHIPPED_DIALECT.id } as const;

/** Puts what ships into the library. A change of what ships needs a new version: kept versions stay as they are. */
export async function seedLibrary(): Promise<void> {
  for (const definition of SHIPPED_DEFINITIONS) await keep('definition', definition, 'Yarvo');
  for (const profile of SHIPPED_PROFILES) await keep('profile', profile, 'Yarvo');
  await keep('dialect', SHIPPED_DIALECT, 'Yarvo');
}

export const studioDefinition = (): Promise<Definition> => newest('definition', STUDIO.definition);
export const studioProfile = (): Promise<EngineProfile> => newest('profile', STUDIO.profile);
export const studioDialect = (): Promise<DialectData> => newest('dialect', STUDIO.dialect);
