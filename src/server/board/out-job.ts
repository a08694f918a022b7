import { randomUUID } from 'node:crypto';
import type { MotionManifest, MotionOut } from '@/contract/board';
import { problemOf, YarvoError, type Problem } from '@/core/errors/yarvo-error';
import type { RootTravel } from '@/core/motion/carry-options';
import { forMotion } from '@/core/motion/carry-options';
import { countText } from '@/core/text/count';
import type { MotionEdit } from '@/core/motion/edits/motion-edit';
import { getBlob } from '../blobs/blob-store';
import type { JobQueue, JobRecord } from '../jobs/job-queue';
import type { JobHandler } from '../jobs/runner';
import { keyedMotion, oncePerDefinition, type KeyedMotion } from '../motions/recipe';
import { runWriteMotions } from '../work/pool';
import { boarded, type BoardedCharacter } from './passengers';
import { checkNames } from './out-names';
import { keepZip, OutFolder, type OutFile } from './out-zip';

/** Characters of one zip. */
const MOST_CHARACTERS = 500;
/** Largest zip that is made, bytes before packing. */
const MOST_BYTES = 1024 * 1024 * 1024;

/** Queues writing motions out; a job of that id that is there already stays. @throws {YarvoError} `bad-template`, `same-name`, `no-motion` before anything is made. */
export async function queueOut(
  queue: JobQueue,
  wanted: Wanted,
  author: string,
  id: string = randomUUID(),
): Promise<JobRecord> {
  const there = await queue.find(id);
  if (there) return there;
  if (wanted.characterIds.length > MOST_CHARACTERS) throw tooManyCharacters(wanted.characterIds.length);
  const motions = await motionsOf(wanted);
  const { characters, gone } = await charactersOf(wanted);
  if (gone.length > 0) throw new YarvoError(gone[0].problem);
  checkNames(wanted.template, characters, motions);
  const names = Object.fromEntries(characters.map((each) => [each.id, each.name]));
  const label = `${countText(motions.length, 'motion')} of ${countText(characters.length, 'character')}`;
  const payload: OutPayload = { ...wanted, names };
  return queue.add({ id, kind: 'motion-out', subject: `files of ${id}`, label, author, payload, priority: 5 });
}

/** How motions are written out, with the characters that are meant. */
type Wanted = Omit<MotionOut, 'characterIds' | 'selection' | 'jobId'> & { readonly characterIds: readonly string[] };

interface OutPayload extends Wanted {
  /** What the characters were called as it was queued. */
  readonly names?: Readonly<Record<string, string>>;
}

async function motionsOf({ motionKeys }: Wanted): Promise<KeyedMotion[]> {
  const found = await Promise.all(motionKeys.map(keyedMotion));
  const missing = found.findIndex((motion) => motion === null);
  if (missing >= 0)
    throw new YarvoError({
      code: 'no-motion',
      message: 'A motion of the selection is no longer on the shelf.',
      place: motionKeys[missing],
      remedy: 'Reload the board and choose again.',
    });
  return found as KeyedMotion[];
}

/** Characters that are there, and those that were deleted since, by name. */
async function charactersOf({ characterIds, names = {} }: OutPayload) {
  const characters: BoardedCharacter[] = [];
  const gone: { readonly name: string; readonly problem: Problem }[] = [];
  for (const id of characterIds)
    try {
      characters.push(await boarded(id));
    } catch (error) {
      const problem = problemOf(error, names[id] ?? id);
      if (problem.code !== 'not-found') throw error;
      gone.push({ name: names[id] ?? id, problem });
    }
  return { characters, gone };
}

/** The motions with a rate and a root of their own where those were asked for. */
const travelOf = ({ root }: Wanted, { travel }: KeyedMotion): RootTravel =>
  root === null ? travel : { ...travel, components: root };
const editsFor = ({ framesPerSecond }: Wanted): MotionEdit[] =>
  framesPerSecond === null ? [] : [{ kind: 'rate', framesPerSecond }];

