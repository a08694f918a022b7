import { randomUUID } from 'node:crypto';
import type { MotionManifest, MotionOut } from '@/contract/board';
import { problemOf, YarvoError } from '@/core/errors/yarvo-error';
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
import { keepZip, type OutFile } from './out-zip';

/** Largest zip that is made, bytes before packing. */
const MOST_BYTES = 1024 * 1024 * 1024;

/** Queues writing motions out. @throws {YarvoError} `bad-template`, `same-name` before anything is made. */
export async function queueOut(queue: JobQueue, wanted: MotionOut, author: string): Promise<JobRecord> {
  const [motions, characters] = [await motionsOf(wanted), await charactersOf(wanted)];
  checkNames(wanted.template, characters, motions);
  const label = `${countText(motions.length, 'motion')} of ${countText(characters.length, 'character')}`;
  return queue.add({
    id: randomUUID(),
    kind: 'motion-out',
    subject: 'board',
    label,
    author,
    payload: wanted,
    priority: 5,
  });
}

async function motionsOf({ motionKeys }: MotionOut): Promise<KeyedMotion[]> {
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

async function charactersOf({ characterIds }: MotionOut): Promise<BoardedCharacter[]> {
  const found: BoardedCharacter[] = [];
  for (const id of characterIds) found.push(await boarded(id));
  return found;
}

/** The motions with a rate and a root of their own where those were asked for. */
const travelOf = ({ root }: MotionOut, { travel }: KeyedMotion): RootTravel =>
  root === null ? travel : { ...travel, components: root };
const editsFor = ({ framesPerSecond }: MotionOut): MotionEdit[] =>
  framesPerSecond === null ? [] : [{ kind: 'rate', framesPerSecond }];

export const outHandler: JobHandler = {
  async work({ payload, author, signal, report, kept, keep }) {
    if (kept !== null) return kept;
    const wanted = payload as MotionOut;
    const [motions, characters] = [await motionsOf(wanted), await charactersOf(wanted)];
    checkNames(wanted.template, characters, motions);
    const files = new Map<string, OutFile>();
    const failed: MotionManifest['failed'] = [];
    const nameOf = new Map(characters.map(({ id, name }) => [id, name]));
    const total = characters.length * motions.length;
    let [done, bytes] = [0, 0];
    const groups = groupsOf(characters, wanted.hasMesh);
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
    return keepZip(wanted, [...files.values()], failed, author, keep);

    async function writeGroup(
      motion: KeyedMotion,
      recipeFor: KeyedMotion['recipe'],
      group: readonly BoardedCharacter[],
    ): Promise<void> {
      const travel = travelOf(wanted, motion);
      try {
        const recipe = await recipeFor(group[0].target.definition);
        const items = await Promise.all(
          group.map(async ({ id, target, carrying, soles, glbHash }) => {
            const canonical = await getBlob(glbHash);
            if (!canonical) throw new Error(`character ${id} has lost its canonical file`);
            return { id, target, carrying: forMotion(carrying, motion.key), soles, canonical };
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
              bytes: content,
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

const tooMuch = (): YarvoError =>
  new YarvoError({
    code: 'too-large',
    message: 'The files come to more than 1 GB.',
    place: 'board',
    remedy: 'Write them without meshes, or fewer at a time.',
  });
