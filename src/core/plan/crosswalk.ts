import { z } from 'zod';
import type { MorphMatch } from '../morphs/map-morphs';
import { writtenMorphs } from '../morphs/written-morphs';
import type { Definition } from '../definition/definition';
import { boneRolesOf, sparesOf, type FitState } from '../fit/fit';
import type { Match } from '../match/context/match-types';
import type { Rig } from '../rig/rig';
import type { NamePlan } from './plan-names';

/** The name crosswalk that goes with every handoff; documented in docs/formats.md. */
export const CrosswalkSchema = z.strictObject({
  schema: z.literal('yarvo-crosswalk-1'),
  character: z.string(),
  definition: z.strictObject({ id: z.string(), version: z.int().positive() }),
  bones: z.array(
    z.strictObject({
      from: z.string(),
      fromNode: z.int().nonnegative(),
      to: z.string(),
      role: z.string().nullable(),
      spare: z.string().nullable(),
    }),
  ),
  added: z.array(z.string()),
  /** Morph targets: as the file calls them, as they are written, and the target of the engine that they stand for. */
  morphs: z.array(z.strictObject({ from: z.string(), to: z.string(), stands: z.boolean() })).default([]),
});
export type Crosswalk = z.infer<typeof CrosswalkSchema>;

export function buildCrosswalk(input: {
  character: string;
  rig: Rig;
  match: Match;
  fit: FitState;
  definition: Definition;
  plan: NamePlan;
  helpers?: readonly { readonly name: string }[];
  morphs?: { readonly own: readonly string[]; readonly mapped: readonly MorphMatch[] };
}): Crosswalk {
  const { rig, match, fit, plan, definition } = input;
  const roles = boneRolesOf(fit);
  const spares = new Map(sparesOf(match, fit).map((spare) => [spare.boneIndex, spare.kind]));
  return {
    schema: 'yarvo-crosswalk-1',
    character: input.character,
    definition: { id: definition.id, version: definition.version },
    bones: rig.bones.map((bone) => ({
      from: bone.name,
      fromNode: bone.nodeIndex,
      to: plan.names[bone.index],
      role: roles.get(bone.index) ?? null,
      spare: roles.has(bone.index) ? null : (spares.get(bone.index) ?? null),
    })),
    morphs: morphRows(input.morphs),
    added: [...(plan.addsRoot ? [plan.rootName] : []), ...(input.helpers ?? []).map(({ name }) => name)],
  };
}

function morphRows(morphs: Parameters<typeof buildCrosswalk>[0]['morphs']): Crosswalk['morphs'] {
  if (!morphs) return [];
  const written = writtenMorphs(morphs.own, morphs.mapped);
  const stands = new Set(morphs.mapped.map(({ own }) => own));
  return morphs.own.map((from) => ({ from, to: written.get(from) ?? from, stands: stands.has(from) }));
}
