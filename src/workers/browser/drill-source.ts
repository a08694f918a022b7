import { decodeMotionTracks, type MotionTracks } from '@/core/clips/motion-tracks';
import { makeMotion, type Ingredient, type MadeMotion, type MotionRecipe } from '@/core/drill/make-motion';
import { YarvoError } from '@/core/errors/yarvo-error';
import { decodeGeometry, type Geometry } from '@/core/geometry/geometry';
import { morphNamesByNode } from '@/core/geometry/morph-names';
import { ClipPoses } from '@/core/motion/clip-poses';
import type { FittedRig } from '@/core/motion/fitted-rig';
import { frameTimes } from '@/core/motion/frame-times';
import { decodeMotion } from '@/core/motion/motion-file';

/** What a motion is made from, as a page knows it: what is large is fetched here. */
export type MadeFrom =
  | {
      readonly kind: 'clip';
      readonly fitted: FittedRig;
      readonly tracksUrl: string;
      readonly geometryUrl: string;
      readonly clip: number;
    }
  | Extract<Ingredient, { kind: 'house' }>
  | { readonly kind: 'kept'; readonly url: string };

/** A recipe whose ingredients, and those of the motions it appends, are not fetched yet. */
export interface DrillSource extends Omit<MotionRecipe, 'from' | 'others'> {
  readonly madeFrom: MadeFrom;
  readonly others: Readonly<Record<string, DrillSource>>;
}

/** Whether the source's own figure can stand beside: an edited motion has frames that it does not. */
export const hasOwnFigure = ({ madeFrom, edits }: Pick<DrillSource, 'madeFrom' | 'edits'>): boolean =>
  madeFrom.kind === 'clip' && edits.length === 0;

/** The source's own figure, where it can be shown. */
export interface OwnFigure {
  readonly poses: ClipPoses;
  readonly seconds: (from: number, count: number) => number[];
}

/** Fetches what a source needs and makes its motion. @throws {YarvoError} */
export async function playSource(source: DrillSource): Promise<MadeMotion & { readonly own: OwnFigure | null }> {
  const recipe = await recipeOf(source);
  const made = makeMotion(recipe);
  const { from } = recipe;
  if (from.kind !== 'clip' || !hasOwnFigure(source)) return { ...made, own: null };
  const { fitted, clip } = from;
  const { framesPerSecond } = made.motion;
  const { seconds } = frameTimes(clip, { framesPerSecond, mostFrames: source.mostFrames }, clip.name);
  const bones = fitted.rig.bones.map((bone) => bone.index);
  return { ...made, own: { poses: new ClipPoses(fitted.rig, clip, fitted.normalisation, bones, bones), seconds } };
}

async function recipeOf({ madeFrom, others, ...rest }: DrillSource): Promise<MotionRecipe> {
  const fetchedOthers = await Promise.all(
    Object.entries(others).map(async ([id, other]) => [id, await recipeOf(other)] as const),
  );
  return { ...rest, from: await ingredientOf(madeFrom), others: Object.fromEntries(fetchedOthers) };
}

async function ingredientOf(madeFrom: MadeFrom): Promise<Ingredient> {
  if (madeFrom.kind === 'house') return madeFrom;
  if (madeFrom.kind === 'kept')
    return { kind: 'kept', motion: decodeMotion(new Uint8Array(await fetched(madeFrom.url)), 'motion file') };
  const { fitted, tracksUrl, geometryUrl, clip: index } = madeFrom;
  const clip = (await fetchTracks(tracksUrl))[index];
  if (!clip)
    throw new YarvoError({
      code: 'no-clip',
      message: 'The file no longer holds this clip.',
      place: 'motion',
      remedy: 'Take the motion off the shelf, or choose another clip.',
    });
  const statedRate = fitted.rig.source.clipRates[index]?.framesPerSecond ?? 0;
  // Only weights need the names of what they move, and those stand with the mesh.
  const geometry = clip.morphs.length > 0 ? await fetchGeometry(geometryUrl) : null;
  return { kind: 'clip', fitted, clip, statedRate, ...(geometry && { morphNames: morphNamesByNode(geometry) }) };
}

const tracksOf = new Map<string, Promise<MotionTracks>>();
/** Clips of the last few sources stay at hand: a person goes back and forth between motions. */
const MOST_SOURCES = 4;

function fetchTracks(url: string): Promise<MotionTracks> {
  const known = tracksOf.get(url);
  if (known) return known;
  const fresh = fetched(url).then((bytes) => decodeMotionTracks(new Uint8Array(bytes)));
  tracksOf.set(url, fresh);
  fresh.catch(() => tracksOf.delete(url));
  for (const old of tracksOf.keys()) if (tracksOf.size > MOST_SOURCES && old !== url) tracksOf.delete(old);
  return fresh;
}

export const fetchGeometry = async (url: string): Promise<Geometry> =>
  decodeGeometry(new Uint8Array(await fetched(url)));

async function fetched(url: string): Promise<ArrayBuffer> {
  const response = await fetch(url);
  if (response.ok) return response.arrayBuffer();
  throw new YarvoError({
    code: 'no-tracks',
    message: `The motion could not be fetched: the server answered ${response.status}.`,
    place: 'motion',
    remedy: 'Try again; if it stays so, open the source of the motion.',
  });
}
