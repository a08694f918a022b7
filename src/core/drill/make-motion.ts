import type { ClipTracks } from '../clips/motion-tracks';
import type { Definition } from '../definition/definition';
import { YarvoError } from '../errors/yarvo-error';
import type { GaitSettings } from '../house/gait-settings';
import { houseEntry } from '../house/house-set';
import { HOUSE_RATE, sampleHouse } from '../house/house-motion';
import { captureMotion } from '../motion/capture-motion';
import { editMotion } from '../motion/edits/edit-motion';
import { appendedBy, type MotionEdit } from '../motion/edits/motion-edit';
import type { FittedRig } from '../motion/fitted-rig';
import type { Contact, Motion } from '../motion/motion';
import { decodeMotion } from '../motion/motion-file';
import { ownRate } from '../motion/own-rate';

/** What a motion is made from: a clip of a figure, the house set, or a motion that was kept. */
export type Ingredient =
  | {
      readonly kind: 'clip';
      readonly fitted: FittedRig;
      readonly clip: ClipTracks;
      /** Rate that the file states; 0 for none. */
      readonly statedRate: number;
      readonly morphNames?: ReadonlyMap<number, readonly string[]>;
    }
  | { readonly kind: 'house'; readonly entry: string; readonly settings: GaitSettings | null }
  | { readonly kind: 'kept'; readonly motion: Motion }
  /** The same as its file, for who hands the recipe on: it is decoded where the motion is made. */
  | { readonly kind: 'file'; readonly bytes: Uint8Array; readonly place: string };

/** A motion as it is wanted: made from something, and then edited. */
export interface MotionRecipe {
  /** What the shelf calls it; null for the name that it has of itself. */
  readonly name: string | null;
  readonly from: Ingredient;
  readonly definition: Definition;
  /** Null for its own rate. */
  readonly framesPerSecond: number | null;
  /** As a person set them before any editing; null for those that are found. */
  readonly contacts: readonly Contact[] | null;
  readonly edits: readonly MotionEdit[];
  readonly mostFrames: number;
  /** Motions that the edits append, and that those append in turn, by id. */
  readonly others: Readonly<Record<string, MotionRecipe>>;
}

/** A recipe of which nothing is chosen but what it is made from. */
export const UNTOUCHED: Pick<MotionRecipe, 'name' | 'framesPerSecond' | 'contacts' | 'edits'> & {
  readonly others: Readonly<Record<string, never>>;
} = { name: null, framesPerSecond: null, contacts: null, edits: [], others: {} };

export interface MadeMotion {
  readonly motion: Motion;
  /** What could not be made as it was asked for. */
  readonly remarks: readonly string[];
}

/** @throws {YarvoError} `no-motion`, `other-definition`, and what reading, making and editing a motion throw. */
export function makeMotion(recipe: MotionRecipe): MadeMotion {
  const { definition, mostFrames, contacts, edits, others } = recipe;
  const appended = new Map<string, Motion>();
  for (const id of appendedBy(edits)) {
    const other = others[id];
    if (other && !appended.has(id)) appended.set(id, makeMotion({ ...other, others }).motion);
  }
  const made = unedited(recipe);
  const base: Motion = {
    ...made.motion,
    name: recipe.name ?? made.motion.name,
    contacts: contacts ? [...contacts] : made.motion.contacts,
  };
  const motionOf = (id: string): Motion => {
    const other = appended.get(id);
    if (other) return other;
    throw new YarvoError({
      code: 'no-motion',
      message: 'A motion that is appended is no longer on the shelf.',
      place: base.name,
      remedy: 'Take the step out, or append another motion.',
    });
  };
  return { ...made, motion: editMotion(base, edits, { definition, mostFrames, motionOf }) };
}

function unedited({ from, definition, framesPerSecond, mostFrames }: MotionRecipe): MadeMotion {
  switch (from.kind) {
    case 'house': {
      const house = houseEntry(from.entry).make(from.settings);
      return { motion: sampleHouse(house, definition, framesPerSecond ?? HOUSE_RATE), remarks: house.remarks };
    }
    case 'kept':
    case 'file': {
      const motion = from.kind === 'kept' ? from.motion : decodeMotion(from.bytes, from.place);
      checkDefinition(motion, definition);
      const edits: MotionEdit[] = framesPerSecond === null ? [] : [{ kind: 'rate', framesPerSecond }];
      return { motion: editMotion(motion, edits, { definition, mostFrames, motionOf: () => motion }), remarks: [] };
    }
    case 'clip': {
      const { fitted, clip, statedRate, morphNames } = from;
      const rate = framesPerSecond ?? ownRate(clip, statedRate);
      return { motion: captureMotion(fitted, clip, { framesPerSecond: rate, mostFrames, morphNames }), remarks: [] };
    }
  }
}

function checkDefinition(motion: Motion, definition: Definition): void {
  const told = motion.definition;
  if (told.id === definition.id && told.version === definition.version) return;
  throw new YarvoError({
    code: 'other-definition',
    message: `The motion is told against ${told.id}, version ${told.version}; this character is fitted to ${definition.id}, version ${definition.version}.`,
    place: motion.name,
    remedy: `Choose the definition ${told.id}, or carry from the motion's own source.`,
  });
}
