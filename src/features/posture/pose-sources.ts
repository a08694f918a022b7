import type { CharacterView } from '@/contract/character-view';
import type { AlignInput } from '@/core/posture/align-order';
import { hipsLift, liftHips } from '@/core/posture/lift-hips';
import { poseOfTurns, PostureFileSchema, turnsByPath, type PostureFile } from '@/core/posture/posture-file';
import type { RigPose } from '@/core/rig/pose';

/** A pose to look at before it is taken, or why there is none. */
export type PoseOffer = { readonly pose: RigPose } | { readonly problem: string };

/** Names of bones in a sentence: not more than can be read. */
const MOST_NAMED = 3;
/** A posture file is some ten kilobytes; much more is another file. */
const MOST_BYTES = 8 * 1024 * 1024;

/** The posture of another character on this one. */
export function poseOfCharacter(input: AlignInput, other: CharacterView): PoseOffer {
  const { posture } = other.fit.state;
  const lift = hipsLift(posture, other.normalisation) ?? 0;
  return onThisRig(input, turnsByPath(other.rig, posture), lift, other.name);
}

/** A posture that was saved, or lies in a pack. */
export async function poseOfFile(input: AlignInput, file: File): Promise<PoseOffer> {
  if (file.size > MOST_BYTES) return { problem: `${file.name} is larger than any posture file. Nothing was changed.` };
  let content: unknown;
  try {
    content = JSON.parse(await file.text());
  } catch {
    return { problem: `${file.name} is no JSON. Choose a file that Yarvo saved, or the posture file of a pack.` };
  }
  const parsed = PostureFileSchema.safeParse(content);
  if (!parsed.success) {
    const { path, message } = parsed.error.issues[0];
    return {
      problem: `${file.name} is no posture file: ${message} at ${path.length > 0 ? path.join(' › ') : 'its top'}. Nothing was changed.`,
    };
  }
  return onThisRig(input, parsed.data.bones, parsed.data.hipsLiftM ?? 0, parsed.data.character);
}

function onThisRig(input: AlignInput, turns: PostureFile['bones'], liftMetres: number, whose: string): PoseOffer {
  const found = poseOfTurns(input.rig, turns);
  if ('pose' in found) return { pose: liftHips(input, found.pose, liftMetres / input.normalisation.scale) };
  const { strangers } = found;
  const named = strangers.slice(0, MOST_NAMED).map((path) => path.slice(path.lastIndexOf('/') + 1));
  const more = strangers.length - named.length;
  return {
    problem: `${whose} has another tree: this skeleton has no single ${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}. Nothing was changed.`,
  };
}
