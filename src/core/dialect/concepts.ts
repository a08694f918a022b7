/** What a word in a bone's name can speak of. A body part without side and segment number, or something that is no role. */
const BODY_CONCEPTS = [
  'hips',
  'spine',
  'chest',
  'neck',
  'head',
  'jaw',
  'eye',
  'shoulder',
  'upperArm',
  'lowerArm',
  'hand',
  'thumb',
  'index',
  'middle',
  'ring',
  'little',
  'finger',
  'upperLeg',
  'lowerLeg',
  'foot',
  'toes',
] as const;
export type BodyConcept = (typeof BODY_CONCEPTS)[number];

export type OtherConcept =
  | 'root'
  | 'twist'
  | 'tip'
  | 'helper'
  | 'control'
  | 'face'
  | 'cloth'
  | 'hair'
  | 'ear'
  | 'tail'
  | 'wing'
  | 'prop'
  | 'metacarpal'
  | 'toeDigit'
  | 'animal'
  | 'breast'
  | 'vehicle';
export type Concept = BodyConcept | OtherConcept;

const BODY = new Set<string>(BODY_CONCEPTS);
export const isBodyConcept = (concept: Concept): concept is BodyConcept => BODY.has(concept);

/** How far a word speaks for each concept, 0 to 1. "arm" alone mostly means the upper arm, but not only. */
export type Meaning = Partial<Record<Concept, number>>;
