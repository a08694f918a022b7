import type { CharacterView, FitView } from '@/contract/character-view';
import type { HouseChoice, MotionView } from '@/contract/motions';
import type { Definition } from '@/core/definition/definition';
import { carrySubject, clipFigure } from '@/core/drill/carry-subject';
import { CARRYING, forMotion, NO_ROOT_TRAVEL, type RootTravel } from '@/core/motion/carry-options';
import { UNTOUCHED } from '@/core/drill/make-motion';
import { appendedBy } from '@/core/motion/edits/motion-edit';
import type { CarryTarget } from '@/core/motion/carry-plan';
import type { FittedRig } from '@/core/motion/fitted-rig';
import type { DrillSource, MadeFrom } from '@/workers/browser/drill-source';
import type { DrillTarget } from '@/workers/browser/drill.worker';

/** A character as motion is carried to it in the Drill. */
export const targetOf = (
  character: CharacterView,
  definition: Definition,
  { state }: FitView,
  travel: RootTravel,
  motionKey: string | null,
): DrillTarget => {
  const { target, carrying: all } = carrySubject(character, definition, state);
  const carrying = forMotion(all, motionKey);
  const { geometryUrl } = blockUrls(character, definition.id);
  return { target, carrying, travel, geometryUrl: character.rig.mesh.vertexCount > 0 ? geometryUrl : null };
};

/** A character's own clip, as it stands in its file: nothing is carried, nothing is laid on it. */
export function ownSource(
  character: CharacterView,
  definition: Definition,
  fit: FitView,
  clip: number,
  mostFrames: number,
) {
  const { target, geometryUrl } = targetOf(character, definition, fit, NO_ROOT_TRAVEL, null);
  const source: DrillSource = {
    ...UNTOUCHED,
    madeFrom: { kind: 'clip', fitted: fittedOf(target), ...blockUrls(character, definition.id), clip },
    definition,
    mostFrames,
  };
  const asItIs: DrillTarget = {
    target: { ...target, armOffsetDeg: null },
    carrying: { ...CARRYING, hasTwist: false },
    travel: NO_ROOT_TRAVEL,
    geometryUrl,
  };
  return { source, asItIs };
}

/** A motion of the house set as a source. */
export const houseSource = (house: HouseChoice, definition: Definition, mostFrames: number): DrillSource => ({
  ...UNTOUCHED,
  madeFrom: { kind: 'house', ...house },
  definition,
  mostFrames,
});

/** What a motion of the shelf is read with. */
export interface ShelfContext {
  readonly list: readonly MotionView[];
  /** Characters by id: sources of clips, and those whose fit counts. */
  readonly known: ReadonlyMap<string, CharacterView>;
  readonly definition: Definition;
  readonly mostFrames: number;
}

/** A motion and all that its edits append, each once; what is not on the shelf is left out. */
export function withAppended(motion: MotionView, list: readonly MotionView[]): MotionView[] {
  const found = new Map<string, MotionView>([[motion.id, motion]]);
  for (const each of found.values())
    for (const id of appendedBy(each.edits)) {
      const other = list.find((candidate) => candidate.id === id);
      if (other) found.set(id, other);
    }
  return [...found.values()];
}

/** Characters that a motion needs. */
export const charactersOf = (motion: MotionView): string[] =>
  motion.kind === 'clip' ? [motion.characterId, motion.fitCharacterId] : [];

/**
 * A motion of the shelf as a source; null while a character that it needs is not there yet.
 * @param house other settings than it is shelved with, for a house motion.
 */
export function shelfSource(motion: MotionView, house: HouseChoice | null, context: ShelfContext): DrillSource | null {
  const others: Record<string, DrillSource> = {};
  for (const each of withAppended(motion, context.list)) {
    const source = alone(each, each === motion ? house : null, context);
    if (!source) return null;
    others[each.id] = source;
  }
  const { [motion.id]: own, ...rest } = others;
  return { ...own, others: rest };
}

function alone(motion: MotionView, house: HouseChoice | null, context: ShelfContext): DrillSource | null {
  const madeFrom = madeFromOf(motion, house, context);
  if (!madeFrom) return null;
  const { name, framesPerSecond, contacts, edits } = motion;
  const { definition, mostFrames } = context;
  return { name, madeFrom, definition, framesPerSecond, contacts, edits, mostFrames, others: {} };
}

/**
 * A clip's fit may be another character's, of the same skeleton; and it may be to another definition than the one that
 * is asked for: then its roles are aligned to that one here.
 */
function madeFromOf(
  motion: MotionView,
  house: HouseChoice | null,
  { known, definition }: ShelfContext,
): MadeFrom | null {
  if (motion.kind === 'house') return { kind: 'house', ...(house ?? motion.house) };
  if (motion.kind === 'kept') return { kind: 'kept', url: `/api/motions/${motion.id}/file` };
  const [clipOf, fitOf] = [known.get(motion.characterId), known.get(motion.fitCharacterId)];
  if (!clipOf || !fitOf) return null;
  return {
    kind: 'clip',
    fitted: clipFigure(clipOf.rig, fitOf.normalisation, fitOf.fit.state, definition),
    ...blockUrls(clipOf, clipOf.definition.id),
    clip: motion.clipIndex,
  };
}

const fittedOf = ({ rig, definition, normalisation, roleBones, pose }: CarryTarget): FittedRig => ({
  rig,
  definition,
  normalisation,
  roleBones,
  pose,
});

const blockUrls = ({ id, modelHash }: CharacterView, definitionId: string) => {
  const urlOf = (kind: string) => `/api/characters/${id}/${kind}?definition=${definitionId}&of=${modelHash}`;
  return { tracksUrl: urlOf('tracks'), geometryUrl: urlOf('geometry') };
};
