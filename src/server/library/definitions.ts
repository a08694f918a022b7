import type { Definition } from '@/core/definition/definition';
import { QUAY } from '@/core/definition/quay';
import { TIDEWATER, type EngineProfile } from '@/core/profile/profile';

const DEFINITIONS: Readonly<Record<string, Definition>> = { [QUAY.id]: QUAY };

/** @throws {RangeError} for a definition this installation does not ship. */
export function definitionOf(id: string): Definition {
  const definition = DEFINITIONS[id];
  if (!definition) throw new RangeError(`definitionOf: no definition "${id}"`);
  return definition;
}

export const defaultDefinition = (): Definition => QUAY;
export const defaultProfile = (): EngineProfile => TIDEWATER;