export const outHandler: JobHandler = {
  async work({ payload, author, signal, report, kept, keep }) {
    if (kept !== null) return kept;
    const wanted = payload as OutPayload;
    const motions = await motionsOf(wanted);
    const { characters, gone } = await charactersOf(wanted);
    checkNames(wanted.template, characters, motions);
    const files = new Map<string, OutFile>();
    const failed: MotionManifest['failed'] = motions.flatMap(({ name: motion }) =>
      gone.map(({ name: character, problem }) => ({ character, motion, problem })),
    );
    const nameOf = new Map(characters.map(({ id, name }) => [id, name]));
    const total = characters.length * motions.length;
    let [done, bytes] = [0, 0];
    const groups = groupsOf(characters, wanted.hasMesh);
    const folder = await OutFolder.make();
    try {
      for (const motion of motions) {
        const recipeFor = oncePerDefinition(motion);
        for (const group of groups) {
          signal.throwIfAborted();
          report({ share: done / total, stage: `${motion.name}: ${group[0].name}` });
          await writeGroup(motion, recipeFor, group);
          done += group.length;
        }
      }
      if (files.size === 0)
        throw new YarvoError(
          failed[0]?.problem ?? {
            code: 'nothing',
            message: 'Nothing was written.',
            place: 'board',
            remedy: 'Choose a motion.',
          },
        );
      report({ share: 1, stage: 'Packing' });
      return await keepZip(wanted, folder, [...files.values()], failed, author, keep);
    } finally {
      await folder.remove();
    }

    async function writeGroup(
      motion: KeyedMotion,
      recipeFor: KeyedMotion['recipe'],
      group: readonly BoardedCharacter[],
    ): Promise<void> {
      const travel = travelOf(wanted, motion);
      try {
        const recipe = await recipeFor(group[0].target.definition);
        const items = await Promise.all(
          group.map(async ({ id, target, carrying, soles, glbHash, geometryHash }) => {
            const canonical = await getBlob(glbHash);
            if (!canonical) throw new Error(`character ${id} has lost its canonical file`);
            const geometry = geometryHash === null ? null : await getBlob(geometryHash);
            return { id, target, carrying: forMotion(carrying, motion.key), soles, canonical, geometry };
          }),
        );
        const made = await runWriteMotions(
          {
            recipe: { ...recipe, edits: [...recipe.edits, ...editsFor(wanted)] },
            travel,
            formats: wanted.formats,
            hasMesh: wanted.hasMesh,
            items,
          },
          motion.name,
          signal,
        );
        for (const { id, sharesWith, files: written, problem } of made.written) {
          const character = nameOf.get(id) as string;
          if (problem) failed.push({ character, motion: motion.name, problem });
          if (sharesWith !== null)
            for (const format of wanted.formats)
              files.get(`${sharesWith} ${motion.key} ${format}`)?.entry.alsoFor.push(character);
          for (const [format, content] of Object.entries(written)) {
            bytes += content.length;
            if (bytes > MOST_BYTES) throw tooMuch();
            const { frames, framesPerSecond } = made;
            files.set(`${id} ${motion.key} ${format}`, {
              place: await folder.put(content),
              format,
              entry: {
                character,
                motion: motion.name,
                frames,
                framesPerSecond,
                root: [...travel.components],
                alsoFor: [],
              },
            });
          }
        }
      } catch (error) {
        signal.throwIfAborted();
        const problem = problemOf(error, motion.name);
        if (problem.code === 'too-large') throw error;
        for (const { name } of group) failed.push({ character: name, motion: motion.name, problem });
      }
    }
  },
};

/** With meshes each alone, since such files are large; without, those of one skeleton together: they may share a clip. */
function groupsOf(characters: readonly BoardedCharacter[], hasMesh: boolean): BoardedCharacter[][] {
  const groups = new Map<string, BoardedCharacter[]>();
  for (const character of characters) {
    const name = hasMesh ? character.id : character.signature;
    groups.set(name, [...(groups.get(name) ?? []), character]);
  }
  return [...groups.values()];
}

const tooManyCharacters = (count: number): YarvoError =>
  new YarvoError({
    code: 'too-many',
    message: `A zip takes ${MOST_CHARACTERS} characters; these are ${count}.`,
    place: 'board',
    remedy: 'Choose some of them, and write the others afterwards.',
  });

const tooMuch = (): YarvoError =>
  new YarvoError({
    code: 'too-large',
    message: 'The files come to more than 1 GB.',
    place: 'board',
    remedy: 'Write them without meshes, or fewer at a time.',
  });
