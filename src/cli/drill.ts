import { readdir } from 'node:fs/promises';
import path from 'node:path';
import type { DrillLine, Undrilled } from '@/contract/drill-line';
import { judgeMotion, type DrillJudgement } from '@/core/drill/judge/judge-motion';
import { rangeOf } from '@/core/drill/judge/measure';
import { problemOf } from '@/core/errors/yarvo-error';
import { sampleHouse } from '@/core/house/house-motion';
import { HOUSE_SET } from '@/core/house/house-set';
import { NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import type { Motion } from '@/core/motion/motion';
import { drillLimitsOf } from '@/core/profile/profile';
import { readDrillCharacter } from '@/pipeline/drill';
import { modelsIn, type Model } from './models';
import { motionsIn, type MotionWishes } from './motions-in';
import { loadYardsticks } from './yardsticks';

export interface DrillCommand {
  readonly characters: readonly string[];
  /** Folder of motion files; the house set where it is left out. */
  readonly motions?: string;
  readonly definition?: string;
  readonly profile?: string;
  readonly json: boolean;
  readonly write: (text: string) => void;
}

interface Named {
  readonly name: string;
  readonly motion: Motion;
}

/**
 * Carries motions to characters and measures what they do there. @returns the exit code: 2 where something could not be
 * read or carried, else 1 where a limit is passed, else 0.
 */
export async function drill(command: DrillCommand): Promise<0 | 1 | 2> {
  const { definition, profile } = await loadYardsticks(command.definition, command.profile);
  let code: 0 | 1 | 2 = 0;
  const say = (line: DrillLine | Undrilled): void => {
    if ('error' in line) code = 2;
    else if (line.flags.length > 0 && code === 0) code = 1;
    command.write(command.json ? `${JSON.stringify(line)}\n` : described(line));
  };
  const wishes: MotionWishes = {
    definition,
    reference: { kind: 'rest' },
    framesPerSecond: null,
    clip: undefined,
    set: [],
  };
  const motions = await motionsOf(command.motions, wishes, (motion, error) =>
    say({ character: '', motion, error: problemOf(error, motion) }),
  );
  for (const file of command.characters) for await (const model of modelsIn(file)) await drillOne(model);
  return code;

  async function drillOne({ label, read }: Model): Promise<void> {
    try {
      const subject = readDrillCharacter(await read(), definition, label);
      for (const { name, motion } of motions) {
        const input = { ...subject, motion, travel: NO_ROOT_TRAVEL, limits: drillLimitsOf(profile) };
        try {
          const judged = judgeMotion(input);
          say(lineOf(label, name, motion, { ...judged, remarks: [...subject.remarks, ...judged.remarks] }));
        } catch (error) {
          say({ character: label, motion: name, error: problemOf(error, `${label}, ${name}`) });
        }
      }
    } catch (error) {
      say({ character: label, error: problemOf(error, label) });
    }
  }
}

/** The house set, or every clip of a folder's files. @param refused told of what cannot be read. */
async function motionsOf(
  folder: string | undefined,
  wishes: MotionWishes,
  refused: (motion: string, error: unknown) => void,
): Promise<Named[]> {
  if (folder === undefined)
    return HOUSE_SET.map(({ id, make, settings }) => ({
      name: `house:${id}`,
      motion: sampleHouse(make(settings), wishes.definition),
    }));
  const sources = (await readdir(folder, { withFileTypes: true }))
    .filter((entry) => entry.isFile() && /\.(bvh|fbx|glb|gltf|vrm|dae|zip|yarvomotion)$/i.test(entry.name))
    .map(({ name }) => path.join(folder, name))
    .sort();
  const found: Named[] = [];
  for (const source of sources)
    for await (const { label, clip, read } of motionsIn(source, wishes)) {
      const name = clip === undefined ? label : `${label}: ${clip}`;
      try {
        found.push({ name, motion: (await read()).motion });
      } catch (error) {
        refused(name, error);
      }
    }
  return found;
}

function lineOf(
  character: string,
  name: string,
  motion: Motion,
  { measures, flags, remarks }: DrillJudgement,
): DrillLine {
  const rounded = (value: number): number => Math.round(value * 1000) / 1000;
  const end = (value: number): number | null => (Number.isFinite(value) ? value : null);
  return {
    character,
    motion: name,
    frames: motion.frameCount,
    rate: motion.framesPerSecond,
    measures: Object.fromEntries(
      measures.flatMap((measure) => {
        const range = rangeOf(measure.values);
        if (!range) return [];
        const [low, high] = measure.band ?? [-Infinity, Infinity];
        const { unit } = measure;
        return [
          [
            measure.name,
            { min: rounded(range.min), max: rounded(range.max), unit, limit: [end(low), end(high)] as const },
          ],
        ];
      }),
    ) as DrillLine['measures'],
    flags: flags.map(({ worstFrame: _worstFrame, subject: _subject, harm: _harm, ...flag }) => ({
      ...flag,
      bones: [...flag.bones],
      worst: rounded(flag.worst),
    })),
    remarks: [...remarks],
  };
}

function described(line: DrillLine | Undrilled): string {
  if ('error' in line)
    return `${[line.character, line.motion].filter(Boolean).join(' · ')}: ${line.error.message} ${line.error.remedy}\n`;
  const { character, motion, flags } = line;
  const said = flags.map(({ sentence }) => `  ${sentence}\n`).join('');
  return `${character} · ${motion}: ${flags.length === 0 ? 'within all limits' : `${flags.length} flagged`}\n${said}`;
}
