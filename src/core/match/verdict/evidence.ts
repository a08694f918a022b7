import type { Concept } from '../../dialect/concepts';
import { isAncestor } from '../../rig/rig-shape';
import type { MatchContext } from '../context/context';

const CONCEPT_WORDS: Partial<Record<Concept, string>> = {
  hips: 'hips',
  spine: 'spine',
  chest: 'chest',
  neck: 'neck',
  head: 'head',
  jaw: 'jaw',
  eye: 'eye',
  shoulder: 'shoulder',
  upperArm: 'upper arm',
  lowerArm: 'forearm',
  hand: 'hand',
  thumb: 'thumb',
  index: 'index finger',
  middle: 'middle finger',
  ring: 'ring finger',
  little: 'little finger',
  finger: 'finger',
  upperLeg: 'thigh',
  lowerLeg: 'shin',
  foot: 'foot',
  toes: 'toes',
};

/** Said of a bone in whose name no word of the dialect and no side was found. */
export const SILENT_NAME = 'name gives no clue';

/** Sentences a person can check in the file: what the name says, where the bone hangs, what it carries, its mirror image. */
export function describeEvidence(
  context: MatchContext,
  bone: number,
  parentRole: { bone: number; label: string } | null,
): string[] {
  const { names, shape, body, mirror, rig } = context;
  const sentences: string[] = [];
  const reading = names.bones[bone];
  const parts = Object.entries(reading.body)
    .sort((a, b) => b[1] - a[1])
    .slice(0, 2);
  const others = Object.keys(reading.other);
  if (parts.length > 0) {
    const side = reading.side ? `${reading.side} ` : '';
    sentences.push(
      `name says ${side}${parts.map(([concept]) => CONCEPT_WORDS[concept as Concept] ?? concept).join(' or ')}`,
    );
  } else if (reading.side) sentences.push(`name says ${reading.side}`);
  else sentences.push(SILENT_NAME);
  const stated = context.stated.get(bone);
  if (stated)
    sentences.unshift(
      `the file's humanoid block says ${stated.side ? `${stated.side} ` : ''}${CONCEPT_WORDS[stated.concept] ?? stated.concept}`,
    );
  if (others.length > 0) sentences.push(`name also says ${others.join(', ')}`);
  if (reading.isVariant) sentences.push('another bone has this name without the further word');
  if (parentRole) {
    const isChild = shape.parents[bone] === parentRole.bone;
    sentences.push(
      isChild
        ? `child of the ${parentRole.label.toLowerCase()}`
        : isAncestor(shape, parentRole.bone, bone)
          ? `below the ${parentRole.label.toLowerCase()}`
          : `not below the ${parentRole.label.toLowerCase()}`,
    );
  }
  const led = body.parents[bone];
  if (led >= 0 && led !== shape.parents[bone]) sentences.push(`by its place it goes on from ${rig.bones[led].name}`);
  const partner = mirror.partners[bone];
  if (partner >= 0 && partner !== bone) sentences.push(`mirror of ${rig.bones[partner].name}`);
  if (shape.hasSkin) {
    const count = rig.bones[bone].skinVertexCount;
    sentences.push(count > 0 ? `carries ${count.toLocaleString('en')} vertices` : 'carries no vertices');
  }
  const next = shape.children[bone].length;
  if (next === 0) sentences.push('has no children');
  else if (next > 2) sentences.push(`${next} children`);
  return sentences;
}
