import { decodeMotionTracks, type ClipTracks } from '@/core/clips/motion-tracks';
import type { Definition } from '@/core/definition/definition';
import { clipFigure } from '@/core/drill/carry-subject';
import { UNTOUCHED, type Ingredient, type MotionRecipe } from '@/core/drill/make-motion';
import { YarvoError } from '@/core/errors/yarvo-error';
import { decodeGeometry } from '@/core/geometry/geometry';
import { morphNamesByNode } from '@/core/geometry/morph-names';
import { HOUSE_SET } from '@/core/house/house-set';
import { NO_ROOT_TRAVEL, type RootTravel } from '@/core/motion/carry-options';
import { appendedBy, type MotionEdit } from '@/core/motion/edits/motion-edit';
import type { Contact } from '@/core/motion/motion';
import type { HouseChoice } from '@/contract/motions';
import { getBlob } from '../blobs/blob-store';
import { findCharacter } from '../characters/character-repository';
import { models, type MotionRow } from '../database/models';
import { findCurrentFit } from '../fits/fit-repository';
import { STUDIO } from '../library/studio';
import { matchedReading } from '../matches/matched-reading';
import { blockHash, type BlockKind } from '../readings/blocks';
import { decisionsKey } from '../readings/decisions-key';
import { readConfig } from '../settings/config';
import { findMotionRow, listStampRows, type StampRow } from './motion-repository';

/** Raised when the house set makes other motions than before: what was carried of it is old then. */
const HOUSE_MAKER = 1;

/** A motion under the key that the board knows it by. */
export interface KeyedMotion {
  readonly key: string;
  readonly name: string;
  readonly isHouse: boolean;
  readonly travel: RootTravel;
  /** Says what it is made from: another one where anything of that changed. */
  readonly stamp: string;
  readonly recipe: (definition: Definition) => Promise<MotionRecipe>;
}

/** The recipe of a motion, read once for each definition: for as long as one motion is given to many. */
export function oncePerDefinition({ recipe }: KeyedMotion): KeyedMotion['recipe'] {
  const known = new Map<Definition, Promise<MotionRecipe>>();
  return (definition) => {
    const made = known.get(definition) ?? recipe(definition);
    known.set(definition, made);
    return made;
  };
}

const HOUSE = 'house-';

/** A motion of the house set as it ships. */
const houseMotions = (): KeyedMotion[] =>
  HOUSE_SET.map(({ id, label, settings }) => ({
    key: `${HOUSE}${id}`,
    name: label,
    isHouse: true,
    travel: NO_ROOT_TRAVEL,
    stamp: `${HOUSE}${id} ${HOUSE_MAKER}`,
    recipe: (definition) => Promise.resolve(plainRecipe({ kind: 'house', entry: id, settings }, definition)),
  }));

const plainRecipe = (from: Ingredient, definition: Definition): MotionRecipe => ({
  ...UNTOUCHED,
  from,
  definition,
  mostFrames: readConfig().mostFrames,
});

/** A motion of the shelf or of the house set; null for an unknown key. */
export async function keyedMotion(key: string): Promise<KeyedMotion | null> {
  if (key.startsWith(HOUSE)) return houseMotions().find((motion) => motion.key === key) ?? null;
  const row = await findMotionRow(key);
  return row && keyedRow(row);
}

export async function keyedRow(row: MotionRow): Promise<KeyedMotion> {
  const rows = await withAppended(row);
  const revisions = await revisionsOf(rows);
  return {
    key: row.id,
    name: row.name,
    isHouse: false,
    travel: JSON.parse(row.travel) as RootTravel,
    stamp: rows.map((each) => stampOf(each, revisions)).join(),
    recipe: async (definition) => {
      const recipes: Record<string, MotionRecipe> = {};
      for (const each of rows) recipes[each.id] = await recipeOf(each, definition);
      const { [row.id]: own, ...others } = recipes;
      return { ...own, others };
    },
  };
}

/** A motion and all that it appends, each once. */
async function withAppended(row: MotionRow): Promise<MotionRow[]> {
  const found = new Map([[row.id, row]]);
  for (const each of found.values())
    for (const id of appendedBy(editsOf(each))) {
      const other = found.has(id) ? null : await findMotionRow(id);
      if (other) found.set(id, other);
    }
  return [...found.values()];
}

/** A motion as boards know it, without what it is made from. */
export type StampedMotion = Pick<KeyedMotion, 'key' | 'name' | 'isHouse' | 'stamp'>;

