import type { BodyConcept } from '../../dialect/concepts';
import type { NameReading, NameReadings } from '../../dialect/read-names';
import { STATED_WEIGHT, type Stated } from './stated';

/** A word speaks for a part from this weight on. */
export const SAYS_A_PART = 0.6;
/** Weight of a name that says exactly the part, as a log-likelihood ratio. */
const SAYS_IT = 4;
const SAYS_ANOTHER_PART = -3.5;
const SAYS_NO_BODY_PART = -4;
const SAYS_ITS_LIMB = -0.8;
/** Share that is left of it where another bone has the same name without a further word. */
const VARIANT_SHARE = 0.6;
/** In a rig whose names mean something, a name that means nothing is a little suspicious. */
const SAYS_NOTHING = -0.5;

/** How far a bone's name speaks for a part of the body; 0 where names are not to be judged. */
function scoreName(reading: NameReading, concept: BodyConcept, meaningfulShare: number): number {
  const weight = reading.body[concept] ?? 0;
  const otherWeight = strongestOther(reading);
  const hasBody = Object.keys(reading.body).length > 0;
  if (!hasBody && otherWeight === 0) return SAYS_NOTHING * meaningfulShare;
  const positive =
    weight > 0
      ? SAYS_IT * weight * (reading.isVariant ? VARIANT_SHARE : 1)
      : hasBody
        ? isLooseNeighbour(reading, concept)
          ? SAYS_ITS_LIMB
          : SAYS_ANOTHER_PART
        : 0;
  return positive + SAYS_NO_BODY_PART * otherWeight;
}

const LIMBS: readonly (readonly BodyConcept[])[] = [
  ['shoulder', 'upperArm', 'lowerArm', 'hand'],
  ['upperLeg', 'lowerLeg', 'foot', 'toes'],
  ['hips', 'spine', 'chest'],
];

/** "leg 3" for a foot: a loose word for the whole limb does not speak against one of its parts. */
function isLooseNeighbour(reading: NameReading, concept: BodyConcept): boolean {
  const limb = LIMBS.find((parts) => parts.includes(concept));
  const said = Object.entries(reading.body);
  return limb !== undefined && said.every(([part, weight]) => weight < 0.8 && limb.includes(part as BodyConcept));
}

/** Weight of the strongest word that speaks against any role. */
export function strongestOther(reading: NameReading): number {
  let strongest = 0;
  for (const [concept, weight] of Object.entries(reading.other)) {
    // A thumb's metacarpal has a role of its own; a helper word is used loosely ("bend" for a limb's own bone).
    const factor = concept === 'metacarpal' ? 0.4 : concept === 'helper' ? 0.8 : concept === 'root' ? 0.85 : 1;
    strongest = Math.max(strongest, weight * factor);
  }
  return strongest;
}

/** True where a name clearly says a part and nothing against it. */
export const saysPlainly = (reading: NameReading, concept: BodyConcept): boolean =>
  (reading.body[concept] ?? 0) >= 0.8 && strongestOther(reading) === 0;

/** The part that a name says most strongly; null where it says none clearly enough. */
export function strongestPart({ body }: NameReading): BodyConcept | null {
  const [strongest] = Object.entries(body).sort((a, b) => b[1] - a[1]);
  return strongest && strongest[1] >= SAYS_A_PART ? (strongest[0] as BodyConcept) : null;
}

/** The same where a name says nothing beside it, as a target's or a helper's does. */
export const plainPart = (reading: NameReading): BodyConcept | null =>
  Object.keys(reading.other).length === 0 ? strongestPart(reading) : null;

/** The file's own humanoid block: evidence for the part it names and against the others. */
function scoreStated(stated: Stated | undefined, concept: BodyConcept): number {
  if (!stated) return 0;
  return stated.concept === concept ? STATED_WEIGHT : -STATED_WEIGHT / 2;
}

/** The names of one rig, ready for scoring. */
export interface NameScorer {
  (bone: number, concept: BodyConcept): number;
}

/** Scores are asked for many times over: one row of numbers per concept, filled as they come. */
export function createNameScorer(names: NameReadings, stated: ReadonlyMap<number, Stated>): NameScorer {
  const rows = new Map<BodyConcept, Float64Array>();
  return (bone, concept) => {
    let row = rows.get(concept);
    if (!row) {
      row = new Float64Array(names.bones.length).fill(Number.NaN);
      rows.set(concept, row);
    }
    if (Number.isNaN(row[bone]))
      row[bone] = scoreName(names.bones[bone], concept, names.meaningfulShare) + scoreStated(stated.get(bone), concept);
    return row[bone];
  };
}
