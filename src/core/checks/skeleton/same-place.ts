import { boneRolesOf } from '../../fit/fit';
import { lengthOf, subtract, type Vec3 } from '../../math/vec3';
import { isAbove, parentsOf } from '../../rig/bone-tree';
import { findCopiedBones } from '../../rig/copied-bones';
import { sidesOfBones } from '../../plan/stray-bones';
import { listNames, type Check } from '../finding';

/** Of the figure's height: nearer than this two joints are at one place. */
const PLACE_SHARE = 1e-5;

/** Two bones that both move the mesh, or are both mapped, do not lie on each other. */
export const checkSamePlace: Check = ({ rig, fit, normalisation }) => {
  const mapped = boneRolesOf(fit);
  const parents = parentsOf(rig);
  const sides = sidesOfBones({ rig, fit });
  const slack = normalisation.heightFile * PLACE_SHARE;
  // A copied skeleton is told as one, not bone by bone.
  const copies = new Set(findCopiedBones(rig).map(({ copy }) => copy));
  const telling = rig.bones.filter(
    ({ index, skinVertexCount }) => !copies.has(index) && (mapped.has(index) || skinVertexCount > 0),
  );
  const at = (bone: (typeof telling)[number]): Vec3 => [bone.restWorld[12], bone.restWorld[13], bone.restWorld[14]];
  const sorted = [...telling].sort((a, b) => a.restWorld[12] - b.restWorld[12]);
  const pairs: (readonly [number, number])[] = [];
  sorted.forEach((first, place) => {
    for (let next = place + 1; next < sorted.length; next++) {
      const second = sorted[next];
      if (second.restWorld[12] - first.restWorld[12] > slack) break;
      if (!mapped.has(first.index) && !mapped.has(second.index)) continue;
      if (lengthOf(subtract(at(first), at(second))) > slack) continue;
      // A twist or helper bone starts where its parent does; two mapped ones never do.
      const isLine = isAbove(parents, first.index, second.index) || isAbove(parents, second.index, first.index);
      const areSiblings = first.parent === second.parent;
      const areMapped = mapped.has(first.index) && mapped.has(second.index);
      if ((isLine || areSiblings) && !areMapped) continue;
      // Segments without length are told by themselves; collars and neck may leave the trunk at one place.
      if (areMapped && (isLine || sides[first.index] !== sides[second.index])) continue;
      pairs.push([Math.min(first.index, second.index), Math.max(first.index, second.index)]);
    }
  });
  return pairs
    .sort(([a], [b]) => a - b)
    .map(([first, second]) => {
      const names = [rig.bones[first].name, rig.bones[second].name];
      return {
        aspect: 'pair',
        severity: 'caution' as const,
        sentence: `${listNames(names)} are at one place.`,
        measured: '0 cm apart',
        allowed: 'joints apart',
        amount: { measured: 0, allowed: normalisation.heightMetres * PLACE_SHARE * 100, unit: 'cm' },
        why: 'A segment without length has no direction: aligning, retargeting and IK go wrong there.',
        remedy: 'Merge one into the other on Match, or check which of them carries the role.',
        boneIndices: [first, second],
      };
    });
};