/** The shelf and the house set with their stamps: two statements, however many motions there are. */
export async function stampedMotions(): Promise<StampedMotion[]> {
  const rows = await listStampRows();
  const byId = new Map(rows.map((row) => [row.id, row]));
  const revisions = await revisionsOf(rows);
  const withOthers = (row: StampRow): StampRow[] => {
    const found = new Map([[row.id, row]]);
    for (const each of found.values())
      for (const id of appendedBy(editsOf(each))) {
        const other = byId.get(id);
        if (other) found.set(id, other);
      }
    return [...found.values()];
  };
  const shelved = rows
    .filter(({ removedAt }) => removedAt === null)
    .map((row): StampedMotion => ({
      key: row.id,
      name: row.name,
      isHouse: false,
      stamp: withOthers(row)
        .map((each) => stampOf(each, revisions))
        .join(),
    }));
  return [...shelved, ...houseMotions().map(({ key, name, isHouse, stamp }) => ({ key, name, isHouse, stamp }))];
}

const editsOf = ({ edits }: Pick<MotionRow, 'edits'>): MotionEdit[] => JSON.parse(edits ?? '[]') as MotionEdit[];

/** Revisions of the fits that some clips are read on, by character: one statement. */
async function revisionsOf(rows: readonly StampRow[]): Promise<ReadonlyMap<string, number>> {
  const ids = new Set(rows.flatMap(({ characterId, fitCharacterId }) => [characterId, fitCharacterId]));
  ids.delete(null);
  if (ids.size === 0) return new Map();
  const fits = await models().Fit.findAll({
    where: { characterId: [...ids] as string[], definitionId: STUDIO.definition },
    attributes: ['characterId', 'revision'],
  });
  return new Map(fits.map(({ characterId, revision }) => [characterId, revision]));
}

function stampOf(
  { id, revision, kind, characterId, fitCharacterId }: StampRow,
  revisions: ReadonlyMap<string, number>,
): string {
  const fits = [characterId, fitCharacterId].map((each) => (each === null ? '' : (revisions.get(each) ?? '')));
  return [id, revision, ...fits, kind === 'house' ? HOUSE_MAKER : ''].join(' ');
}

async function recipeOf(row: MotionRow, definition: Definition): Promise<MotionRecipe> {
  return {
    ...plainRecipe(await ingredientOf(row, definition), definition),
    name: row.name,
    framesPerSecond: row.framesPerSecond,
    contacts: row.contacts === null ? null : (JSON.parse(row.contacts) as Contact[]),
    edits: editsOf(row),
  };
}

async function ingredientOf(row: MotionRow, definition: Definition): Promise<Ingredient> {
  switch (row.kind) {
    case 'house': {
      const { entry, settings } = JSON.parse(row.house ?? 'null') as HouseChoice;
      return { kind: 'house', entry, settings };
    }
    case 'kept': {
      const bytes = row.blobHash && (await getBlob(row.blobHash));
      if (!bytes) throw gone(row.name);
      return { kind: 'file', bytes, place: row.name };
    }
    case 'clip':
      return clipIngredient(row, definition);
  }
}

async function clipIngredient(
  { name, characterId, fitCharacterId, clipIndex }: MotionRow,
  definition: Definition,
): Promise<Ingredient> {
  const character = characterId === null ? null : await findCharacter(characterId);
  const fitter =
    fitCharacterId === null || fitCharacterId === characterId ? character : await findCharacter(fitCharacterId);
  const fit = character && (await findCurrentFit(character.id));
  const fitterFit = fitter && (await findCurrentFit(fitter.id));
  if (!character || !fit || clipIndex === null) throw gone(name);
  const reading = await matchedReading(character, fit.state);
  const other =
    fitter && fitterFit && fitter.id !== character.id ? await matchedReading(fitter, fitterFit.state) : reading;
  const { intake, basis } = fit.state;
  const readingName = { characterId: character.id, decisionsKey: decisionsKey(intake), readerVersion: basis.reader };
  const block = async (kind: BlockKind): Promise<Uint8Array> => {
    const hash = await blockHash(readingName, kind);
    const bytes = hash && (await getBlob(hash));
    if (!bytes) throw gone(name);
    return bytes;
  };
  const clip: ClipTracks | undefined = decodeMotionTracks(await block('tracks'))[clipIndex];
  if (!clip) throw gone(name);
  return {
    kind: 'clip',
    fitted: clipFigure(reading.rig, other.normalisation, (fitterFit ?? fit).state, definition),
    clip,
    statedRate: reading.rig.source.clipRates[clipIndex]?.framesPerSecond ?? 0,
    ...(clip.morphs.length > 0 && { morphNames: morphNamesByNode(decodeGeometry(await block('geometry'))) }),
  };
}

const gone = (place: string): YarvoError =>
  new YarvoError({
    code: 'no-motion',
    message: 'What the motion is made from is gone.',
    place,
    remedy: 'Take it off the shelf, or add its file again.',
  });
