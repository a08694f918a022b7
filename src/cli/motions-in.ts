import { readFile } from 'node:fs/promises';
import type { Definition } from '@/core/definition/definition';
import { makeMotion, UNTOUCHED } from '@/core/drill/make-motion';
import { YarvoError } from '@/core/errors/yarvo-error';
import { houseEntry } from '@/core/house/house-set';
import { HOUSE_RATE, sampleHouse } from '@/core/house/house-motion';
import { MOST_FRAMES } from '@/core/motion/frame-times';
import { decodeMotion } from '@/core/motion/motion-file';
import { clipsOf, readMotionSource, type MotionSource, type Reference } from '@/pipeline/carry';
import { fitByItself } from '@/pipeline/fitted-source';
import { houseFigure } from '@/pipeline/house-figure';
import { modelsIn, type Model } from './models';
import { houseMotionOf } from './motion';

/** How motions are to be read. */
export interface MotionWishes {
  readonly definition: Definition;
  readonly reference: Reference;
  readonly framesPerSecond: number | null;
  readonly clip: string | undefined;
  /** Settings of a motion of the house set, as they were typed. */
  readonly set: readonly string[];
}

/** A motion that can be carried, read when it is asked for. */
export interface NamedMotion {
  readonly label: string;
  /** Not known where the file cannot be read. */
  readonly clip: string | undefined;
  /** @throws {YarvoError} */
  readonly read: () => Promise<MotionSource>;
}

const HOUSE = 'house:';

/** Motions of a source: "house:walk" of the house set, a motion file, or the clips of each model that a file holds. */
export async function* motionsIn(source: string, wishes: MotionWishes): AsyncGenerator<NamedMotion> {
  if (source.startsWith(HOUSE)) {
    const id = source.slice(HOUSE.length);
    yield { label: source, clip: id, read: () => Promise.resolve(houseSource(id, wishes)) };
    return;
  }
  if (source.endsWith('.yarvomotion')) {
    yield { label: source, clip: 'motion', read: () => motionFile(source, wishes) };
    return;
  }
  for await (const model of modelsIn(source)) {
    let clips: { index: number; name: string }[];
    try {
      clips = await clipNames(model, wishes.clip);
    } catch (error) {
      yield { label: model.label, clip: undefined, read: () => Promise.reject(error as Error) };
      continue;
    }
    for (const { index, name } of clips)
      yield {
        label: model.label,
        clip: name,
        read: async () => readMotionSource(await model.read(), index, wishes, model.label),
      };
  }
}

function houseSource(id: string, { definition, set, framesPerSecond }: MotionWishes): MotionSource {
  const { house } = houseMotionOf(houseEntry(id), set);
  return {
    fit: fitByItself(houseFigure(), definition, { kind: 'rest' }, 'house figure'),
    motion: sampleHouse(house, definition, framesPerSecond ?? HOUSE_RATE),
  };
}

/** @throws {YarvoError} `bad-motion-file`, `other-definition` where the motion is told against another definition. */
async function motionFile(file: string, { definition, framesPerSecond }: MotionWishes): Promise<MotionSource> {
  const kept = decodeMotion(new Uint8Array(await readFile(file)), file);
  const recipe = { ...UNTOUCHED, from: { kind: 'kept', motion: kept }, definition, framesPerSecond } as const;
  return { fit: null, motion: makeMotion({ ...recipe, mostFrames: MOST_FRAMES }).motion };
}

/** Clips to carry. @throws {YarvoError} `no-clip` */
async function clipNames(motion: Model, wanted: string | undefined): Promise<{ index: number; name: string }[]> {
  const reading = await motion.read();
  const all = clipsOf(reading, motion.label).map(({ name }, index) => ({ index, name }));
  const found = wanted === undefined ? all : all.filter(({ name }) => name === wanted);
  if (found.length > 0) return found;
  throw new YarvoError({
    code: 'no-clip',
    message: `There is no clip "${wanted}".`,
    place: motion.label,
    remedy: `The file's clips: ${all.map(({ name }) => `"${name}"`).join(', ')}.`,
  });
}
