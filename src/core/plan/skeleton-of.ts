import type { Definition } from '../definition/definition';
import { YarvoError } from '../errors/yarvo-error';
import type { FirstPass } from '../match/first-pass';
import type { ShippedSkeleton } from '../profile/profile';
import { REST_POSE } from '../rig/pose';
import type { Rig } from '../rig/rig';
import { planSkeleton } from './plan-skeleton';

/** As many bones as a profile may hold. */
const MOST_BONES = 2_000;

/**
 * A file's skeleton as a profile ships it: names and tree of the file, each bone as it rests there, in metres, Y up, facing
 * +Z; roles as they were matched.
 * @param place the file, for errors.
 * @throws {YarvoError} `no-skeleton`, `same-names`, and what a joint without extent throws.
 */
export function skeletonOf(
  label: string,
  { rig, match, normalisation }: FirstPass & { readonly rig: Rig },
  definition: Definition,
  place: string,
): ShippedSkeleton {
  const { bones } = rig;
  if (bones.length === 0 || bones.length > MOST_BONES)
    throw new YarvoError({
      code: 'no-skeleton',
      message: bones.length === 0 ? 'The file holds no skeleton.' : `The skeleton has ${bones.length} bones.`,
      place,
      remedy: `Give a file with one skeleton of at most ${MOST_BONES} bones.`,
    });
  const twice = bones.find(({ name, index }) => bones.findIndex((other) => other.name === name) !== index);
  if (twice)
    throw new YarvoError({
      code: 'same-names',
      message: `Two bones are called "${twice.name}".`,
      place,
      remedy: 'Give each bone of the skeleton a name of its own, and take it in again.',
    });
  const roles = new Map(
    definition.roles.flatMap(({ id }) => {
      const found = match.assignments[id];
      return found ? [[found.boneIndex, id] as const] : [];
    }),
  );
  const { locals } = planSkeleton(rig, REST_POSE, normalisation);
  return {
    label,
    bones: bones.map(({ index, name, parent }) => ({
      name,
      parent: parent >= 0 ? bones[parent].name : null,
      translation: locals[index].translation,
      rotation: locals[index].rotation,
      role: roles.get(index) ?? null,
    })),
  };
}
